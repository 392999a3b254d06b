"""How a request's body is read, and the one check of what is in it before anything else sees it."""

import math
from typing import Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser

from barodex.core.quantity.errors import OutOfRange, Unreadable
from barodex.core.words import say

MOST = 2**63 - 1  # what a whole number in the database can be


def check_given(value: Any, at: str = "") -> None:
    """Refuse what no database can keep: half a character (a lone surrogate), NUL, a number without end or beyond 64 bits.

    Raises Unreadable or OutOfRange with the path of the field.
    """
    if isinstance(value, dict):
        for name, part in value.items():
            check_given(name, at)
            check_given(part, f"{at}.{name}".strip("."))
    elif isinstance(value, list):
        for k, part in enumerate(value):
            check_given(part, f"{at}.{k}".strip("."))
    elif isinstance(value, str):
        if "\x00" in value or any("\ud800" <= c <= "\udfff" for c in value):
            shown = "".join(c if c.isprintable() else "?" for c in value)[:40]
            raise Unreadable(say("There is a character in it that is none: paste it again."), field=at, value=shown)
    elif isinstance(value, int | float) and (not math.isfinite(value) if isinstance(value, float) else abs(value) > MOST):
        raise OutOfRange(
            say("That is more than any figure here can be."), field=at, value=str(value)[:40], allowed=say("at most {most}", most=MOST)
        )


class Json(JSONParser):
    """JSON; nesting so deep that it could only be meant to break something is refused like any other unreadable body."""

    def parse(self, stream, media_type=None, parser_context=None):
        try:
            data = super().parse(stream, media_type, parser_context)
            check_given(data)
        except RecursionError:
            raise ParseError(say("It is nested too deep.")) from None
        return data
