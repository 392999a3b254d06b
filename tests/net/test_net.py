"""Databases of earlier days are brought up to date, and say what they said, or what was changed on purpose."""

from __future__ import annotations

import json
import lzma
import os
import subprocess
import sys
from collections.abc import Iterator
from fnmatch import fnmatchcase
from pathlib import Path

import pytest

from tests.net.answers import HELD_AT

HERE = Path(__file__).parent
STATES = sorted(f.name.removesuffix(".sqlite3.xz") for f in HERE.glob("*.sqlite3.xz"))

FOLLOWS = "What follows is one list, with by when; what is to be repaired is never called fine, and stands before what is due soon."
FOLLOWED = (
    "/book/*/said/records/*/follows",
    "/book/vehicles/*/verdict/said/compartments/order",
    "/book/vehicles/*/verdict/said/compartments/*/means",
    "/book/vehicles/*/verdict/said/compartments/*/state",
    "/book/vehicles/*/verdict/said/compartments/*/why",
    "/book/vehicles/*/verdict/said/sentence",
    "/due/*/life/said/*/words",
    "/due*/said/consequences*",
    "/due*/said/follow_ups*",
    "/due*/said/open_in_all",
    "/due*/said/counts",
    "/due*/said/vehicles/*/compartments/*/basis",
    "/due*/said/vehicles/*/compartments/*/state",
    "/due*/said/vehicles/*/compartments/*/why",
    "/due*/said/vehicles/*/state",
    "/due/said/vehicles/order",
    "/plan/horizon/said/rows/*/looks/*/what",
    "/plan/morning/*said/*",
    "/services/*/said/ledgers/*/assessment/actions/*",
    "/services/*/said/ledgers/*/consequence*",
    "/services/*/said/ledgers/*/promise",
    "/services/*/said/records/*/follows",
)

FORECAST = (
    "A forecast is a prediction by its vehicle's own unsteadiness; few readings lean to the kind; a changed use and a season are found."
)
FORECASTED = (
    "/book/*/trend/said/per_day",
    "/book/vehicles/*/verdict/said/compartments/*/next_on",
    "/book/vehicles/*/verdict/said/compartments/*/used",
    "/due/*/life/said/*/limits/*/used",
    *(
        f"/due*/said/vehicles/*/{name}"
        for name in (
            "changed_factor",
            "changed_since",
            "stands",
            "per_day",
            "per_day_in_use",
            *(f"compartments/*/{n}" for n in ("earliest", "latest", "left", "life_left", "on", "used")),
        )
    ),
    "/plan/horizon/said/months/*/oils",
    "/plan/horizon/said/oils",
    "/plan/horizon/said/rows/*/looks/*/on",
    "/plan/horizon/said/rows/*/marks*",
    "/services/start/*/said/jobs/*/warranty",
)
FORECASTED_SINCE = (
    "/book/*/trend/said/against_now/text",
    "/book/*/trend/said/holds/*",
    "/book/*/trend/said/run_now",
    "/book/*/tried/said/oils/*/run",
    "/due/*/life/said/*/other/*",
    "/due/*/life/said/*/working/inputs/*",
    "/records/*/paper/said*",
    "/services/*/said/ledgers/*/promise/next/on",
)

LOSS = (
    "Tight is said with its odds, and unclear where it cannot be told; a first drain leaves some; a suction is no loss; a leak is no weep."
)
LOST = (
    "/book/*/said/records/*/loss_*",
    "/book/*/trend/said/holds*",
    "/book/*/trend/said/loss*",
    "/book/*/trend/said/lost",
    "/book/*/trend/said/points/*",
    "/book/*/tried/said/oils/*/loss_*",
    "/book/vehicles/*/verdict/said/compartments/*/loss",
    "/services/*/said/ledgers/*/loss/*",
    "/services/*/said/ledgers/*/promise/follows",
)

