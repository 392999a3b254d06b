"""A vehicle that is twice in the book: both side by side, made one without losing a row, and apart again."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from typing import Any

from django.apps import apps
from django.db import transaction
from django.db.models import ManyToOneRel, Model

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.accounts.names import alike
from barodex.core.due.meter import READ_TO
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.words import say
from barodex.fleet.models import MERGED, Compartment, Fitting, Merge, Reading, Vehicle
from barodex.fleet.plates import plain_plate
from barodex.memory.versions import PLAN, POLICY

from .models import OilRecord

# What a vehicle says of itself, by what it is called; where the one that stays says nothing the other's counts.
SAID = {
    "name": "Called",
    "plate": "Plate",
    "kind": "Kind",
    "layout": "Layout",
    "depot": "Depot",
    "driver": "Driver",
    "note": "Note",
    "warranty_until": "Warranty until",
    "season_from": "Season from",
    "season_to": "Season to",
    "engine_oil_on": say("Engine oil on"),
    "engine_oil_run": say("Engine oil every"),
    "engine_oil_months": say("Engine oil, months"),
    "engine_oil_meter": say("Engine oil at"),
}
ALONE = ("name", "plate", "kind", "layout")  # these are never filled in from the other
_TIES = ("fleet.fitting", "fleet.merge")  # what is not moved: which box was where, and earlier merges


@dataclass(frozen=True)
class BothSay:
    """One thing that both say: of the one that stays, of the other, and what stands afterwards."""

    what: str
    kept: str
    other: str
    after: str


@dataclass(frozen=True)
class Pair:
    """A compartment of the other and the one of the vehicle that stays into which it goes; None: it comes along as it is."""

    other_id: int
    other: str
    kind: str
    kept_id: int | None
    kept: str
    changes: int
    may: tuple[int, ...]  # those of its kind


@dataclass(frozen=True)
class MergeView:
    """Two vehicles side by side, before they are made one."""

    kept_id: int
    kept: str
    other_id: int
    other: str
    rows: tuple[BothSay, ...]
    pairs: tuple[Pair, ...]
    readings: int
    twice: int  # readings that both have
    contrary: int  # readings of the other that contradict those that stay
    changes: int
    twins: tuple[str, ...]  # changes that both have, said the same
    doubts: tuple[str, ...]  # why they hardly look like one
    problem: str


@dataclass(frozen=True)
class MergedView:
    """A merge that stands: what went in, when, by whom."""

    id: int
    other: str
    at: dt.datetime
    by: str


def _both(kept_id: int, other_id: int) -> tuple[Vehicle, Vehicle]:
    if kept_id == other_id:
        raise Inconsistent(say("Choose another vehicle: this is the same one."), field="other_id", value=other_id)
    return Vehicle.objects.get(pk=kept_id), Vehicle.objects.get(pk=other_id)


def _problem(kept: Vehicle, other: Vehicle) -> str:
    if kept.meter != other.meter:
        return say(
            "{kept} counts {meter}, {other} counts {meter_2}: they cannot be the same.",
            kept=kept.name,
            meter=kept.meter,
            other=other.name,
            meter_2=other.meter,
        )
    busy = Compartment.objects.filter(vehicle__in=(kept, other)).exclude(in_service=None).select_related("vehicle").first()
    if busy is not None:
        return say("{vehicle}, {busy} is on the bench: sign its service or give it up first.", vehicle=busy.vehicle.name, busy=busy.name)
    if Merge.objects.filter(other=other, undone_at=None).exists():
        return say("{other} was merged into another already.", other=other.name)
    if Merge.objects.filter(other=kept, undone_at=None).exists():
        return say("{kept} was itself merged into another.", kept=kept.name)
    if kept.retired_on is not None and other.retired_on is None:
        return say(
            "{kept} is no more in use, {other} is: let it go into that one, the other way round, or bring it back first.",
            kept=kept.name,
            other=other.name,
        )
    return ""


def _shown(value: Any) -> str:
    if value is None or value == "":
        return ""
    return value.isoformat() if isinstance(value, dt.date) else f"{value:g}" if isinstance(value, float) else str(value)


def _suggested(kept: Vehicle, other: Vehicle) -> list[tuple[Compartment, Compartment | None, list[Compartment]]]:
    """Which compartment of the other is which of ours: of the same name, else the only one of its kind at that place."""
    mine = list(kept.compartments.select_related("sheet").order_by("id"))
    found = []
    for c in other.compartments.select_related("sheet").order_by("id"):
        fits = [m for m in mine if m.sheet.kind == c.sheet.kind]
        named = [m for m in fits if alike(m.name) == alike(c.name)]
        there = [m for m in fits if m.slot == c.slot]
        best = named[0] if named else there[0] if len(there) == 1 else None
        found.append((c, best, fits))
    taken: set[int] = set()
    once = []
    for c, best, fits in found:
        once.append((c, None if best is not None and best.pk in taken else best, fits))
        taken |= {best.pk} if best is not None else set()
    return once


def _readings(kept: Vehicle, other: Vehicle) -> tuple[list[Reading], list[Reading], list[Reading]]:
    """The other's readings: those that come, those that both have, those that contradict what stays."""
    mine = list(Reading.objects.filter(vehicle=kept).order_by("on", "id"))
    within = READ_TO[kept.meter]
    swapped = any(r.swap for r in mine) or Reading.objects.filter(vehicle=other, swap=True).exists()
    come, twice, contrary = [], [], []
    for r in Reading.objects.filter(vehicle=other).order_by("on", "id"):
        if any(m.on == r.on and abs(m.value - r.value) <= within for m in mine):
            twice.append(r)
        elif not swapped and any(
            (m.on < r.on and m.value > r.value + within) or (m.on > r.on and m.value < r.value - within) for m in mine
        ):
            contrary.append(r)
        else:
            come.append(r)
    return come, twice, contrary


