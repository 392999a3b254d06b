"""Sign-in, sign-out, one's own settings, and how quantities are shown."""

from __future__ import annotations

from dataclasses import dataclass

from axes.handlers.proxy import AxesProxyHandler
from django.conf import settings as django_settings
from django.contrib.auth import authenticate, login, logout
from django.middleware.csrf import get_token
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.exceptions import AuthenticationFailed, NotFound
from rest_framework.response import Response

from barodex import clock
from barodex.core.quantity.quantity import display_table
from barodex.core.words import say
from barodex.http.endpoints import Endpoint, Words, answer, shape
from barodex.http.permissions import ANYONE

from ..actions import change_settings
from ..models import DATES, SYSTEMS, Person
from ..signed_in import note_sign_in

DEMO_PERSON = "isla"


@dataclass(frozen=True)
class UnitShown:
    """``shown = value * factor + offset`` with ``decimals`` at the most; ``trim``: without zeros at the end; below ``fine_below`` one more."""

    kind: str
    label: str
    factor: float
    offset: float
    decimals: int
    trim: bool
    fine_below: float


@dataclass(frozen=True)
class Session:
    """Who is signed in (empty name: nobody), what they may do, how they see amounts, and the key for changes."""

    name: str
    username: str
    role: str
    unit_system: str
    dates: str
    theme: str
    large_type: bool
    left_hand: bool
    spoken: bool
    short_guide: bool
    goes_on: bool
    units: tuple[UnitShown, ...]
    csrf: str
    demo: bool
    today: str
    empty: bool  # nobody can sign in yet: the book begins


def session_of(request) -> Session:
    """The session of a request."""
    person = request.user if request.user and request.user.is_authenticated else None
    system = person.unit_system if person else "metric"
    units = tuple(
        UnitShown(kind, d.label, d.factor, d.offset, d.decimals, d.trim, d.fine_below) for kind, d in display_table(system).items()
    )
    return Session(
        name=person.shown_name if person else "",
        username=person.username if person else "",
        role=person.role if person else "",
        unit_system=system,
        dates=person.dates if person else DATES[0],
        theme=person.theme if person else "day",
        large_type=bool(person and person.large_type),
        left_hand=bool(person and person.left_hand),
        spoken=bool(person and person.spoken),
        short_guide=bool(person and person.short_guide),
        goes_on=bool(person and person.goes_on),
        units=units,
        csrf=get_token(request),
        demo=django_settings.DEMO,
        today=clock.today().isoformat(),
        empty=person is None and not Person.objects.exists(),
    )


class SignInRequest(serializers.Serializer):
    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class SettingsRequest(serializers.Serializer):
    unit_system = serializers.ChoiceField(choices=SYSTEMS, required=False)
    dates = serializers.ChoiceField(choices=DATES, required=False)
    theme = serializers.ChoiceField(choices=("day", "night"), required=False)
    large_type = serializers.BooleanField(required=False)
    left_hand = serializers.BooleanField(required=False)
    spoken = serializers.BooleanField(required=False)
    short_guide = serializers.BooleanField(required=False)
    goes_on = serializers.BooleanField(required=False)


class SessionEndpoint(Endpoint):
    """Who is signed in; sign in; change one's settings; sign out."""

    roles = {"GET": ANYONE, "POST": ANYONE, "PATCH": "viewer", "DELETE": "viewer"}

    def initial(self, request, *args, **kwargs):
        super().initial(request, *args, **kwargs)
        if request.method == "POST":
            self.check_csrf(request)

    def check_csrf(self, request):
        """A sign-in is a change too: DRF checks CSRF only for those who are signed in."""
        self.get_authenticators()[0].enforce_csrf(request)

    @extend_schema(operation_id="session", responses=shape(Session))
    def get(self, request):
        return answer(session_of(request))

    @extend_schema(operation_id="sign_in", request=SignInRequest, responses=shape(Session))
    def post(self, request):
        given = self.read(SignInRequest)
        if AxesProxyHandler.is_locked(request._request, {"username": given["username"]}):
            raise AuthenticationFailed(say("Too many wrong tries. Wait a quarter of an hour, or ask the lead."))
        person = authenticate(request._request, username=given["username"], password=given["password"])
        if person is None:
            raise AuthenticationFailed(say("Name and password do not fit."))
        login(request._request, person)
        note_sign_in(request._request)
        request.user = person
        return answer(session_of(request))

    @extend_schema(operation_id="change_settings", request=SettingsRequest, responses=shape(Session))
    def patch(self, request):
        change_settings(request.user, **self.read(SettingsRequest))
        return answer(session_of(request))

    @extend_schema(operation_id="sign_out", request=None, responses={204: None})
    def delete(self, request):
        logout(request._request)
        return Response(status=204)


class DemoRequest(serializers.Serializer):
    username = Words(20, default=DEMO_PERSON)


class DemoEndpoint(SessionEndpoint):
    """One click into the demo; exists only in demo mode."""

    roles = {"POST": ANYONE}
    http_method_names = ["post", "options"]

    @extend_schema(operation_id="enter_demo", request=DemoRequest, responses=shape(Session))
    def post(self, request):
        if not django_settings.DEMO:
            raise NotFound
        person = Person.objects.filter(username=self.read(DemoRequest)["username"], is_superuser=False).first()
        if person is None:
            raise NotFound
        login(request._request, person, backend="django.contrib.auth.backends.ModelBackend")
        note_sign_in(request._request)
        request.user = person
        return answer(session_of(request))
