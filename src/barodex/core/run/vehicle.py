"""The state of a vehicle as a whole, over all its open services: what is without its oil, whether the engine runs, what stops it.

A step says what it does (``moves_vehicle``, ``runs_engine``, ``opens_oil``); what the state forbids is refused with its reason,
whichever service it belongs to. ``fold`` never reads another service: this is asked when an act is accepted.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from barodex.core.guide.purpose import Purpose
from barodex.core.guide.steps import Procedure, Step
from barodex.core.quantity.errors import CoreError, GateClosed, NeedsReason
from barodex.core.quantity.working import figure
from barodex.core.run.state import State
from barodex.core.words import say


@dataclass(frozen=True)
class BoxAt:
    """A compartment in a service: ``key`` its id, ``name`` in words."""

    service: int
    key: str
    name: str


@dataclass(frozen=True)
class Stop:
    """Something that forbids the vehicle to be driven: the compartment and what was found."""

    name: str
    what: str


@dataclass(frozen=True)
class VehicleState:
    """``opened``: compartments whose oil is out or whose filler is open; ``running``: services in whose guide the engine runs now, with
    the step; ``moving``: those by whose guide it is driven now; ``selector``: where its guide wants it while the engine runs; ``hot``:
    compartments whose oil was last read above 60 °C, with the reading; ``stops``: what forbids driving."""

    opened: tuple[BoxAt, ...] = ()
    running: tuple[tuple[int, str], ...] = ()
    moving: tuple[tuple[int, str], ...] = ()
    selector: str = ""
    hot: tuple[tuple[BoxAt, float], ...] = ()
    stops: tuple[Stop, ...] = ()

    @property
    def may_be_driven(self) -> bool:
        """Whether nothing that is known forbids driving it."""
        return not self.stops and not self.opened

    @property
    def engine(self) -> str:
        """On or off, by the guides of what is open."""
        return "on" if self.running or self.moving else "off"

    @property
    def sentences(self) -> tuple[str, ...]:
        """What a person must know before anything is done to the vehicle."""
        found = [say("Must not be driven. {s}: {s_what}", s=s.name, s_what=s.what) for s in self.stops]
        found += [
            say("{b} is without its oil or open: not driven, and no engine, until it is filled and closed.", b=b.name) for b in self.opened
        ]
        where = say(", selector in {selector}", selector=self.selector) if self.selector else ""
        found += [say("By its guide the engine runs now: {title}{where}.", title=title, where=where) for _, title in self.running]
        found += [say("By its guide it is driven now: {title}.", title=title) for _, title in self.moving]
        found += [say("{b}: its oil was read at {at} °C. Hot oil scalds.", b=b.name, at=figure(at, 0)) for b, at in self.hot]
        return tuple(found)


def vehicle_state(services: Iterable[tuple[int, Procedure, State]], stops: Iterable[Stop] = ()) -> VehicleState:
    """Give the state of a vehicle from its open services and the stops that stand.

    Parameters
    ----------
    services : (id, guide, folded state) of each open service
    stops : stops on record that nobody has cleared

    Returns
    -------
    VehicleState

    References
    ----------
    Common practice: nothing is driven or run that another open job or a stop forbids.
    """
    opened: list[BoxAt] = []
    running: list[tuple[int, Step, str]] = []
    hot: list[tuple[BoxAt, float]] = []
    selectors: list[str] = []
    found = list(stops)
    for number, procedure, state in services:
        for job in procedure.jobs:
            steps = [s for s in procedure.steps if s.compartment == job.key]
            out = any(s.opens_oil and state.steps[s.id].status == "done" for s in steps)
            closed = any(s.purpose == Purpose.CLOSE_FILL and state.steps[s.id].status == "done" for s in steps)
            if out and not closed:
                opened.append(BoxAt(number, job.key, job.name))
            read = _last_read(state, job.key)
            if read is not None and read > SCALDS_C and not closed:
                hot.append((BoxAt(number, job.key, job.name), read))
            judged = state.ledgers[job.key].assessment
            if judged is not None and judged.level == 4:
                found.append(Stop(job.name, judged.reasons[0].text))
        begun = [
            s
            for s in procedure.steps
            if (s.runs_engine or s.moves_vehicle)
            and s.kind != "confirm"
            and state.steps[s.id].status == "open"
            and _has_begun(s, procedure, state)
        ]
        running += [(number, s, s.title) for s in begun]
        selectors += [procedure.job(s.compartment).sheet.level.selector for s in begun if s.compartment and not s.moves_vehicle]
    return VehicleState(
        tuple(opened),
        tuple((n, title) for n, s, title in running if not s.moves_vehicle),
        tuple((n, title) for n, s, title in running if s.moves_vehicle),
        next((s for s in selectors if s), ""),
        tuple(hot),
        tuple(dict.fromkeys(found)),
    )


SCALDS_C = 60.0  # of oil on the skin (common practice)


def _last_read(state: State, key: str) -> float | None:
    """The temperature at which a compartment's oil was read last, °C."""
    readings = state.ledgers[key].readings
    return float(readings[-1].values["temperature_c"]) if readings else None


def _has_begun(step: Step, procedure: Procedure, state: State) -> bool:
    """An engine-running step is at hand only once the gate before it was ticked; a drive, once its timer runs."""
    here = state.steps[step.id]
    if step.moves_vehicle:
        return here.timer_started is not None and here.timer_stopped is None
    return any(state.steps[n].status in ("done", "skipped") and procedure.by_id[n].runs_engine for n in step.needs)


def forbidden(state: VehicleState, step: Step, service: int, reason: str = "", lead: bool = False) -> CoreError | None:
    """Say why a step must not be done now.

    Parameters
    ----------
    state : of the vehicle, as it is before the step
    step : with what it does
    service : the one that it belongs to
    reason : written down for what is allowed with one only
    lead : whether the lead does it

    Returns
    -------
    CoreError that refuses it, or None

    References
    ----------
    Common practice. Opening, draining and closing stay allowed against a stop, so that it can be mended.
    """
    if step.moves_vehicle:
        if state.stops:
            stop = state.stops[0]
            return GateClosed(
                say("This vehicle must not be driven. {stop}: {stop_what}", stop=stop.name, stop_what=stop.what),
                field="step",
                value=step.id,
            )
        if state.opened:
            box = state.opened[0]
            return GateClosed(
                say("Not driven while {box} is without its oil or open: fill it and close it first.", box=box.name),
                field="step",
                value=step.id,
            )
    if step.runs_engine:
        other = next((b for b in state.opened if b.service != service or b.key != step.compartment), None)
        if other is not None:
            return GateClosed(
                say("No engine while {other} is without its oil or open: close it first.", other=other.name), field="step", value=step.id
            )
        if state.stops and not (lead and len(reason.strip()) >= 4):
            stop = state.stops[0]
            words = say("The lead alone may run the engine against it, with the reason written down.")
            return NeedsReason(f"{stop.name}: {stop.what} {words}", field="reason", value=step.id)
    if step.opens_oil and state.moving:
        title = state.moving[0][1]
        text = say(
            "By its guide this vehicle is driven now ({title}): no drain is opened before it stands again and that timer is stopped.",
            title=title,
        )
        return GateClosed(text, field="step", value=step.id)
    if step.opens_oil and state.running and len(reason.strip()) < 4:
        title = state.running[0][1]
        return NeedsReason(
            say(
                "By the guide the engine of this vehicle runs now ({title}): no drain is opened with it running. If it is "
                "off, write down that it is.",
                title=title,
            ),
            field="reason",
            value=step.id,
        )
    return None