def _twins(pairs: dict[int, int | None]) -> list[tuple[OilRecord, OilRecord]]:
    """Changes that both have: of the same compartment, day, kind of work and oil, at the same meter value."""
    found = []
    for theirs, ours in pairs.items():
        if ours is None:
            continue
        mine = {(r.on, r.work, r.oil, r.meter_value): r for r in OilRecord.objects.filter(compartment=ours)}
        for r in OilRecord.objects.filter(compartment=theirs).select_related("compartment"):
            twin = mine.get((r.on, r.work, r.oil, r.meter_value))
            if twin is not None:
                found.append((r, twin))
    return found


def side_by_side(kept_id: int, other_id: int) -> MergeView:
    """Both vehicles and what would become of them; raises Vehicle.DoesNotExist."""
    kept, other = _both(kept_id, other_id)
    rows = []
    for name, label in SAID.items():
        mine, theirs = _shown(getattr(kept, name)), _shown(getattr(other, name))
        if mine or theirs:
            rows.append(BothSay(label, mine, theirs, mine if name in ALONE else mine or theirs))
    suggested = _suggested(kept, other)
    come, twice, contrary = _readings(kept, other)
    twins = _twins({c.pk: (best.pk if best else None) for c, best, _ in suggested})
    return MergeView(
        kept_id=kept.pk,
        kept=kept.name,
        other_id=other.pk,
        other=other.name,
        rows=tuple(rows),
        pairs=tuple(
            Pair(
                other_id=c.pk,
                other=c.name,
                kind=c.sheet.kind,
                kept_id=best.pk if best else None,
                kept=best.name if best else "",
                changes=OilRecord.objects.filter(compartment=c).count(),
                may=tuple(m.pk for m in fits),
            )
            for c, best, fits in suggested
        ),
        readings=len(come),
        twice=len(twice),
        contrary=len(contrary),
        changes=OilRecord.objects.filter(compartment__vehicle=other).count() - len(twins),
        twins=tuple(f"{theirs.compartment.name}, {theirs.on:%d %b %Y}: {theirs.oil or theirs.work}" for theirs, _ in twins),
        doubts=tuple(_doubts(kept, other, len(contrary), len(come) + len(twice) + len(contrary))),
        problem=_problem(kept, other),
    )


def _doubts(kept: Vehicle, other: Vehicle, contrary: int, of: int) -> list[str]:
    found = []
    if kept.plate and other.plate and plain_plate(kept.plate) != plain_plate(other.plate):
        found.append(say("They have two plates, {plate} and {plate_2}.", plate=kept.plate, plate_2=other.plate))
    if contrary > of / 2:
        found.append(
            say(
                "{contrary} of {of} readings of {other} contradict those of {kept}.",
                contrary=contrary,
                of=of,
                other=other.name,
                kept=kept.name,
            )
        )
    if kept.kind != other.kind:
        found.append(say("One is a {kind}, the other a {kind_2}.", kind=kept.kind, kind_2=other.kind))
    return found