# What is said otherwise on purpose: the day, where (address and path, with wildcards), and why.
ANEW = "A service of a day before guides were kept is fitted to today's, in which one step does what the hands do at once."
LED_ANEW = ("/services/said/*", *(f"/services/*/said/{name}" for name in ("steps*", "times*", "gaps/*", "current")))
ON_PURPOSE: tuple[tuple[str, str, str], ...] = (
    *(("2026-11-27", where, ANEW) for where in LED_ANEW),
    ("2026-11-27", "/services/*/said/ledgers/*/drain_shares/*", "The fresh share is told of volumes at one temperature."),
    ("2026-11-27", "/services/*/said/ledgers/*/fresh", "The fresh share is told of volumes at one temperature."),
    ("2026-11-27", "/services/*/said/ledgers/*/outlook/*", "The fresh share is told of volumes at one temperature."),
    ("2026-11-27", "/services/*/said/ledgers/*/variant/*", "A number and its unit do not break apart."),
    ("2026-11-27", "/services/*/said/steps/*/advice", "What each variant takes stands beside it, and how a chain is set."),
    *((day, where, FORECAST) for day in ("2026-11-27", "2026-11-27-kept", "2026-11-28") for where in FORECASTED),
    *(("2026-11-28", where, FORECAST) for where in FORECASTED_SINCE),
    *(("2026-11-28", where, LOSS) for where in LOST),
    *(
        (day, "/sheets/*/said/revisions/*/trays_nm", "A sheet says to what torque its trays and plates go back on.")
        for day in ("2026-11-27", "2026-11-27-kept", "2026-11-28")
    ),
    *(
        (day, f"/due*/said/vehicles/*/{name}", "A vehicle may have a depot and a driver.")
        for day in ("2026-11-27", "2026-11-27-kept", "2026-11-28")
        for name in ("depot", "driver")
    ),
    *(
        (day, f"/plan/horizon/said/rows/*/planned/*/{name}", "A visit may name who does it.")
        for day in ("2026-11-27", "2026-11-27-kept", "2026-11-28")
        for name in ("technician", "technician_id")
    ),
    ("2026-11-28", "/plan/morning/paper/said/*", "No heading stands alone at the foot of a page."),
    ("2026-11-28", "/plan/horizon/said/rows/*/planned/*/version", "A visit may name who does it."),
    ("2026-11-28", "/book/*/trend/said/learnt/text", "How well a level repeats belongs to what a fill teaches."),
    *(
        (day, "/services/*/said/ledgers/*/variant/none", "It may be a variant that is not listed.")
        for day in ("2026-11-27-kept", "2026-11-28")
    ),
    *(("2026-11-28", f"/plan/horizon/said/{name}", "What falls due together is no saving.") for name in ("savings/alone_*", "text")),
    *(
        ("2026-11-28", where, "What can be taken over stands with what follows, and nowhere else.")
        for where in ("*/follows/*/id", "*/follows/*/offer*", "*/consequences/*/offer*", "/services/*/said/records/*/offers_ml")
    ),
    ("2026-11-27", "/services/*/said/steps/*/fields", "What rides along, and a chain, is good or stays in worn."),
    (
        "2026-11-27-kept",
        "/book/11/said/records/2/drained_*",
        "Of an exchange all that came out is told, the first of it at no measured temperature.",
    ),
    *(
        (day, where, why)
        for day in ("2026-11-27", "2026-11-27-kept")
        for where, why in (
            *((where, FOLLOWS) for where in FOLLOWED),
            ("/services/*/said/steps/*/purpose", "A step says what it is for."),
            ("/due/*/life/said/*/working/inputs*", "How a due is told names the limit that decides."),
            ("/due*/said/clock", "A clock that is behind a record is said."),
            ("/services/*/said/steps/*/checks", "A step says whether its list is of parts that are good or bad."),
            ("/sheets/*/said/revisions/*/wear_limits", "A sheet says up to which value a tool may read."),
            ("/due/*/life/said/*/rule/version", "What is set for a compartment has the version from which an edit of it starts."),
            ("/plan/horizon/said/rows/*/planned/*/version", "An agreed visit has the version from which moving it starts."),
            ("/services/*/said/steps/*/task", "A step says what is to do, beside the title that names its compartment."),
            ("/services/*/said/steps/*/cycle", "A step says of which cycle it is."),
            ("/services/said/*/*task", "The tray says what is to do, with its compartment where there are several."),
            ("/services/*/said/steps/*/resets*", "What is reset stands beside the list that is ticked, with what the tool said."),
            ("/services/*/said/steps/*/checklist*", "What is reset stands beside the list that is ticked."),
            ("/services/*/said/steps/*/values/ticked/*", "A reset that was ticked is called by its name."),
            ("/book/*/said/records/*/torques/*", "What it was closed with is a plug and a torque, not a line."),
            ("/services/*/said/ledgers/*/assessment/look", "When to look again stands apart from what else is to be done."),
            ("/book/vehicles/*/verdict/said/compartments/*/next_words/*", "What has to be done says whether it forbids driving."),
            ("/due/*/life/said/*/other/*", "The other school's basis stands for itself, not in a sentence."),
            ("/book/*/photos/*/words", "A photo of a record says what was being done, not the step's id."),
            ("/records/*/paper/*", "The paper names the plug that was closed, and its torque as the person reads it."),
            *(
                (
                    f"/book/*/said/records/*/{name}",
                    "What went in and came out is a sum over the entries of a record, which stand beside it.",
                )
                for name in (
                    "entries",
                    "net_in_15_ml",
                    "additive_ml",
                    "run_out_ml",
                    "used_ml",
                    "put_in_15_ml",
                    "first_out_15_ml",
                    "inside_15_ml",
                )
            ),
            ("/book/*/said/records/*/seen", "What was noted stands in full, so that it is put right from what it is."),
            ("/book/*/said/records/*/fresh_share", "The fresh share of an exchange follows its entries, also once they are put right."),
            ("/book/*poured_ml", "Of an exchange all that went through is told, not the last fill alone."),
            (
                "/book/*/said/records/*/drained_*15_ml",
                "Of an exchange all that came out is told, each brought to 15 °C by the oil that it was.",
            ),
            ("/book/*/said/records/*/details", "Amounts stand in the entries, not among the details."),
            (
                "/book/*/said/records/*/loss_*",
                "A loss is told with 2σ; what stays inside unknown tells none; too short a run says look again.",
            ),
            ("/book/*/trend/said/holds*", "The level holds by the losses as they are judged now, from the last time that it was set."),
            (
                "/book/*/trend/said/learnt/*",
                "What it takes is told at the temperature for which a sheet states it, the tenth rounded as people do.",
            ),
            ("/book/*/trend/said/loss*", "A rate is told with 2σ, and what tells no loss is left out."),
            ("/book/*/trend/said/points/*", "A loss is told with 2σ; what stays inside unknown tells none."),
            ("/book/*/said/records/*/run", "What the oil ran is read between the readings where the meter was not read on the day."),
            ("/book/*/trend/said/against*", "What the oil ran is read between the readings where the meter was not read on the day."),
            ("/book/*/trend/said/lost", "What stands out says what the newest loss means, as the record does."),
            ("/book/*/trend/said/run_now", "What the oil has run is told as for the due date: in season, at the rate of use to come."),
            ("/book/*/tried/said/oils/*", "A rate is told with 2σ, and what the oil has run as for the due date."),
            ("/book/vehicles/*/verdict/said/compartments/*/loss", "A loss is judged once, and the owner's sheet says what the book says."),
            ("/book/waste/said/*", "Used oil is what came out by the entries, not what was typed once for several compartments."),
            ("/services/*/gaps/said/*", "A level that was found by its own method is not off a figure."),
            ("/services/*/said/ledgers/*/loss*", "A loss is told with 2σ, and held against the interval that was run."),
            ("/services/*/said/ledgers/*/no_loss", "Why what came out tells no loss stands beside it."),
            ("/services/*/said/records/*/*_ml", "A signed page shows the sums of its records as the book has them."),
            ("/services/*target_basis", "A number and its unit do not break apart."),
            ("/services/*/said/ledgers/*/inside/*", "A number and its unit do not break apart."),
            ("/services/*/said/ledgers/*/recovery/*", "A number and its unit do not break apart."),
            ("/services/start/*/text", "A number and its unit do not break apart."),
        )
    ),
)

