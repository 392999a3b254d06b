"""Guides for tests: sheets of every kind, and a service walked as a technician does who ticks everything and types plain values."""

import datetime as dt
from dataclasses import replace

from barodex.core.guide.procedure import build
from barodex.core.guide.steps import Conditions, Job
from barodex.core.oil.lubricant import Requirement
from barodex.core.run.folding import accept, fold
from barodex.core.run.state import Act
from barodex.core.sheet.sheet import LevelSpec, Plug, Sheet

ATF, FLUID, GEAR = Requirement("atf"), Requirement("clutch fluid", wet_clutch=True), Requirement("gear", "80W-90", "GL-5")
FILL, DRAIN = (
    Plug("fill", "filler plug", "hex socket", 8, "crush washer", 35),
    Plug("drain", "drain plug", "hex socket", 8, "crush washer", 20, True),
)
SCREW = Plug("level", "level screw", "hex socket", 5, "O-ring", 8)
PAN = Plug("cover", "pan", "six-lobe", 6, "gasket", 10)
BOX = Sheet("manual gearbox", GEAR, 2000, "to the lip", "plug", (FILL, DRAIN), case_material="aluminium")
AUTOMATIC = Sheet(
    "automatic",
    ATF,
    4000,
    "overflow",
    "plug",
    (FILL, DRAIN, SCREW),
    warm_up=False,
    level=LevelSpec(40, 45, "running", "P", 75),
    total_ml=9500,
    exchange_cycles=3,
    surplus_ml=500,
)
OPENABLE = replace(AUTOMATIC, plugs=(FILL, DRAIN, SCREW, PAN))
DUAL = replace(AUTOMATIC, kind="dual-clutch", exchange_cycles=1, level=LevelSpec(30, 50, "running"))
COUPLING = Sheet("electronic differential", FLUID, 550, "overflow", "plug", (FILL, DRAIN), warm_up=False, level=LevelSpec(20, 40, "off"))
CLUTCH_CASE = Sheet("clutch transfer case", FLUID, 650, "measured", "plug", (FILL, DRAIN), resets=("wear counter",))
BLOWER = Sheet(
    "supercharger",
    Requirement("ester turbine"),
    140,
    "measured",
    "suction",
    (Plug("fill", "filler screw", "hex socket", 5, "PTFE tape", 9),),
)
DRIBBLER = replace(BLOWER, fill_method="dribble")
HUB = Sheet(
    "hub gear", Requirement("hub"), 25, "syringe", "suction", (Plug("fill", "port screw", "slot", None, "thread-lock", 1.5),), flush_ml=25
)
CHAIN = Sheet(
    "chain case",
    Requirement("chain case"),
    250,
    "dipstick",
    "cover",
    (Plug("dipstick", "dipstick", "by hand"), Plug("cover", "case cover", "hex socket", 6, "gasket", 12)),
)
MARINE = Sheet("marine gearbox", ATF, None, "dipstick", "suction", (Plug("dipstick", "dipstick", "by hand", None, "O-ring"),))
TRUCK = Sheet("manual gearbox", GEAR, 8500, "below the lip", "plug", (FILL, DRAIN), level=LevelSpec(below_lip_mm=20))
POCKET = replace(BOX, plugs=(FILL, DRAIN, Plug("drain", "pocket plug", "hex socket", 8, "crush washer", 18)))


def guide(*sheets, kind="car", **job):
    """The guide of a visit with these sheets."""
    return build(tuple(Job(str(k), f"Box {k}", s, "the oil", **job) for k, s in enumerate(sheets)), Conditions("the vehicle", kind))


class Walk:
    """A service walked step by step, as a technician does who ticks everything and types plain values."""

    def __init__(self, *sheets, **job):
        self.made = guide(*sheets, **job)
        self.acts: list[Act] = []
        self.clock = dt.datetime(2026, 6, 1, 8, tzinfo=dt.UTC)

    @property
    def state(self):
        return fold(self.made, self.acts)

    def act(self, step: str, kind: str = "done", later: float = 20, **values):
        self.clock += dt.timedelta(seconds=later)
        act = Act(f"e{len(self.acts)}", len(self.acts) + 1, kind, step, values, self.clock, "me")
        state = accept(self.made, self.acts, act)
        self.acts.append(act)
        return state

    def plain(self, step, **more):
        values = {"ticked": list(step.ticks)}
        for f in step.fields:
            if f.kind == "choice" and f.required:
                values[f.name] = f.choices[0]
            elif f.kind == "bool" and f.name != "full":
                values[f.name] = True
            elif f.kind == "torque":
                values |= {f.name: f.default or 10.0, "reason": "asked the maker"}
            elif f.kind == "finding":
                values[f.name] = {"magnet": "film", "particles": [], "colour": "brown", "clarity": "clear", "smell": "none"}
            elif f.kind == "temperature" and step.window:
                values[f.name] = step.window.high_c - 2
            elif f.kind == "number":
                values[f.name] = 2.0
            elif f.kind == "text" and f.required:
                values[f.name] = "as before"
        if step.kind == "measure":
            values |= {"pan_ml": 0.97 * (self.made.job(step.compartment).sheet.capacity_ml or 1000), "temperature_c": 30.0}
        return values | more

    def to(self, stop: str = ""):
        """Walk until a step whose id starts with ``stop``, or to the signature."""
        for _ in range(300):
            state = self.state
            step = next((s for s in self.made.steps if state.steps[s.id].status == "open"), None)
            if step is None or (stop and step.id.startswith(stop)):
                return step
            if step.kind == "timer" or not step.required:
                self.act(step.id, "skip", reason="no time to wait here")
                continue
            if step.kind == "pour":
                ledger = state.ledgers[step.compartment]
                self.act(step.id, "add", volume_ml=(ledger.target_ml or 1000) - ledger.poured_ml)
            self.act(step.id, **self.plain(step))
        raise AssertionError("the guide does not end")