class _Moving:
    """Moves rows from one row to another and remembers what they named before."""

    def __init__(self, by: Person) -> None:
        self.by, self.moved = by, []  # type: ignore[var-annotated]

    def _note(self, model: type[Model], pk: Any, was: dict[str, Any]) -> None:
        self.moved.append([model._meta.label_lower, str(pk), {k: v.isoformat() if hasattr(v, "isoformat") else v for k, v in was.items()}])

    def change(self, row: Model, **new: Any) -> None:
        """Change fields of a row."""
        self._note(type(row), row.pk, {name: getattr(row, name) for name in new})
        for name, value in new.items():
            setattr(row, name, value)
        row.save(update_fields=[name.removesuffix("_id") for name in new])

    def relations(self, old: Model, new: Model, but: tuple[str, ...] = ()) -> None:
        """Whatever names the old row names the new one; a tie that both have stays as it is."""
        for relation in old._meta.get_fields(include_hidden=True):
            if not isinstance(relation, ManyToOneRel):
                continue  # one of its own; what ties many to many is a table of its own, and is one of these too
            model, field = relation.related_model, relation.field
            if model._meta.label_lower in (*_TIES, *but):
                continue
            for pk in model._base_manager.filter(**{field.attname: old.pk}).values_list("pk", flat=True):
                self._note(model, pk, {field.attname: old.pk})
            model._base_manager.filter(**{field.attname: old.pk}).update(**{field.attname: new.pk})

    def void(self, row: Any, reason: str) -> None:
        """Declare a row void."""
        self.change(row, voided_at=clock.now(), voided_by_id=self.by.pk, void_reason=reason[:300])


@transaction.atomic
def merge_vehicles(by: Person, kept_id: int, other_id: int, pairs: dict[int, int | None]) -> Merge:
    """Make two vehicles one: readings, changes, services, visits, bottles of the other are of the one that stays.

    ``pairs``: each compartment of the other, and the one into which its past goes; None: it comes along as it is. What both have is void
    once, with its reason. The other one leaves, and comes back whole when the merge is taken back.

    Raises GateClosed while one is on the bench, Inconsistent for pairs of different kinds or two into one.
    """
    require(by, "lead")
    kept, other = _both(kept_id, other_id)
    problem = _problem(kept, other)
    if problem:
        raise GateClosed(problem, field="other_id", value=other_id)
    theirs = {c.pk: c for c in other.compartments.select_related("sheet", "box")}
    mine = {c.pk: c for c in kept.compartments.select_related("sheet", "box")}
    _check_pairs(pairs, theirs, mine)
    moving = _Moving(by)
    why = say("the same as {kept}, made one", kept=kept.name)
    _, twice, contrary = _readings(kept, other)
    for r in twice:
        moving.void(r, say("{why}: it has this reading", why=why))
    for r in contrary:
        moving.void(r, say("{why}: it contradicts its readings", why=why))
    for record, _twin in _twins(pairs):
        moving.void(record, say("{why}: it has this change", why=why))
    names = {alike(c.name) for c in mine.values()}
    for pk, ours in pairs.items():
        c = theirs[pk]
        if ours is None:
            name = c.name if alike(c.name) not in names else f"{c.name} ({other.name})"[:60]
            names.add(alike(name))
            moving.change(c, vehicle_id=kept.pk, name=name)
            continue
        into = mine[ours]
        moving.relations(c.box, into.box, ("fleet.compartment",))
        moving.relations(c, into)
        filled = {
            n: getattr(c, n) for n in ("variant", "limited_slip") if getattr(into, n) in ("", None) and getattr(c, n) not in ("", None)
        }
        if filled:
            moving.change(into, **filled)
    moving.relations(other, kept, ("fleet.compartment", "fleet.reading"))
    for r in Reading.objects.filter(vehicle=other):
        moving.change(r, vehicle_id=kept.pk)
    blank = {
        n: getattr(other, n) for n in SAID if n not in ALONE and getattr(kept, n) in ("", None) and getattr(other, n) not in ("", None)
    }
    if blank:
        moving.change(kept, **blank)
    moving.change(other, retired_on=clock.today(), retired_how=MERGED, retired_note=say("into {kept}", kept=kept.name)[:200], plate="")
    if not kept.plate:
        moving.change(kept, plate=moving.moved[-1][2]["plate"])
    made = Merge.objects.create(kept=kept, other=other, moved=moving.moved, by=by, at=clock.now())
    audit(by, "vehicles merged", made, (kept.pk, other.pk, PLAN, POLICY), kept=kept.name, other=other.name, rows=len(moving.moved))
    return made