# What is called otherwise since: the day, the addresses, the old name of a key and the new one, and why.
RENAMED: tuple[tuple[str, str, str, str, str], ...] = tuple(
    (day, "services/*", old, new, "What was done in a service is an act, by one word everywhere.")
    for day in ("2026-11-27", "2026-11-27-kept")
    for old, new in (("event", "act"), ("last_event", "last_act"))
)


def renamed(said: object, old: str, new: str) -> object:
    """An answer with a key by its new name."""
    if isinstance(said, dict):
        return {new if k == old else k: renamed(v, old, new) for k, v in said.items()}
    return [renamed(v, old, new) for v in said] if isinstance(said, list) else said


def named(said: object) -> list[int]:
    """The ids of a list whose rows have one; empty for anything else."""
    rows = said if isinstance(said, list) else []
    ids = [r.get("id", r.get("compartment_id")) for r in rows if isinstance(r, dict)]
    return ids if len(ids) == len(rows) == len(set(ids)) and all(isinstance(i, int) for i in ids) else []


def by_name(said: list[dict]) -> list[dict]:
    """The rows of a list by their ids, whatever their order."""
    return [row for _, row in sorted(zip(named(said), said, strict=True), key=lambda pair: pair[0])]


def differences(before: object, now: object, at: str) -> Iterator[tuple[str, object, object]]:
    """Where two answers differ, as path, what was said and what is said."""
    if isinstance(before, dict) and isinstance(now, dict):
        for key in sorted(before.keys() | now.keys()):
            yield from differences(before.get(key, "(not there)"), now.get(key, "(not there)"), f"{at}/{key}")
    elif named(before) and sorted(named(before)) == sorted(named(now)):
        if named(before) != named(now):
            yield f"{at}/order", named(before), named(now)
        for k, (one, other) in enumerate(zip(by_name(before), by_name(now), strict=True)):
            yield from differences(one, other, f"{at}/{k}")
    elif isinstance(before, list) and isinstance(now, list) and len(before) == len(now):
        for k, (one, other) in enumerate(zip(before, now, strict=True)):
            yield from differences(one, other, f"{at}/{k}")
    elif isinstance(before, float) and isinstance(now, (int, float)):
        if abs(before - now) > 1e-9 * max(1.0, abs(before)):
            yield at, before, now
    elif before != now:
        yield at, before, now


