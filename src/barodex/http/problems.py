"""Failures become HTTP here and nowhere else: problem details (RFC 9457) with the field, the value and what is allowed."""

from __future__ import annotations

import logging
from typing import Any

from django.core.exceptions import ObjectDoesNotExist, PermissionDenied
from django.db import IntegrityError, OperationalError
from django.http import Http404, JsonResponse
from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import set_rollback

from barodex.core.quantity import errors
from barodex.core.words import Message, say, simple

log = logging.getLogger("barodex")

# error class -> (HTTP status, type, title); the first match in this order counts
MAPPING: tuple[tuple[type[Exception], int, str, str], ...] = (
    (errors.NeedsReason, 409, "needs-reason", say("A reason is needed")),
    (errors.Superseded, 412, "superseded", say("Somebody changed it meanwhile")),
    (errors.GateClosed, 409, "gate-closed", "Not yet"),
    (errors.Ambiguous, 422, "ambiguous", say("It can be read in two ways")),
    (errors.Unreadable, 422, "unreadable", say("It cannot be read")),
    (errors.OutOfLine, 422, "out-of-line", say("It goes back against its neighbours")),
    (errors.OutOfRange, 422, "out-of-range", say("Outside what is possible")),
    (errors.Inconsistent, 422, "inconsistent", say("It does not fit together")),
    (errors.CoreError, 422, "refused", "Refused"),
    (exceptions.NotAuthenticated, 401, "sign-in", say("Sign in first")),
    (exceptions.AuthenticationFailed, 401, "sign-in", say("Sign in first")),
    (exceptions.PermissionDenied, 403, "not-allowed", "Not allowed"),
    (PermissionDenied, 403, "not-allowed", "Not allowed"),
    (exceptions.NotFound, 404, "not-found", "Not found"),
    (Http404, 404, "not-found", "Not found"),
    (ObjectDoesNotExist, 404, "not-found", "Not found"),
    (exceptions.ValidationError, 422, "invalid", say("Something is missing or wrong")),
    (exceptions.ParseError, 400, "unreadable", say("The request cannot be read")),
    (exceptions.APIException, 400, "refused", "Refused"),
    (IntegrityError, 409, "conflict", say("It contradicts what is on record")),
    (OperationalError, 503, "busy", say("The book is busy: try again")),
)
# what the database says of a book that cannot be written at all -> its sentence; none of it passes by itself
UNWRITTEN = (
    ("readonly", say("The book's file can only be read: whoever runs the server must give it the right to write there.")),
    ("read-only", say("The book's file can only be read: whoever runs the server must give it the right to write there.")),
    ("full", say("The disk that holds the book is full: whoever runs the server must make room.")),
    (say("unable to open"), say("The book's file cannot be opened: whoever runs the server must look at its folder and its rights.")),
    ("disk i/o", say("The disk that holds the book failed: whoever runs the server must look at it, and at the last backup.")),
)
PASSING = ("locked", "busy", "deadlock", "at once", "serialize")


MISSING = ("blank", "required", "null", "empty")


def _plainly(detail: Any) -> str:
    """What is wrong with a field; that nothing stands there is said in one way."""
    return say("Something has to stand here.") if getattr(detail, "code", "") in MISSING else str(detail)


def _fields(detail: Any, at: str = "") -> list[dict[str, Any]]:
    if isinstance(detail, dict):
        return [e for key, value in detail.items() for e in _fields(value, f"{at}.{key}".strip("."))]
    if isinstance(detail, list):
        if detail and all(isinstance(d, str) for d in detail):
            return [{"field": at.replace("non_field_errors", ""), "message": _plainly(d)} for d in detail]
        return [e for k, value in enumerate(detail) for e in _fields(value, f"{at}.{k}")]
    return [{"field": at, "message": _plainly(detail)}]


def _unwritten(error: Exception) -> str:
    """Why the book cannot be written, where that does not pass by itself; empty where it does, or of another failure."""
    said = str(error).lower()
    return next((say("{sentence} Nothing was changed.", sentence=sentence) for sign, sentence in UNWRITTEN if sign in said), "")


def _message(error: Exception, status: int) -> str:
    if isinstance(error, errors.CoreError):
        return error.message
    if status == 404:
        return say("There is no such thing here: it may have been removed.")
    if status == 409:
        return say("Somebody was quicker, or it is on record already.")
    if status == 503:
        return _unwritten(error) or say("The book is being written by others just now. Nothing was changed: try again.")
    return str(getattr(error, "detail", error)) or "Refused."


def _code(message: str) -> dict[str, Any]:
    """The code and the parameters of a message, beside its words."""
    if not isinstance(message, Message):
        return {}
    return {"code": message.code} | ({"params": {n: simple(p) for n, p in message.params.items()}} if message.params else {})


def problem(error: Exception) -> tuple[int, dict[str, Any]]:
    """Give the HTTP status and the problem document of a failure."""
    status, kind, title = next(((s, k, t) for cls, s, k, t in MAPPING if isinstance(error, cls)), (500, "fault", say("A fault of ours")))
    if isinstance(error, exceptions.APIException) and kind == "refused":
        status = error.status_code
    if isinstance(error, OperationalError):
        if _unwritten(error):
            kind, title = "unwritten", say("The book cannot be written")
        elif not any(sign in str(error).lower() for sign in PASSING):
            status, kind, title = 500, "fault", say("A fault of ours")
    listed: list[dict[str, Any]] = []
    if isinstance(error, errors.CoreError):
        entry: dict[str, Any] = {"field": error.field, "message": error.message}
        if error.value is not None:
            entry["value"] = str(error.value)[:120]
        if error.allowed:
            entry["allowed"] = error.allowed
        entry |= _code(error.message)
        changed = [{"field": name, "message": both} for name, both in getattr(error, "changes", ())]
        listed = [
            entry,
            *changed,
            *(
                {"field": say("row {line}", line=r.line), "line": r.line, "message": r.message, "value": r.value}
                for r in getattr(error, "rows", ())
            ),
        ]
    elif isinstance(error, exceptions.ValidationError):
        listed = _fields(error.detail)
    detail = (
        listed[0]["message"] if listed else _message(error, status) if status != 500 else say("Nothing was changed. The fault is logged.")
    )
    return status, {"type": f"/problems/{kind}", "title": title, "status": status, "detail": detail, **_code(detail), "errors": listed}


def handle(error: Exception, context: dict[str, Any]) -> Response:
    """DRF's exception handler."""
    status, document = problem(error)
    if status == 500:
        log.exception("unexpected", exc_info=error)
    elif isinstance(error, OperationalError):
        log.error("database: %s", error)
    set_rollback()
    response = Response(document, status=status, content_type="application/problem+json")
    if status == 401:
        response["WWW-Authenticate"] = "Session"
    return response


def csrf_failure(request: Any, reason: str = "") -> JsonResponse:
    """What a request without a valid CSRF token gets."""
    return JsonResponse(
        {
            "type": "/problems/not-allowed",
            "title": "Not allowed",
            "status": 403,
            "detail": say("Reload the page: its key has expired."),
            "errors": [],
        },
        status=403,
        content_type="application/problem+json",
    )
