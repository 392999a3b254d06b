"""From which bottle a pour comes: asked, and held against what is in it."""

from __future__ import annotations

from typing import Any

from barodex.bay import guides
from barodex.bay.models import Service
from barodex.bay.pouring import reserved_ml
from barodex.core import guide
from barodex.core.guide.purpose import Purpose
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.quantity.working import ml
from barodex.core.sheet.work import rinse_ml as one_rinse_ml
from barodex.core.words import say
from barodex.shelf.models import Container
from barodex.shelf.queries import bottles


def _ask_bottle(service: Service, procedure: guide.Procedure, step_id: str, values: dict[str, Any]) -> None:
    """From which bottle? So the shelf is true; "from elsewhere" is an answer, and the only one where the shelf has none."""
    step = procedure.by_id.get(step_id)
    job = next((j for j in guides.jobs_of(service) if step and str(j.compartment_id) == step.compartment), None)
    volume = values.get("volume_ml")
    if job is None or values.get("elsewhere") is True or not isinstance(volume, (int, float)) or volume <= 0:
        return  # what is no amount is refused by the core
    held = [b for b in bottles(job.lubricant, reserved_ml()) if b.content_ml > 0.5]
    if held:
        words = ", ".join(f"{b.label} ({ml(b.content_ml)})" for b in held[:6])
        raise Inconsistent(
            say("From which bottle? {words}; or say that it came from elsewhere.", words=words),
            field="container",
            value="",
            allowed=say("{words}, elsewhere", words=words),
        )
    values["elsewhere"] = True


def check_container(service: Service, procedure: guide.Procedure, step_id: str, values: dict[str, Any]) -> None:
    """A pour from a container: the right oil, and no more than is in it. A pour without one says that it came from elsewhere."""
    if not values.get("container"):
        _ask_bottle(service, procedure, step_id, values)
        return
    step = procedure.by_id.get(step_id)
    container = (
        Container.objects.select_related("lubricant").filter(pk=values["container"]).first()
        if isinstance(values["container"], int)
        else None
    )
    job = next((j for j in guides.jobs_of(service) if step and str(j.compartment_id) == step.compartment), None)
    if container is None or job is None:
        raise Inconsistent(say("There is no such container on the shelf."), field="container", value=values["container"])
    if container.lubricant_id != job.lubricant_id:
        raise GateClosed(
            say(
                "{container_label} holds {lubricant}, not {lubricant_2}: wrong container.",
                container_label=container.label,
                lubricant=container.lubricant.name,
                lubricant_2=job.lubricant.name,
            ),
            field="container",
            value=container.label,
        )
    left = container.content_ml - reserved_ml().get(container.pk, 0.0)
    if float(values.get("volume_ml") or 0) + float(values.get("dead_ml") or 0) > left + 0.5:
        raise Inconsistent(
            say(
                "{container_label} holds only {left} by the book: correct the amount, or pour without naming a container.",
                container_label=container.label,
                left=ml(left),
            ),
            field="volume_ml",
            value=values.get("volume_ml"),
            allowed=say("up to {left}", left=ml(left)),
        )


def rinses(procedure: guide.Procedure, step_id: str) -> bool:
    """Whether a step pours oil through to rinse: it comes from a bottle too."""
    step = procedure.by_id.get(step_id)
    return step is not None and step.purpose == Purpose.RINSE


def rinse_ml(procedure: guide.Procedure, step_id: str) -> float:
    """What a rinse takes, mL: as often as its step goes through."""
    step = procedure.by_id[step_id]
    return step.rinses * one_rinse_ml(procedure.job(step.compartment).sheet)
