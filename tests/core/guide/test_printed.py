"""Every guide as it is printed, kind by kind and service by service: kept as text, so that a change of one is read as a mechanic reads it.

``WRITE_FIXTURES=1`` writes them anew; whoever does reads each list that changed from top to bottom.
"""

import os
from dataclasses import replace
from pathlib import Path

import pytest

from barodex.core.guide.procedure import build
from barodex.core.guide.steps import Conditions, Job
from barodex.core.kinds.kind import COMPARTMENT_KINDS, kind_of
from barodex.core.sheet.work import WORKS, works_for
from tests.core import guides
from tests.core.guides import AUTOMATIC, BLOWER, BOX, CHAIN, CLUTCH_CASE, COUPLING, DUAL, HUB, MARINE, OPENABLE, TRUCK

FOLDER = Path(__file__).resolve().parents[2] / "fixtures" / "guides"
LIMITED = replace(BOX.requirement, limited_slip=True)
SHEETS = {
    "manual gearbox": (BOX, TRUCK),
    "transaxle": (replace(BOX, kind="transaxle", case_material="magnesium"),),
    "automatic": (AUTOMATIC, OPENABLE),
    "dual-clutch": (DUAL,),
    "axle": (replace(BOX, kind="axle", requirement=LIMITED), replace(BOX, kind="axle", rinse_ml=300.0, trays_nm=24.0)),
    "electronic differential": (COUPLING,),
    "transfer case": (replace(BOX, kind="transfer case"), replace(BOX, kind="transfer case", fill_method="measured")),
    "clutch transfer case": (CLUTCH_CASE,),
    "bevel drive": (replace(BOX, kind="bevel drive", capacity_ml=180, fill_method="measured"),),
    "supercharger": (BLOWER, guides.DRIBBLER),
    "hub gear": (HUB,),
    "chain case": (CHAIN,),
    "marine gearbox": (MARINE,),
}
ON = {"bevel drive": "motorcycle", "chain case": "motorcycle", "hub gear": "bicycle", "marine gearbox": "boat"}


def printed(sheet, vehicle: str, work: str, **more) -> str:
    """A guide as plain lines: phase, step, what is ticked, its caution, its time, the way out of it."""
    job = Job("0", "the box", sheet, "the oil", work=work, **more)
    lines, phase = [], ""
    for step in build((job,), Conditions("the vehicle", vehicle, 15.0)).steps:
        if step.cycle > 2:
            continue  # as the second
        if step.phase != phase:
            phase = step.phase
            lines.append(f"  {phase}")
        times = f", {step.timer_s / 60:g} min" if step.timer_s else ""
        marks = "".join(m for m, on in (("!", step.gate), ("~", step.runs_engine), (">", step.moves_vehicle), ("o", step.opens_oil)) if on)
        lines.append(f"    {marks:3} {step.task[0].upper()}{step.task[1:]}{times}{f' (only {step.branch.lower()})' if step.branch else ''}")
        lines += [f"          [] {tick}" for tick in step.ticks]
        lines += [f"          ! {step.caution}"] if step.caution else []
        asked = [f.label for f in step.fields if f.name != "reason"]
        lines += [f"          = {', '.join(asked)}"] if asked else []
    return "\n".join(line.replace("\N{NO-BREAK SPACE}", " ") for line in lines)


def page_of(kind: str) -> str:
    found = []
    for sheet in SHEETS[kind]:
        for work in (w for w in WORKS if w in works_for(sheet, gauged=True)):
            asked = ("filter", "breather") if work == "change" and kind_of(kind).filtered else ()
            extra = f", with {' and '.join(asked)}" if asked else ""
            found.append(f"{kind}, {sheet.fill_method}, {work}{extra}\n{printed(sheet, ON.get(kind, 'car'), work, attached=asked)}\n")
    return "\n".join(found)


def test_every_kind_is_printed():
    assert set(SHEETS) == set(COMPARTMENT_KINDS)


@pytest.mark.parametrize("kind", COMPARTMENT_KINDS)
def test_a_guide_is_as_it_was_read(kind):
    made, file = page_of(kind), FOLDER / f"{kind.replace(' ', '-')}.txt"
    if os.environ.get("WRITE_FIXTURES"):
        FOLDER.mkdir(exist_ok=True)
        file.write_text(made)
    assert made == file.read_text(), "read what changed from top to bottom, then write it anew"