def _check_pairs(pairs: dict[int, int | None], theirs: dict[int, Compartment], mine: dict[int, Compartment]) -> None:
    if set(pairs) != set(theirs):
        raise Inconsistent(say("Say of every compartment of the other into which it goes."), field="pairs", value=sorted(pairs))
    chosen = [ours for ours in pairs.values() if ours is not None]
    if len(set(chosen)) < len(chosen):
        raise Inconsistent(say("Two compartments cannot go into one."), field="pairs", value=chosen)
    for pk, ours in pairs.items():
        if ours is None:
            continue
        if ours not in mine:
            raise Inconsistent(say("That is no compartment of the vehicle that stays."), field="pairs", value=ours)
        if mine[ours].sheet.kind != theirs[pk].sheet.kind:
            raise Inconsistent(
                say(
                    "{theirs} is a {kind}, {mine} a {kind_2}: they cannot be one.",
                    theirs=theirs[pk].name,
                    kind=theirs[pk].sheet.kind,
                    mine=mine[ours].name,
                    kind_2=mine[ours].sheet.kind,
                ),
                field="pairs",
                value=ours,
            )
        if Fitting.objects.filter(compartment=theirs[pk]).count() > 1:
            raise Inconsistent(
                say("{theirs} of the other had several boxes: let it come along as it is.", theirs=theirs[pk].name),
                field="pairs",
                value=theirs[pk].pk,
            )


@transaction.atomic
def unmerge(by: Person, merge_id: int) -> Merge:
    """Take a merge back: every row names again what it named before; what was written since stays with the vehicle that stayed."""
    require(by, "lead")
    made = Merge.objects.select_for_update().select_related("kept", "other").get(pk=merge_id)
    if made.undone_at is not None:
        raise Inconsistent(say("It was taken back already."), field="merge", value=merge_id)
    if Merge.objects.filter(other=made.kept, undone_at=None).exists():
        raise GateClosed(
            say("{kept} was itself merged into another since: take that apart first.", kept=made.kept.name), field="merge", value=merge_id
        )
    plate = next((was["plate"] for _, pk, was in made.moved if pk == str(made.other_id) and "plate" in was), "")
    taken = Vehicle.objects.exclude(pk__in=(made.kept_id, made.other_id)).exclude(plate="").filter(plate=plate).first()
    if taken is not None:
        raise Inconsistent(
            say("{taken} has the plate {plate} by now: change that first.", taken=taken.name, plate=plate), field="merge", value=plate
        )
    busy = Compartment.objects.filter(vehicle=made.kept).exclude(in_service=None).first()
    if busy is not None:
        raise GateClosed(
            say("{busy} is on the bench: sign its service or give it up first.", busy=busy.name), field="merge", value=merge_id
        )
    for label, pk, was in reversed(made.moved):
        model = apps.get_model(label)
        fields = {f.attname: f for f in model._meta.local_concrete_fields}
        model._base_manager.filter(pk=pk).update(**{n: fields[n].to_python(v) for n, v in was.items()})
    made.undone_at = clock.now()
    made.save(update_fields=["undone_at"])
    audit(by, "merge taken back", made, (made.kept_id, made.other_id, PLAN, POLICY), kept=made.kept.name, other=made.other.name)
    return made


def merges_of(vehicle_id: int) -> tuple[MergedView, ...]:
    """The merges of a vehicle that stand."""
    rows = Merge.objects.filter(kept=vehicle_id, undone_at=None).select_related("other", "by")
    return tuple(MergedView(m.pk, m.other.name, m.at, m.by.shown_name) for m in rows)