@pytest.fixture(scope="module", params=STATES)
def asked_again(request, tmp_path_factory):
    """The day, what the database said then, and what it says after every migration since."""
    folder = tmp_path_factory.mktemp("net")
    Path(folder, "barodex.sqlite3").write_bytes(lzma.decompress((HERE / f"{request.param}.sqlite3.xz").read_bytes()))
    env = {**os.environ, "BARODEX_VAR": str(folder), "BARODEX_NOW": HELD_AT, "PYTHONPATH": os.pathsep.join(("src", "."))}
    subprocess.run([sys.executable, "-m", "barodex", "migrate", "-v0"], check=True, env=env, cwd=HERE.parents[1])
    asked = subprocess.run([sys.executable, "-m", "tests.net.answers"], check=True, env=env, cwd=HERE.parents[1], stdout=subprocess.PIPE)
    return request.param, json.loads(lzma.decompress((HERE / f"{request.param}.json.xz").read_bytes())), json.loads(asked.stdout)


def test_it_says_what_it_said(asked_again):
    day, before, now = asked_again
    for made, where, old, new, _ in RENAMED:
        if made == day:
            before = {address: renamed(said, old, new) if fnmatchcase(address, where) else said for address, said in before.items()}
    changed = list(differences(before, now, ""))
    told = [(where, [p for p, _, _ in changed if fnmatchcase(p, where)]) for made, where, _ in ON_PURPOSE if made == day]
    meant = {p for _, paths in told for p in paths}
    unmeant = [f"{p}: {str(was)[:120]!r} is now {str(says)[:120]!r}" for p, was, says in changed if p not in meant]
    assert unmeant == [], "\n".join(unmeant[:40])
    assert [where for where, paths in told if not paths] == [], "these reasons explain nothing any more"


def test_it_holds_what_makes_it_worth_asking(asked_again):
    _, before, _ = asked_again
    assert all(a["status"] == 200 for a in before.values()), [p for p, a in before.items() if a["status"] != 200]
    services = [a["said"] for p, a in before.items() if p.startswith("services/") and p.count("/") == 1]
    assert {s["state"] for s in services} == {"open", "signed"}
    assert {x["work"] for s in services for x in s["ledgers"]} == {"change", "exchange", "flush", "top-up", "correction", "opened"}
    papers = [a["said"] for p, a in before.items() if p.endswith("/paper")]
    assert all(any(line for line in page) for paper in papers for page in paper)
