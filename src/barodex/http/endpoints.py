"""What every app's ``api.py`` is built from: an endpoint that says who may call it, fields for quantities, answers from dataclasses."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from django.http import Http404
from drf_spectacular.utils import OpenApiParameter
from rest_framework import serializers
from rest_framework.response import Response
from rest_framework.views import APIView
from rest_framework_dataclasses.serializers import DataclassSerializer

from barodex.core.quantity.errors import CoreError, OutOfRange, in_range
from barodex.core.quantity.quantity import parse_quantity
from barodex.core.words import say
from barodex.http.parsers import MOST
from barodex.http.permissions import ByRole


@dataclass(frozen=True)
class Made:
    """What was made."""

    id: int


class Endpoint(APIView):
    """A view with ``roles``: HTTP method to the least role that may use it."""

    permission_classes = [ByRole]
    roles: ClassVar[dict[str, str]] = {}

    def initial(self, request, *args, **kwargs):
        """Before anything else: a number in the address that no row can have is an address of nothing."""
        super().initial(request, *args, **kwargs)
        if any(isinstance(part, int) and part > MOST for part in kwargs.values()):
            raise Http404

    def read(self, serializer: type[serializers.Serializer], usual_ml: float | None = None) -> dict[str, Any]:
        """Validate the request's body; raises ValidationError or a CoreError at its field.

        ``usual_ml``: what is usual for a volume here; a bare figure that fits only as litres is then asked about.
        """
        bound = serializer(data=self.request.data, context={"request": self.request, "usual_ml": usual_ml})
        bound.is_valid(raise_exception=True)
        return bound.validated_data


FROM_VERSION = OpenApiParameter("If-Match", str, OpenApiParameter.HEADER, description="the version that the edit started from")


def started_from(request: Any) -> int | None:
    """The version that an edit started from, by its If-Match header; None where it names none. Raises OutOfRange for another thing."""
    said = str(request.headers.get("If-Match", "")).strip().removeprefix("W/").strip('"')
    if not said or said == "*":
        return None
    if not said.isdigit() or len(said) > 9:
        raise OutOfRange(say("If-Match names no version."), field="If-Match", value=said[:20], allowed=say("a whole number"))
    return int(said)


def answer(result: Any, status: int = 200) -> Response:
    """Answer with a dataclass, or a list of them; the renderer writes them as they are."""
    return Response(result, status=status)


def shape(kind: type, many: bool = False) -> Any:
    """The schema of an answer, from the dataclass that it is made of."""
    made = type(f"{kind.__name__}Serializer", (DataclassSerializer,), {"Meta": type("Meta", (), {"dataclass": kind})})
    return made(many=many)


class Quantity(serializers.Field):
    """A quantity: a number in the canonical unit, or text as a person types it, read in the person's units.

    Empty text and null are unknown.
    """

    def __init__(self, kind: str, **options: Any) -> None:
        self.kind = kind
        options.setdefault("required", False)
        options.setdefault("allow_null", True)
        super().__init__(**options)

    def run_validation(self, data: Any = serializers.empty) -> Any:
        if data == "":
            data = None
        return super().run_validation(data)

    def to_internal_value(self, data: Any) -> float:
        person = self.context["request"].user
        system = getattr(person, "unit_system", "metric")
        try:
            if isinstance(data, str):
                return parse_quantity(data, self.kind, system, self.context.get("usual_ml") if self.kind == "volume" else None)
            return in_range(self.field_name or self.kind, data, -1000, 1e7)
        except CoreError as error:
            raise serializers.ValidationError(error.message) from error

    def to_representation(self, value: float) -> float:
        return value


def read_meter(request: Any, meter: str, typed: str, field: str) -> float:
    """Read a meter value as typed, in what the vehicle counts (km or h); errors name ``field``."""
    try:
        return round(parse_quantity(typed, "distance" if meter == "km" else "engine_hours", request.user.unit_system), 3)
    except CoreError as error:
        error.field = field
        raise


class Words(serializers.CharField):
    """Short text: trimmed, with a limit, may be empty."""

    def __init__(self, most: int = 80, **options: Any) -> None:
        options.setdefault("required", False)
        options.setdefault("default", "")
        super().__init__(max_length=most, allow_blank=True, **options)
