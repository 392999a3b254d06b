"""How a request's body is read."""

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser


class Json(JSONParser):
    """JSON; nesting so deep that it could only be meant to break something is refused like any other unreadable body."""

    def parse(self, stream, media_type=None, parser_context=None):
        try:
            return super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ParseError("It is nested too deep.") from None
