"""Simulated stand-ins: a vehicle that warms and cools, a scale that drifts and settles, a meter feed. Pure: state and time in, values out.

They answer late, drop out and come back on purpose. The faulty ones also jump, die and run backwards.
"""

from __future__ import annotations

import datetime as dt
import hashlib
import math
from pathlib import Path
from typing import Any

from barodex.core.words import say

from .protocol import FeedReading, FeedSetup, PrintedLabels, PrinterSetup, ResetState, ScaleReading, ScaleSetup, ScanReading, ScanSetup
from .registry import Adaptor, register

CONNECT_S = 2.0  # until a scan tool has found its vehicle
LATENCY_S = 0.7  # its values are this old
BLOCK_S, LOST_S = 75, 6  # in about every fourth block the link is away for a few seconds
RESET_S = 4.0
RUNNING_C, HEATING_TAU_S = 88.0, 1100.0  # where the oil settles with the engine on, and how fast
COOLING_TAU_S = 3600.0
SUPPLY_V, ALTERNATOR_V, RESTED_V, DRAIN_V_PER_H, LEAST_V = 13.4, 14.1, 12.5, 1.2, 12.2
PAN_G = 850.0


def _chance(*parts: object) -> float:
    """A number from 0 to 1 that is always the same for the same parts."""
    return int.from_bytes(hashlib.sha256(repr(parts).encode()).digest()[:4], "big") / 2**32


def _lost(now: dt.datetime, seed: object, often: bool) -> bool:
    block, second = divmod(int(now.timestamp()), BLOCK_S)
    return second < LOST_S * (3 if often else 1) and _chance("lost", seed, block) < (0.6 if often else 0.25)


class SimulatedVehicle:
    """The stand-in's idea of a vehicle: oil temperature by one time constant, battery, ignition, what its control unit keeps."""

    def __init__(self, state: dict[str, Any]) -> None:
        self.state = state

    @staticmethod
    def fresh(now: dt.datetime, oil_c: float, ambient_c: float, resets: tuple[str, ...], speed: float, seed: int) -> dict[str, Any]:
        """The state of a vehicle that stands with its engine off; ``speed`` makes its time run faster."""
        return {
            "since": now.timestamp(),
            "connected": now.timestamp(),
            "oil_c": oil_c,
            "ambient_c": ambient_c,
            "engine_on": False,
            "ignition_on": False,
            "supply": False,
            "battery_v": RESTED_V,
            "speed": speed,
            "seed": seed,
            "resets": {name: {"count": 900 + int(3000 * _chance(name, seed)), "started": None, "failed": ""} for name in resets},
        }

    def _gone(self, now: dt.datetime) -> float:
        return max(0.0, now.timestamp() - float(self.state["since"])) * float(self.state["speed"])

    def oil_c(self, now: dt.datetime) -> float:
        """Oil temperature, °C: towards where it settles, by one time constant."""
        s = self.state
        settles, tau = (RUNNING_C, HEATING_TAU_S) if s["engine_on"] else (float(s["ambient_c"]), COOLING_TAU_S)
        return settles + (float(s["oil_c"]) - settles) * math.exp(-self._gone(now) / tau)

    def battery_v(self, now: dt.datetime) -> float:
        """Battery, V: sinks with the ignition on, unless the engine or a supply holds it."""
        s = self.state
        if s["engine_on"]:
            return ALTERNATOR_V
        if s["supply"]:
            return SUPPLY_V
        sunk = DRAIN_V_PER_H * self._gone(now) / 3600 if s["ignition_on"] else 0.0
        return max(10.5, float(s["battery_v"]) - sunk)

    def turn(self, now: dt.datetime, engine_on: bool | None, ignition_on: bool | None, supply: bool | None) -> None:
        """Turn a key or connect a supply; None leaves it as it is. A running engine has its ignition on."""
        s = self.state
        oil, volts = self.oil_c(now), self.battery_v(now)
        s |= {"since": now.timestamp(), "oil_c": oil, "battery_v": min(volts, RESTED_V)}
        if ignition_on is not None:
            s["ignition_on"] = ignition_on
            s["engine_on"] = s["engine_on"] and ignition_on
        if engine_on is not None:
            s["engine_on"] = engine_on
            s["ignition_on"] = s["ignition_on"] or engine_on
        if supply is not None:
            s["supply"] = supply


