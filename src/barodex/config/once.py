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
from barodex.core.quantity.errors import Inconsistent
from barodex.http.problems import problem

HEADER = "Idempotency-Key"
KEPT_FOR = dt.timedelta(days=7)  # an answer that was lost is asked for again within minutes


def once(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: a change with an id that was answered before gets that answer again and changes nothing.

    The change and its answer are written in one transaction; a refusal is not kept, so that it can be sent again. Acts of the Bay and
    photos carry ids of their own and send none here.
    """

    def handle(request: HttpRequest) -> HttpResponse:
        said = request.headers.get(HEADER, "")
        if not said or request.method in ("GET", "HEAD", "OPTIONS") or not request.user.is_authenticated:
            return get_response(request)
        try:
            key = uuid.UUID(said)
        except ValueError:
            return _refused(Inconsistent(f"{HEADER} is no id.", field=HEADER, value=said[:60], allowed="a UUID"))
        what = hashlib.sha256(f"{request.method} {request.get_full_path()}\n".encode() + request.body).hexdigest()
        try:
            return answered(request, key, what)
        except DatabaseError as error:  # the book is busy, or cannot be written: said as everywhere
            return _refused(error)

    def answered(request: HttpRequest, key: uuid.UUID, what: str) -> HttpResponse:
        with transaction.atomic():
            known = SentChange.objects.filter(by=request.user, key=key).first()
            if known is not None:
                if known.what != what:
                    return _refused(Inconsistent("Another change was sent under this id before.", field=HEADER, value=str(key)))
                return HttpResponse(known.answer, status=known.status, content_type=known.content_type)
            response = get_response(request)
            if response.status_code < 400 and not response.streaming:
                now = clock.now()
                SentChange.objects.filter(at__lt=now - KEPT_FOR).delete()
                SentChange.objects.create(
                    by=request.user,
                    key=key,
                    what=what,
                    status=response.status_code,
                    content_type=response.headers.get("Content-Type", ""),
                    answer=response.content.decode(),
                    at=now,
                )
        return response

    return handle


def _refused(error: Exception) -> JsonResponse:
    status, document = problem(error)
    return JsonResponse(document, status=status, content_type="application/problem+json")
