"""A change that was sent twice counts once: by the id that the page made for it, whatever the change is."""

from __future__ import annotations

import datetime as dt
import hashlib
import uuid
from collections.abc import Callable

from django.db import transaction
from django.http import HttpRequest, HttpResponse, JsonResponse

from barodex import clock
from barodex.accounts.models import SentChange

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
            return _refused(f"{HEADER} is no id: a UUID is asked.", said)
        what = hashlib.sha256(f"{request.method} {request.get_full_path()}\n".encode() + request.body).hexdigest()
        with transaction.atomic():
            known = SentChange.objects.filter(by=request.user, key=key).first()
            if known is not None:
                if known.what != what:
                    return _refused("Another change was sent under this id before.", said)
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


def _refused(detail: str, value: str) -> JsonResponse:
    errors = [{"field": HEADER, "message": detail, "value": value[:60]}]
    body = {"type": "/problems/inconsistent", "title": "It does not fit together", "status": 422, "detail": detail, "errors": errors}
    return JsonResponse(body, status=422, content_type="application/problem+json")
