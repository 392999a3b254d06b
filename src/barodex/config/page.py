"""The page's shell: index.html of the build, never cached, with the nonce that lets the page's styles in."""

from __future__ import annotations

import functools

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

from barodex.core.words import say


@functools.cache
def _index() -> str:
    path = settings.WEB_DIST / "index.html"
    if not path.exists():
        raise Http404(say("The page is not built: run make setup."))
    return path.read_text("utf-8")


@require_safe
@ensure_csrf_cookie
def shell(request: HttpRequest, path: str = "") -> HttpResponse:
    """Any address of the page gets the shell; the page finds its own way."""
    response = HttpResponse(_index().replace("__NONCE__", str(request.csp_nonce)))
    response["Cache-Control"] = "no-store"
    return response


def not_found(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    """An address below /api that does not exist."""
    return JsonResponse(
        {"type": "/problems/not-found", "title": "Not found", "status": 404, "detail": say("There is no such address."), "errors": []},
        status=404,
        content_type="application/problem+json",
    )
