"""A change that was sent twice counts once: by the id that the page made for it, whatever the change is."""

from __future__ import annotations

import datetime as dt
import hashlib
import uuid
from collections.abc import Callable

from django.db import DatabaseError, transaction
from django.http import HttpRequest, HttpResponse, JsonResponse

from barodex import clock
from barodex.accounts.models import SentChange
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.words import say
from barodex.http.problems import problem

HEADER = "Idempotency-Key"
KEPT_FOR = dt.timedelta(days=7)  # an answer that was lost is asked for again within minutes
UNDER_WAY = 0  # instead of a status: a file that is being read
GIVEN_UP = dt.timedelta(minutes=10)  # a server that was stopped while it read a file: it may be sent again


def once(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: a change with an id that was answered before gets that answer again and changes nothing.

    The change and its answer are written in one transaction; a refusal is not kept, so that it can be sent again. A file takes long to
    read and would hold up everybody's writing meanwhile: its id is taken first, in a transaction of its own. Acts of the Bay and photos
    carry ids of their own and send none here.
    """

    def handle(request: HttpRequest) -> HttpResponse:
        said = request.headers.get(HEADER, "")
        if not said or request.method in ("GET", "HEAD", "OPTIONS") or not request.user.is_authenticated:
            return get_response(request)
        try:
            key = uuid.UUID(said)
        except ValueError:
            return _refused(Inconsistent(say("{header} is no id.", header=HEADER), field=HEADER, value=said[:60], allowed="a UUID"))
        try:
            if request.content_type == "multipart/form-data":
                return _of_file(request, key, get_response)
            return _of_body(request, key, get_response)
        except DatabaseError as error:  # the book is busy, or cannot be written: said as everywhere
            return _refused(error)

    return handle


def _digest(request: HttpRequest, body: bytes) -> str:
    return hashlib.sha256(f"{request.method} {request.get_full_path()}\n".encode() + body).hexdigest()


def _again(known: SentChange, what: str) -> HttpResponse:
    """The answer that was given to a change that is known."""
    if known.what != what:
        return _refused(Inconsistent(say("Another change was sent under this id before."), field=HEADER, value=str(known.key)))
    if known.status == UNDER_WAY:
        return _refused(GateClosed(say("This file is being read; wait for it."), field=HEADER, value=str(known.key)))
    return HttpResponse(known.answer, status=known.status, content_type=known.content_type)


def _kept(response: HttpResponse) -> dict[str, object]:
    return {"status": response.status_code, "content_type": response.headers.get("Content-Type", ""), "answer": response.content.decode()}


def _counts(response: HttpResponse) -> bool:
    return response.status_code < 400 and not response.streaming


def _of_body(request: HttpRequest, key: uuid.UUID, get_response: Callable[[HttpRequest], HttpResponse]) -> HttpResponse:
    what = _digest(request, request.body)
    with transaction.atomic():
        known = SentChange.objects.filter(by=request.user, key=key).first()
        if known is not None:
            return _again(known, what)
        response = get_response(request)
        if _counts(response):
            now = clock.now()
            SentChange.objects.filter(at__lt=now - KEPT_FOR).delete()
            SentChange.objects.create(by=request.user, key=key, what=what, at=now, **_kept(response))
    return response


def _of_file(request: HttpRequest, key: uuid.UUID, get_response: Callable[[HttpRequest], HttpResponse]) -> HttpResponse:
    what = _digest(request, str(request.headers.get("Content-Length", "")).encode())
    now = clock.now()
    SentChange.objects.filter(by=request.user, key=key, status=UNDER_WAY, at__lt=now - GIVEN_UP).delete()
    mine, new = SentChange.objects.get_or_create(by=request.user, key=key, defaults={"what": what, "status": UNDER_WAY, "at": now})
    if not new:
        return _again(mine, what)
    counts = False
    try:
        response = get_response(request)
        counts = _counts(response)
        if counts:
            SentChange.objects.filter(pk=mine.pk).update(**_kept(response))
    finally:
        if not counts:
            mine.delete()
    return response


def _refused(error: Exception) -> JsonResponse:
    status, document = problem(error)
    return JsonResponse(document, status=status, content_type="application/problem+json")