class SimulatedScanTool:
    """A scan tool on a simulated vehicle."""

    def __init__(self, state: dict[str, Any], faulty: bool = False) -> None:
        self.state = state
        self.vehicle = SimulatedVehicle(state)
        self.faulty = faulty

    def _status(self, now: dt.datetime) -> str:
        if now.timestamp() - float(self.state["connected"]) < CONNECT_S:
            return "connecting"
        return "lost" if _lost(now, self.state["seed"], self.faulty) else "live"

    def read(self, now: dt.datetime) -> ScanReading:
        """Live values, a little old; oil temperature in steps of half a kelvin as sensors give it."""
        status = self._status(now)
        if status != "live":
            return ScanReading(status)
        taken = now - dt.timedelta(seconds=LATENCY_S)
        value = round(self.vehicle.oil_c(taken) * 2) / 2
        if self.faulty:
            dice = _chance("sensor", self.state["seed"], int(now.timestamp()) // 10)
            value = -60.0 if dice < 0.15 else value + 48 if dice < 0.3 else value
        s = self.state
        return ScanReading(status, taken, value, round(self.vehicle.battery_v(taken), 1), s["engine_on"], s["ignition_on"], s["supply"])

    def turn(self, now: dt.datetime, engine_on: bool | None, ignition_on: bool | None, supply: bool | None) -> None:
        """Turn the key of the simulated vehicle, or connect its supply."""
        self.vehicle.turn(now, engine_on, ignition_on, supply)

    def resets(self, now: dt.datetime) -> tuple[ResetState, ...]:
        """What the control unit keeps, and how each reset stands."""
        found = []
        for name, kept in self.state["resets"].items():
            started, count = kept["started"], kept["count"]
            if kept["failed"]:
                found.append(ResetState(name, f"{count}", "failed", kept["failed"]))
            elif started is None:
                found.append(ResetState(name, f"{count}", "idle" if count else "done"))
            elif now.timestamp() - started < RESET_S:
                found.append(ResetState(name, f"{count}", "running"))
            else:
                found.append(ResetState(name, "0", "done"))
        return tuple(found)

    def start_reset(self, name: str, now: dt.datetime) -> None:
        """Begin a reset; what stands against it is kept with it."""
        kept = self.state["resets"][name]
        s = self.state
        volts = self.vehicle.battery_v(now)
        if self._status(now) != "live":
            why = say("The link is away just now: wait until it is back, then try again.")
        elif s["engine_on"]:
            why = say("The engine runs: stop it, leave the ignition on.")
        elif not s["ignition_on"]:
            why = say("The control unit does not answer: switch the ignition on, engine off.")
        elif volts < LEAST_V:
            why = say("The battery has {volts:.1f} V: connect a supply.", volts=volts)
        else:
            why = ""
        kept |= {"failed": why, "started": None if why else now.timestamp()}


class SimulatedScale:
    """A scale with something on it: it settles, drifts, and must be tared."""

    def __init__(self, state: dict[str, Any], faulty: bool = False) -> None:
        self.state = state
        self.faulty = faulty

    @staticmethod
    def fresh(now: dt.datetime, oil_g: float, seed: int) -> dict[str, Any]:
        """An empty scale, not tared; ``oil_g`` is what a full pan will hold."""
        return {"since": now.timestamp(), "load_g": 0.0, "before_g": 0.0, "tare_g": 0.0, "tared_at": None, "oil_g": oil_g, "seed": seed}

    def put(self, now: dt.datetime, what: str) -> None:
        """Put something on: nothing, an empty pan, a full one."""
        s = self.state
        load = {"nothing": 0.0, "empty pan": PAN_G, "full pan": PAN_G + float(s["oil_g"])}[what]
        s |= {"before_g": s["load_g"], "load_g": load, "since": now.timestamp()}

    def _shown(self, now: dt.datetime) -> tuple[float, bool]:
        s = self.state
        gone = max(0.0, now.timestamp() - float(s["since"]))
        swing = (float(s["before_g"]) - float(s["load_g"])) * math.exp(-gone / 0.8)
        swing += 0.02 * float(s["load_g"]) * math.exp(-gone / 1.5) * math.cos(5 * gone)
        base = s["tared_at"] if s["tared_at"] is not None else s["since"]
        drift = (12.0 if self.faulty else 0.3) * max(0.0, now.timestamp() - float(base)) / 60
        return float(s["load_g"]) + swing + drift, abs(swing) < 1.0

    def read(self, now: dt.datetime) -> ScaleReading:
        """What stands on the display, to the gram."""
        if _lost(now, self.state["seed"], self.faulty):
            return ScaleReading("lost")
        shown, steady = self._shown(now)
        return ScaleReading("live", float(round(shown - float(self.state["tare_g"]))), steady, self.state["tared_at"] is not None)

    def tare(self, now: dt.datetime) -> None:
        """What lies on it now is nothing from now on."""
        self.state |= {"tare_g": self._shown(now)[0], "tared_at": now.timestamp()}


class SimulatedFeed:
    """A meter feed that knows the last reading and how far the vehicle usually runs."""

    def __init__(self, last: float, on: dt.date, per_day: float, seed: int, faulty: bool = False) -> None:
        self.last, self.on, self.per_day, self.seed, self.faulty = last, on, per_day, seed, faulty

    def read(self, now: dt.datetime) -> FeedReading:
        """The meter as of today."""
        if _lost(now, self.seed, self.faulty):
            return FeedReading("lost")
        days = max(0, (now.date() - self.on).days)
        swing = 0.8 + 0.4 * _chance("feed", self.seed, now.date().isoformat())
        value = self.last + self.per_day * days * swing
        return FeedReading("live", round(value * (0.9 if self.faulty else 1.0), 1), now.date())


def _scan_state(setup: ScanSetup) -> dict[str, Any]:
    state = SimulatedVehicle.fresh(setup.now, setup.oil_c, setup.air_c, setup.resets, setup.speed, setup.seed)
    return state | {"faulty": setup.faulty}


def _scale_state(setup: ScaleSetup) -> dict[str, Any]:
    return SimulatedScale.fresh(setup.now, setup.oil_g, setup.seed) | {"faulty": setup.faulty}


def _feed_state(setup: FeedSetup) -> dict[str, Any]:
    return {"last": setup.last, "on": setup.on.isoformat(), "per_day": setup.per_day, "seed": setup.vehicle, "faulty": setup.faulty}


def _feed(state: dict[str, Any]) -> SimulatedFeed:
    return SimulatedFeed(state["last"], dt.date.fromisoformat(state["on"]), state["per_day"], state["seed"], state["faulty"])


NAME = "simulated"


class SimulatedPrinter:
    """A label printer that lays its labels as PNG and PDF into an outbox; the faulty one runs out of labels every third time."""

    def __init__(self, state: dict[str, Any]) -> None:
        self.folder, self.faulty = Path(state["folder"]), bool(state["faulty"])

    def print(self, name: str, pictures: tuple[bytes, ...], document: bytes, now: dt.datetime) -> PrintedLabels:
        if self.faulty and _chance("labels", name, now.minute) < 1 / 3:
            return PrintedLabels(False, 0, say("No labels are left on the roll: put a new one in, then print again."))
        self.folder.mkdir(parents=True, exist_ok=True)
        stem = f"{now:%Y%m%d-%H%M%S-%f}-{''.join(c if c.isalnum() else '-' for c in name)[:40]}"
        for k, picture in enumerate(pictures, 1):
            (self.folder / f"{stem}-{k}.png").write_bytes(picture)
        (self.folder / f"{stem}.pdf").write_bytes(document)
        many = say("One label is") if len(pictures) == 1 else say("{pictures} labels are", pictures=len(pictures))
        return PrintedLabels(True, len(pictures), say("{many} printed (simulated: in the outbox {folder}).", many=many, folder=self.folder))


def _printer(setup: PrinterSetup) -> dict[str, Any]:
    return {"folder": setup.folder, "faulty": setup.faulty}


register(Adaptor("label printer", "simulated", _printer, SimulatedPrinter, simulated=True))
register(Adaptor("scan tool", NAME, _scan_state, lambda s: SimulatedScanTool(s, s.get("faulty", False)), simulated=True))
register(Adaptor("scale", NAME, _scale_state, lambda s: SimulatedScale(s, s.get("faulty", False)), simulated=True))
register(Adaptor("meter feed", NAME, _feed_state, _feed, simulated=True))
