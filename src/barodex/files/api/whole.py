"""The whole book over HTTP: out as one file, back into an empty installation."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.core.exceptions import PermissionDenied
from django.http import StreamingHttpResponse
from drf_spectacular.utils import OpenApiTypes, extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.accounts.actions import links_of_leads
from barodex.accounts.models import Person
from barodex.core.words import say
from barodex.files.whole.restoring import restore
from barodex.files.whole.size import BookSize, book_size
from barodex.files.whole.writing import whole_book
from barodex.http.endpoints import Endpoint, answer, shape
from barodex.http.permissions import ANYONE

from .uploaded import Uploaded


class WholeBook(Endpoint):
    """The whole book as one ZIP, written while it is sent."""

    roles = {"GET": "lead"}

    @extend_schema(operation_id="whole_book", responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request):
        response = StreamingHttpResponse(whole_book(), content_type="application/zip")
        response["Content-Disposition"] = say('attachment; filename="barodex-book-{today}.zip"', today=f"{clock.today():%Y-%m-%d}")
        return response


class WholeBookSize(Endpoint):
    """What a file of the whole book holds."""

    roles = {"GET": "lead"}

    @extend_schema(operation_id="whole_book_size", responses=shape(BookSize))
    def get(self, request):
        return answer(book_size())


@dataclass(frozen=True)
class LeadBack:
    """A lead of a book that was put back: by this address a password is chosen, until then."""

    name: str
    path: str
    until: dt.datetime


@dataclass(frozen=True)
class BookBack:
    """What came back, and by which links its leads come in."""

    made: str
    rows: int
    photos: int
    leads: tuple[LeadBack, ...]


class BookFileRequest(serializers.Serializer):
    file = serializers.FileField()


class WholeBookBack(Uploaded):
    """Put a whole book into an installation whose book is empty: by anybody as long as nobody can sign in, else by a lead."""

    roles = {"POST": ANYONE}

    def initial(self, request, *args, **kwargs):
        super().initial(request, *args, **kwargs)
        if Person.objects.exists() and not (request.user and request.user.is_authenticated and request.user.may("lead")):
            raise PermissionDenied(say("There are people here already: a lead of this installation does it."))
        self.get_authenticators()[0].enforce_csrf(request)

    @extend_schema(operation_id="restore_whole_book", request={"multipart/form-data": BookFileRequest}, responses={201: shape(BookBack)})
    def post(self, request):
        file, _ = self.uploaded()
        made = restore(file, settings.VAR, Path(settings.DATABASES["default"]["NAME"]))
        leads = tuple(LeadBack(*link) for link in links_of_leads())
        return answer(BookBack(made.made, made.rows, made.photos, leads), 201)
