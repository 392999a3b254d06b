"""A compartment over the years: against its own past and its sisters, with surprises, losses ahead, and what it really takes."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

from django.db.models import Count, Max

from barodex.core.findings.finding import Finding
from barodex.core.findings.surprises import Exposure, Reset, Surprise, exposure_of, ran_over, returned_fault
from barodex.core.findings.trend import Look, Rise, Sisters, against_sisters, rises
from barodex.core.ledger.leak import Holds, LossRate, Trip, days_until_low, loss_by, loss_rate, per_run
from barodex.core.ledger.learnt import Learnt
from barodex.core.oil.judge import judge
from barodex.core.run.seen import finding_from
from barodex.fleet.models import Compartment
from barodex.memory.kept import keep
from barodex.memory.versions import POLICY, SHELF, version_of
from barodex.shelf.models import Lubricant, SheetRevision
from barodex.shelf.queries import core_lubricant, current_revision, requirement
from barodex.workshop.policy import oil_policy

from .amounts import Measured, measured, records_of
from .history import history_of
from .learning import learnt_of, odd_of
from .models import ConsequenceRow, Correction, OilRecord


@dataclass(frozen=True)
class TrendPoint:
    """One record on the axis: meter and run in km or h, loss in mL at 15 °C, and per 1 000 km or 100 h, ± 2σ."""

    record: int
    on: dt.date
    meter: float | None
    run: float | None
    work: str
    level: int | None
    colour: str
    d1500: float | None
    delta_e: float | None
    seen: tuple[str, ...]
    loss_ml: float | None
    sigma_ml: float | None
    rate: float | None
    rate_within: float | None
    band: str


@dataclass(frozen=True)
class SisterLook:
    """A look into a sister compartment: whose, when, what its oil had run, its level."""

    vehicle: str
    compartment_id: int
    on: dt.date
    run: float
    level: int


@dataclass(frozen=True)
class TrendView:
    """The trend of a compartment; ``run_now`` is what its present oil has run (km or h); ``against`` is for the last look, ``against_now``
    for one today."""

    compartment_id: int
    compartment: str
    kind: str
    family: str
    vehicle_id: int
    vehicle: str
    meter: str
    per_day: float
    run_now: float | None
    points: tuple[TrendPoint, ...]
    sisters: tuple[SisterLook, ...]
    against: Sisters | None
    against_now: Sisters | None
    rises: tuple[Rise, ...]
    surprises: tuple[Surprise, ...]
    exposures: tuple[Exposure, ...]
    lost: str  # what the newest loss means; empty where it is tight or a weep
    loss: LossRate | None
    holds: Holds | None
    trip: Trip | None
    learnt: Learnt


def _look(m: Measured, finding: Finding, where: str) -> Look:
    return Look(m.values["on"], m.values["meter_value"], m.run, finding, m.record.level, where)


def _point(m: Measured, finding: Finding, meter: str) -> TrendPoint:
    loss = m.loss
    rate = loss.loss_ml / m.run * per_run(meter)[0] if loss and m.run else None
    within = loss.within_ml / m.run * per_run(meter)[0] if loss and m.run else None
    seen = tuple(
        p.form if p.metal == "steel" else f"{p.metal} {p.form}" for p in finding.particles or () if (p.form, p.metal) != ("paste", "steel")
    )
    return TrendPoint(
        record=m.record.pk,
        on=m.values["on"],
        meter=m.values["meter_value"],
        run=m.run,
        work=m.record.work,
        level=m.record.level,
        colour=finding.colour or "",
        d1500=finding.d1500,
        delta_e=finding.delta_e,
        seen=seen,
        loss_ml=loss.loss_ml if loss else None,
        sigma_ml=loss.sigma_ml if loss else None,
        rate=rate,
        rate_within=within,
        band=loss.band if loss else "",
    )


_LOOKED = ("pk", "box_id", "compartment_id", "compartment__vehicle__name", "compartment__name", "on", "meter_value", "level", "finding")


def _sister_looks(c: Compartment) -> list[tuple[SisterLook, Look]]:
    """Looks into the compartments on the same sheet, of other vehicles or places, with what their oil had run."""
    rows = (
        OilRecord.objects.filter(compartment__sheet_id=c.sheet_id)
        .exclude(box=c.box_id)
        .exclude(work="top-up")
        .order_by("on", "id")
        .values_list(*_LOOKED)
    )
    corrected: dict[tuple[int, str], object] = {
        (k.record_id, k.field): k.after
        for k in Correction.objects.filter(record__compartment__sheet_id=c.sheet_id, field__in=["meter_value", "on", "finding"])
    }
    last: dict[int, float | None] = {}
    found = []
    for pk, box, place, vehicle, name, on, meter, level, finding in rows:
        value, anew = corrected.get((pk, "meter_value"), meter), corrected.get((pk, "finding"))
        if isinstance(anew, dict):
            level, finding = anew["level"], anew["finding"]
        before, last[box] = last.get(box), value
        if level is None or value is None or before is None or not value > before:
            continue
        day = dt.date.fromisoformat(str(corrected.get((pk, "on"), on)))
        where = f"{vehicle}, {name.lower()}"
        look = Look(day, value, value - before, finding_from(finding or {}), level, where)
        found.append((SisterLook(where, place, day, value - before, level), look))
    return found


@keep("refusal", 512)
def _refusal(lubricant_id: int, revision_id: int, variant: str, slip: bool | None, version: int) -> tuple[tuple[str, ...], str] | None:
    """Why an oil was wrong by a revision: the rules that refuse it, and the worst in words; None when it was not."""
    oil = Lubricant.objects.get(pk=lubricant_id)
    revision = SheetRevision.objects.select_related("sheet").prefetch_related("plugs", "sources").get(pk=revision_id)
    verdict = judge(core_lubricant(oil), requirement(revision, variant, slip), policy=oil_policy())
    worst = [r for r in verdict.reasons if r.verdict == "reject"]
    return (tuple(r.rule for r in worst), worst[0].text) if worst else None


def _exposures(c: Compartment, records: list[Measured], run_now: float | None, meter: str) -> list[Exposure]:
    found: list[Exposure] = []
    version = version_of(SHELF, POLICY)
    fills = [m for m in records if m.record.work != "top-up"]
    overrides = ConsequenceRow.objects.filter(record__in=[m.record.pk for m in fills], code="oil-override")
    on_purpose = {row.record_id: str(row.params.get("why", "")) for row in overrides}
    for k, m in enumerate(fills):
        r = m.record
        if r.lubricant is None or r.revision is None:
            continue
        refusal = _refusal(r.lubricant_id, r.revision_id, c.variant, c.limited_slip, version)
        if refusal is None:
            continue
        after = fills[k + 1] if k + 1 < len(fills) else None
        run = run_now if after is None else after.run
        until = after.values["on"] if after else None
        found.append(
            exposure_of(m.values["oil"], m.values["on"], until, run, refusal[0], refusal[1], meter, on_purpose=on_purpose.get(r.pk, ""))
        )
    known = {(e.until, e.oil) for e in found}
    for m in fills:
        on, wrong = m.values["on"], m.record.details.get("wrong_oil")
        if m.record.work == "correction" and wrong and (on, wrong) not in known:
            ran = m.record.details.get("hours" if meter == "h" else "ran")
            since = next((o.values["on"] for o in reversed(fills) if o.values["on"] < on), on)
            brass = m.record.revision is not None and m.record.revision.yellow_metal
            found.append(exposure_of(wrong, since, on, ran, ("yellow-metal",) if brass else (), wrong, meter))
    return sorted(found, key=lambda e: e.since)


def _surprises(records: list[Measured], findings: list[Finding], resets: tuple[Reset, ...]) -> list[Surprise]:
    if not records:
        return []
    fills = [(m, f) for m, f in zip(records, findings, strict=True) if m.record.work != "top-up"]
    last = records[-1].record
    found = []
    if fills and fills[-1][1].colour:
        known = len(fills) > 1 or fills[-1][0].run is not None
        found += odd_of(*fills[-1], known, fills[-2][0].values["oil"] if len(fills) > 1 else "")
    stood = str(last.details.get("stood") or "")
    found.append(ran_over(stood, last.details.get("ran_ml"), reset_level=len(records) > 1 and records[-2].record.service_id is not None))
    found.append(returned_fault(resets))
    answered = ConsequenceRow.objects.filter(record=last, kind="ask").exclude(done_at=None).values_list("code", flat=True)
    closed = set(answered) if any(found) else set()
    return [s for s in found if s and s.rule not in closed]


def _losses(records: list[Measured], meter: str) -> LossRate | None:
    rows = [m.loss_point for m in records if m.loss_point]
    return loss_rate(rows, meter) if rows else None


def trend(compartment_id: int, as_of: dt.date, ahead: float | None = None, until: dt.date | None = None) -> TrendView:
    """The trend of a compartment; ``ahead`` (km or h) or ``until`` name a trip or the end of a season. Raises Compartment.DoesNotExist."""
    sheet = Compartment.objects.values_list("sheet_id", flat=True).get(pk=compartment_id)
    vehicles = Compartment.objects.filter(sheet_id=sheet).order_by().values_list("vehicle_id", flat=True).distinct()
    return _trend_at(compartment_id, as_of, ahead, until, version_of(*vehicles, SHELF, POLICY))


@dataclass(frozen=True)
class _Seen:
    """What the records of a compartment and of its sisters say, whatever was read on the meter since."""

    records: list[Measured]
    findings: list[Finding]
    points: tuple[TrendPoint, ...]
    looks: list[Look]
    near: list[tuple[SisterLook, Look]]
    rises: tuple[Rise, ...]


def _records_state(c: Compartment) -> tuple[object, ...]:
    """What changes whenever a record of a sheet's compartments is written, voided or corrected, or one of them is called otherwise:
    records are never edited."""
    names = (
        Compartment.objects.filter(sheet_id=c.sheet_id)
        .order_by("pk")
        .values_list("pk", "box_id", "name", "vehicle__name", "vehicle__meter")
    )
    records = OilRecord.objects.filter(compartment__sheet_id=c.sheet_id).aggregate(n=Count("pk"), newest=Max("pk"))
    fixes = Correction.objects.filter(record__compartment__sheet_id=c.sheet_id).aggregate(n=Count("pk"), newest=Max("pk"))
    return records["n"], records["newest"], fixes["n"], fixes["newest"], *names


@keep("looks", 64)
def _seen(compartment_id: int, records_state: tuple[object, ...], version: int, vehicle: str) -> _Seen:
    c = Compartment.objects.select_related("vehicle", "sheet").get(pk=compartment_id)
    records = measured(records_of(c))
    findings = [finding_from(m.record.finding or {}) for m in records]
    points = tuple(_point(m, f, c.vehicle.meter) for m, f in zip(records, findings, strict=True))
    looks = [_look(m, f, vehicle) for m, f in zip(records, findings, strict=True) if m.record.level is not None]
    return _Seen(records, findings, points, looks, _sister_looks(c), rises(looks))


@keep("trend", 64)
def _trend_at(compartment_id: int, as_of: dt.date, ahead: float | None, until: dt.date | None, version: int) -> TrendView:
    c = (
        Compartment.objects.select_related("vehicle", "sheet")
        .prefetch_related("sheet__revisions", "vehicle__readings")
        .get(pk=compartment_id)
    )
    meter, vehicle = c.vehicle.meter, c.vehicle
    revision = current_revision(c.sheet.revisions.all(), as_of)
    seen = _seen(c.pk, _records_state(c), version_of(SHELF, POLICY), vehicle.name)
    records, findings, points, looks, near = seen.records, seen.findings, seen.points, seen.looks, seen.near
    history = history_of(c, as_of, records)
    use, run_now = history.use, history.run_since_change
    run_level = history.run_since(records[-1]) if records else None
    against = against_sisters(looks[-1].level, looks[-1].run, [k for _, k in near], meter) if looks else None
    against_now = against_sisters(None, run_now, [k for _, k in near], meter)
    loss = _losses(records, meter)
    holds = trip = None
    known = revision.capacity_ml or next((m.sums.net_in.volume_ml for m in reversed(records) if m.sums.net_in), None)
    if loss and known:
        holds = days_until_low(known, loss.rate_now, loss.sigma_now, use.rate.per_day, run_level or 0.0, meter)
        run = ahead if ahead is not None else use.rate.per_day * max(0, (until - as_of).days) if until else None
        trip = loss_by(known, loss.rate_now, loss.sigma_now, run, run_level or 0.0, meter) if run is not None else None
    return TrendView(
        compartment_id=c.pk,
        compartment=c.name,
        kind=c.sheet.kind,
        family=revision.family,
        vehicle_id=vehicle.pk,
        vehicle=vehicle.name,
        meter=meter,
        per_day=use.rate.per_day,
        run_now=run_now,
        points=points,
        sisters=tuple(s for s, _ in near[-60:]),
        against=against,
        against_now=against_now,
        rises=seen.rises,
        surprises=tuple(_surprises(records, findings, history.resets)),
        exposures=tuple(_exposures(c, records, run_now, meter)),
        lost=next((m.loss_text if m.loss.band not in ("tight", "unclear", "weep") else "" for m in reversed(records) if m.loss), ""),
        loss=loss,
        holds=holds,
        trip=trip,
        learnt=learnt_of(c, revision),
    )
