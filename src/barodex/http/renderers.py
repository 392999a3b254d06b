"""JSON by orjson, which writes dataclasses, dates and times without a copy of the tree."""

from typing import Any

import orjson
from rest_framework.renderers import JSONRenderer


class Json(JSONRenderer):
    """Renders what ``answer`` is given."""

    def render(self, data: Any, accepted_media_type: str | None = None, renderer_context: Any = None) -> bytes:
        return b"" if data is None else orjson.dumps(data)
