"""What a device has to say to an act of a service."""

from __future__ import annotations

from barodex import clock
from barodex.bay.models import Service
from barodex.core.guide.steps import Procedure
from barodex.core.quantity.errors import GateClosed

from . import queries
from .models import DeviceLink

_WORDS = {
    "running": "is still resetting: wait for the tool",
    "failed": "the tool says that it failed",
    "idle": "was not reset by the tool yet",
}


def check_reset(service: Service, procedure: Procedure, kind: str, step_id: str) -> None:
    """A reset is done when the scan tool at the vehicle says so; without one it is ticked by hand."""
    step = procedure.by_id.get(step_id)
    if kind != "done" or step is None or not step.id.startswith("reset."):
        return
    link = DeviceLink.objects.filter(service=service, kind="scan tool").first()
    if link is None:
        return
    wanted = procedure.job(step.compartment).sheet.resets
    for shown in queries.scan_tool(link).resets(clock.now()):
        if shown.name in wanted and shown.state != "done":
            why = f" {shown.why}" if shown.why else ""
            raise GateClosed(
                f"“{shown.name}” {_WORDS[shown.state]}.{why} Or pass the step with the reason.", field="step", value=shown.state
            )
