"""Every kind of compartment through everything that depends on it: a row of the table is enough for a new one."""

import ast
import datetime as dt
import re
from pathlib import Path

import pytest

from barodex.core.due.ahead import Ahead, Rate
from barodex.core.due.oil_life import Facts, schooled_due
from barodex.core.due.schedule import OwnRule, SchedulePolicy, SheetInterval, plan_for
from barodex.core.findings.debris import assess
from barodex.core.findings.finding import DebrisContext, Finding
from barodex.core.kinds.kind import COMPARTMENT_KINDS, KIND_TABLE, clutches_inside, kind_of
from barodex.core.ledger.correcting import correction_cycles
from barodex.core.oil.lubricant import FAMILIES, Requirement
from barodex.core.quantity.errors import Inconsistent
from barodex.core.sheet.checked import check_sheet
from barodex.core.sheet.figures import DRAIN_METHODS, FILL_METHODS
from barodex.core.sheet.kit import kit_of
from barodex.core.sheet.plausible import doubts, usual_fill_ml
from barodex.core.sheet.sheet import PLUG_ROLES, SEALS, LevelSpec, Plug, Sheet
from barodex.core.sheet.work import usual_work, works_for
from tests.core.guides import Walk

CORE = Path(__file__).resolve().parents[2] / "src" / "barodex"
TODAY = dt.date(2026, 6, 15)


def sheet_of(kind):
    """A sheet with what its kind begins with, and figures that are usual for it."""
    plugs = tuple(Plug(p.role, p.label, "hex socket", 8, p.seal, 20, p.magnet) for p in kind.plugs)
    level = LevelSpec(40, 45, "running", "P") if kind.fill_method == "overflow" else LevelSpec()
    capacity = usual_fill_ml(kind.name)
    asked = Requirement(kind.family, wet_clutch=kind.clutches)
    return Sheet(kind.name, asked, round(capacity, -1), kind.fill_method, kind.drain_method, plugs, warm_up=kind.warm_up, level=level)


@pytest.mark.parametrize("kind", KIND_TABLE, ids=lambda k: k.name)
def test_what_a_kind_says_of_itself_can_be(kind):
    assert kind.family in FAMILIES
    assert kind.fill_method in FILL_METHODS
    assert kind.drain_method in DRAIN_METHODS
    assert {p.role for p in kind.plugs} <= set(PLUG_ROLES)
    assert {p.seal for p in kind.plugs} <= set(SEALS)
    assert 0 < kind.usual_fill_ml[0] < kind.usual_fill_ml[1] <= 60_000
    assert 6 <= kind.months <= 120
    assert 0.2 <= kind.work_hours <= 4
    assert all(0 < factor <= 1 for factor in kind.factors.values())
    assert kind.factors["track"] <= kind.severe
    way_out = {"plug": "drain", "cover": "cover"}.get(kind.drain_method)
    assert way_out is None or way_out in {p.role for p in kind.plugs}
    assert way_out or not {p.role for p in kind.plugs} & {"drain", "cover"}  # what is sucked out has no drain plug


@pytest.mark.parametrize("kind", KIND_TABLE, ids=lambda k: k.name)
def test_a_sheet_that_begins_with_its_kind_is_sound_and_usual(kind):
    sheet = sheet_of(kind)
    check_sheet(sheet)
    assert doubts(sheet) == ()
    assert usual_work(sheet) in works_for(sheet)
    assert correction_cycles(sheet) >= 1
    assert kit_of(sheet)


@pytest.mark.parametrize("kind", KIND_TABLE, ids=lambda k: k.name)
@pytest.mark.parametrize("school", ["maker", "preventive"])
def test_a_silent_sheet_of_it_falls_due(kind, school):
    limits = plan_for(kind.name, SheetInterval(), OwnRule(), SchedulePolicy(), school).limits
    assert limits.months == kind.months
    facts = Facts("km", TODAY - dt.timedelta(days=4000), {"road": 1.0}, {"road": 1.0}, Ahead(Rate(40, 30, 50), TODAY), 90_000.0)
    assert schooled_due(kind.name, SheetInterval(), OwnRule(), SchedulePolicy(), facts, TODAY).due.state == "overdue"


@pytest.mark.parametrize("kind", KIND_TABLE, ids=lambda k: k.name)
def test_water_is_graver_where_clutches_run(kind):
    found = assess(Finding(colour="brown", clarity="milky", magnet="film", particles=(), smell="none"), DebrisContext(kind.name, 10_000))
    assert found.level == (4 if kind.clutches else 3)
    assert clutches_inside(kind.name) is kind.clutches


@pytest.mark.parametrize("kind", KIND_TABLE, ids=lambda k: k.name)
def test_every_work_on_it_is_guided_to_its_signature(kind):
    sheet = sheet_of(kind)
    for work in works_for(sheet):
        walk = Walk(sheet, work=work)
        walk.to()
        assert walk.state.signed is not None, work
        assert walk.state.conflicts == []


def test_a_kind_that_is_none_is_refused_and_never_taken_for_another():
    for ask in (kind_of, clutches_inside):
        with pytest.raises(Inconsistent, match="“rocket” is not a kind of compartment") as refused:
            ask("rocket")
        assert (refused.value.field, refused.value.value) == ("kind", "rocket")
    assert usual_fill_ml("rocket") is None
    with pytest.raises(Inconsistent):
        plan_for("rocket", SheetInterval(), OwnRule(), SchedulePolicy())


def test_no_other_file_of_the_core_or_the_apps_spells_a_kind():
    """Except families of oil and places on a vehicle that bear the same words, and what is invented for the demo."""
    words = {k for k in COMPARTMENT_KINDS if k not in FAMILIES}
    spelled = {}
    for path in CORE.rglob("*.py"):
        if {"migrations", "demo", "kinds"} & set(path.parts) or path == CORE / "fleet" / "models.py":
            continue
        tree = ast.parse(path.read_text())
        found = {n.value for n in ast.walk(tree) if isinstance(n, ast.Constant) and isinstance(n.value, str)} & words
        if found:
            spelled[str(path.relative_to(CORE))] = found
    assert spelled == {}
    assert re.search(r"supercharger", (CORE / "core" / "kinds" / "kind.py").read_text())
