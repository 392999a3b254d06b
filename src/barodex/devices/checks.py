"""What a device has to say to an act of a service, and what it reports as an act of its own."""

from __future__ import annotations

import contextlib
import uuid

from django.db import transaction

from barodex import clock
from barodex.accounts.models import Person
from barodex.bay.actions import NewAct, post_act
from barodex.bay.guides import procedure_of
from barodex.bay.models import Service
from barodex.core.guide.steps import Procedure
from barodex.core.quantity.errors import CoreError, GateClosed
from barodex.core.words import say

from . import queries
from .models import DeviceLink


def check_reset(service: Service, procedure: Procedure, kind: str, step_id: str) -> bool:
    """With a scan tool at the vehicle a reset is its word; without one it is ticked by hand. Whether the tool had something to report."""
    step = procedure.by_id.get(step_id)
    if kind != "done" or step is None or not step.resets:
        return False
    link = DeviceLink.objects.filter(service=service, kind="scan tool").first()
    if link is None:
        return False
    reported = report_resets(link)
    for shown in queries.scan_tool(link).resets(clock.now()):
        if shown.name in step.resets and shown.state in ("running", "idle"):
            word = say("is still resetting: wait for the tool") if shown.state == "running" else say("was not reset by the tool yet")
            raise GateClosed(
                say("“{shown}” {word}. Or pass the step with the reason.", shown=shown.name, word=word), field="step", value=shown.state
            )
    return reported


def report_resets(link: DeviceLink) -> bool:
    """Write down what the tool has answered since: an act of the service, by whoever asked for the reset. Answered twice counts once."""
    if not link.asked:
        return False
    answered = {r.name: r for r in queries.scan_tool(link).resets(clock.now()) if r.name in link.asked and r.state in ("done", "failed")}
    for name, shown in answered.items():
        asked = link.asked[name]
        for step in procedure_of(link.service).steps:
            if name in step.resets:
                act = NewAct(uuid.UUID(asked["act"]), "reset", step.id, {"name": name, "outcome": shown.state, "why": shown.why})
                with contextlib.suppress(CoreError):  # the service was signed or the person left meanwhile: there is nobody to tell
                    post_act(Person.objects.get(pk=asked["by"]), link.service_id, act)
                break
    if answered:
        with transaction.atomic():  # another reset may have been asked for meanwhile
            now = DeviceLink.objects.get(pk=link.pk)
            now.asked = {name: asked for name, asked in now.asked.items() if asked != link.asked.get(name) or name not in answered}
            now.save(update_fields=["asked"])
        link.asked = now.asked
    return bool(answered)
