"""Due over HTTP."""

from __future__ import annotations

from django.http import Http404
from drf_spectacular.utils import extend_schema

from barodex import clock
from barodex.config.api import Endpoint, answer, shape

from . import queries


class Due(Endpoint):
    """The due board, worst first."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="due_board", responses=shape(queries.DueBoard))
    def get(self, request):
        return answer(queries.due_board(clock.today()))


class VehicleDue(Endpoint):
    """One vehicle of the board."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="vehicle_due", responses=shape(queries.DueBoard))
    def get(self, request, vehicle: int):
        board = queries.due_board(clock.today(), vehicle)
        if not board.vehicles:
            raise Http404
        return answer(board)
