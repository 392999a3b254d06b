"""People over HTTP: invite, roles, links, leaving; one's own password and sessions."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from django.contrib.auth import login, update_session_auth_hash
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.response import Response

from barodex.http.endpoints import Endpoint, Words, answer, shape
from barodex.http.permissions import ANYONE

from .. import actions
from ..links import person_by_link
from ..models import ROLES
from ..people import PersonView, people
from ..signed_in import SignedIn, note_sign_in, sessions_of
from .session import Session, SessionEndpoint, session_of


class InviteRequest(serializers.Serializer):
    username = serializers.CharField(max_length=150, allow_blank=True, trim_whitespace=False)
    role = serializers.ChoiceField(choices=ROLES)
    first = Words(60)
    last = Words(60)


@dataclass(frozen=True)
class OneTimeLink:
    """A one-time link: for whom, its address on this server, and until when it may be used. It is shown once."""

    person: int
    name: str
    path: str
    until: dt.datetime


class PersonRequest(serializers.Serializer):
    role = serializers.ChoiceField(choices=ROLES, required=False)
    active = serializers.BooleanField(required=False)


class PasswordRequest(serializers.Serializer):
    old = serializers.CharField(max_length=200, trim_whitespace=False, allow_blank=True)
    password = serializers.CharField(max_length=200, trim_whitespace=False, allow_blank=True)


class JoinRequest(serializers.Serializer):
    password = serializers.CharField(max_length=200, trim_whitespace=False, allow_blank=True)


@dataclass(frozen=True)
class Invited:
    """Who was invited by a link."""

    name: str
    username: str


@dataclass(frozen=True)
class Ended:
    """How many sessions were ended."""

    ended: int


class People(Endpoint):
    """Everybody; invite somebody."""

    roles = {"GET": "lead", "POST": "lead"}

    @extend_schema(operation_id="people", responses=shape(PersonView, many=True))
    def get(self, request):
        return answer(people())

    @extend_schema(operation_id="invite", request=InviteRequest, responses={201: shape(OneTimeLink)})
    def post(self, request):
        person, path, until = actions.invite(request.user, **self.read(InviteRequest))
        return answer(OneTimeLink(person.pk, person.shown_name, path, until), 201)


class SomebodyElse(Endpoint):
    """Change somebody's role; let them leave, or come back."""

    roles = {"PATCH": "lead"}

    @extend_schema(operation_id="change_person", request=PersonRequest, responses=shape(PersonView, many=True))
    def patch(self, request, person: int):
        given = self.read(PersonRequest)
        if "role" in given:
            actions.change_role(request.user, person, given["role"])
        if "active" in given:
            (actions.come_back if given["active"] else actions.leave)(request.user, person)
        return answer(people())


class NewLink(Endpoint):
    """A new one-time link for somebody."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="new_link", request=None, responses=shape(OneTimeLink))
    def post(self, request, person: int):
        path, until = actions.send_link(request.user, person)
        return answer(OneTimeLink(person, next(p.name for p in people() if p.id == person), path, until))


class TheirSessions(Endpoint):
    """Sign somebody out everywhere."""

    roles = {"DELETE": "lead"}

    @extend_schema(operation_id="end_their_sessions", responses=shape(Ended))
    def delete(self, request, person: int):
        return answer(Ended(actions.sign_out(request.user, person, but=request.session.session_key or "")))


class Join(SessionEndpoint):
    """Who was invited by a link; choose a password by it, and be signed in."""

    roles = {"GET": ANYONE, "POST": ANYONE}
    http_method_names = ["get", "post", "options"]

    @extend_schema(operation_id="invited", responses=shape(Invited))
    def get(self, request, link: str):
        person = person_by_link(link)
        return answer(Invited(person.shown_name, person.username))

    @extend_schema(operation_id="join", request=JoinRequest, responses=shape(Session))
    def post(self, request, link: str):
        person = actions.join(link, self.read(JoinRequest)["password"])
        login(request._request, person, backend="django.contrib.auth.backends.ModelBackend")
        note_sign_in(request._request)
        request.user = person
        return answer(session_of(request))


class Password(Endpoint):
    """Change one's own password; every other session ends."""

    roles = {"POST": "viewer"}

    @extend_schema(operation_id="change_password", request=PasswordRequest, responses={204: None})
    def post(self, request):
        given = self.read(PasswordRequest)
        person = actions.change_password(request.user, given["old"], given["password"])
        actions.sign_out(person, person.pk, but=request.session.session_key or "")
        update_session_auth_hash(request._request, person)
        note_sign_in(request._request)
        return Response(status=204)


class OwnSessions(Endpoint):
    """Where one is signed in; sign out everywhere else."""

    roles = {"GET": "viewer", "DELETE": "viewer"}

    @extend_schema(operation_id="own_sessions", responses=shape(SignedIn, many=True))
    def get(self, request):
        return answer(sessions_of(request.user.pk, request.session.session_key or ""))

    @extend_schema(operation_id="end_other_sessions", responses=shape(Ended))
    def delete(self, request):
        return answer(Ended(actions.sign_out(request.user, request.user.pk, but=request.session.session_key or "")))
