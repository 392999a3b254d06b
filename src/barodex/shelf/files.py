"""Sheets as files: written as JSON against a published schema, and read back for review. Nothing that is read enters by itself."""

from __future__ import annotations

import functools
import importlib.resources
import json
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from typing import Any

import jsonschema
import orjson
from django.db import transaction

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.kinds.kind import COMPARTMENT_KINDS
from barodex.core.quantity.errors import CoreError, Inconsistent, Unreadable
from barodex.core.quantity.quantity import format_quantity, parse_quantity
from barodex.core.sheet.plausible import Doubt, doubts
from barodex.core.sheet.sheet import Plug, Sheet

from .models import FieldName, SheetRevision, SpecSheet
from .queries import ambient_of, current_revision, kit_items_of, marks_of, requirement, variants_of

FORMAT, VERSION = "barodex-sheet", 1
MOST_CHARACTERS = 200_000
# our name in a file -> (column, kind of quantity); the others are taken as they are
AMOUNTS = {
    "capacity": ("capacity_ml", "volume"),
    "dry_capacity": ("total_ml", "volume"),
    "stays_inside": ("residual_ml", "volume"),
    "rinse": ("rinse_ml", "volume"),
    "surplus": ("surplus_ml", "volume"),
    "friction_modifier_dose": ("modifier_ml", "volume"),
    "flush": ("flush_ml", "volume"),
    "window_from": ("window_low_c", "temperature"),
    "window_to": ("window_high_c", "temperature"),
    "thermostat": ("thermostat_c", "temperature"),
    "below_lip": ("below_lip_mm", "length"),
    "interval_distance": ("interval_km", "distance"),
    "interval_hours": ("interval_h", "engine_hours"),
}
PLAIN = (
    "family",
    "grade",
    "categories",
    "hypoid",
    "yellow_metal",
    "limited_slip",
    "fill_method",
    "drain_method",
    "case_material",
    "drain_minutes",
    "warm_up",
    "level_note",
    "cautions",
    "interval_months",
    "for_life",
    "exchange_cycles",
    "also",
    "approvals",
    "base",
    "no_ep",
    "wet_clutch",
    "synchro",
    "non_detergent",
    "hose",
    "level_engine",
    "selector",
    "resets",
)
ROWS = ("plugs", "variants", "casing_marks", "ambient", "kit", "sources")
HEAD = ("format", "version", "name", "kind")
IN_PLUG = ("role", "label", "drive", "size", "seal", "torque", "magnet")
OURS = (*HEAD[2:], *AMOUNTS, *PLAIN, *ROWS)
# what a technician would look for first; listed when a file leaves it out
WANTED = {"capacity": "service capacity", "grade": "grade", "categories": "API categories", "interval_distance": "interval by distance"}
WANTED |= {"interval_months": "interval by months", "yellow_metal": "brass inside or not", "plugs": "plugs with seal and torque"}


@functools.cache
def schema() -> dict[str, Any]:
    """The published JSON Schema of a sheet file."""
    return json.loads(importlib.resources.files(__package__).joinpath("sheet.schema.json").read_text("utf-8"))


def write_file(sheet_id: int) -> dict[str, Any]:
    """The newest revision of a sheet as a file, amounts with their units; raises SpecSheet.DoesNotExist."""
    sheet = SpecSheet.objects.get(pk=sheet_id)
    r = current_revision(sheet.revisions.prefetch_related("plugs", "sources"), clock.today())
    found: dict[str, Any] = {"format": FORMAT, "version": VERSION, "name": sheet.name, "kind": sheet.kind}
    for name, (column, kind) in AMOUNTS.items():
        if (value := getattr(r, column)) is not None:
            found[name] = _text(value, kind)
    found |= {name: getattr(r, name) for name in PLAIN if getattr(r, name) not in (None, "", [])}
    found["plugs"] = [_plug_out(p) for p in r.plugs.all()]
    found |= _rows_out(r)
    found["sources"] = [{"figure": s.figure, "source": s.source, "trust": s.trust, "note": s.note} for s in r.sources.all()]
    return found


def _text(value: float, kind: str) -> str:
    """An amount in its canonical unit, exactly: a file loses nothing."""
    return (
        f"{value:.10g} "
        + {"volume": "mL", "distance": "km", "engine_hours": "h", "torque": "N·m", "length": "mm", "temperature": "°C"}[kind]
    )


def _plug_out(p: Any) -> dict[str, Any]:
    row = {"role": p.role, "label": p.label, "drive": p.drive, "seal": p.seal, "magnet": p.magnet}
    if p.size_mm is not None:
        row["size"] = _text(p.size_mm, "length")
    if p.torque_nm is not None:
        row["torque"] = _text(p.torque_nm, "torque")
    return row


def _rows_out(r: SheetRevision) -> dict[str, Any]:
    """Variants, casing marks, grades by air temperature, kit."""
    variants = []
    for v in variants_of(r):
        row: dict[str, Any] = {"name": v.name, "mark": v.mark, "grade": v.grade, "categories": v.categories}
        row["heads"] = [
            {
                "plug": h.plug,
                "drive": h.drive,
                **({"size": _text(h.size_mm, "length")} if h.size_mm is not None else {}),
                **({"torque": _text(h.torque_nm, "torque")} if h.torque_nm is not None else {}),
            }
            for h in v.heads
        ]
        if v.capacity_ml is not None:
            row["capacity"] = _text(v.capacity_ml, "volume")
        variants.append(row)
    ambient = [
        {"grade": a.grade, **{k: _text(t, "temperature") for k, t in (("from", a.min_c), ("to", a.max_c)) if t is not None}}
        for a in ambient_of(r)
    ]
    rows = {"variants": variants, "casing_marks": [asdict(m) for m in marks_of(r)], "ambient": ambient}
    rows["kit"] = [asdict(k) for k in kit_items_of(r)]
    return {k: v for k, v in rows.items() if v}


# --- reading ---------------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Converted:
    """An amount that was given in another unit: where, as given, and what it became."""

    field: str
    given: str
    read_as: str


@dataclass(frozen=True)
class Problem:
    """Something in the file that cannot be taken as it is: where, what it was, and why."""

    field: str
    value: str
    text: str


@dataclass(frozen=True)
class Foreign:
    """A field name that is not ours: where it stands (the sheet or a plug), a sample of its value, what it was mapped to before."""

    name: str
    place: str
    sample: str
    ours: str
    known: bool


@dataclass(frozen=True)
class FileReport:
    """A file read for review: the draft of a sheet, and everything that a person must look at before it is written."""

    draft: dict[str, Any]
    blank: tuple[str, ...]
    converted: tuple[Converted, ...]
    implausible: tuple[Doubt, ...]
    problems: tuple[Problem, ...]
    foreign: tuple[Foreign, ...]
    targets: tuple[str, ...]
    plug_targets: tuple[str, ...]


def _parsed(text: str) -> dict[str, Any]:
    if len(text) > MOST_CHARACTERS:
        raise Unreadable("The file is too long for a sheet.", field="text", value=f"{len(text)} characters", allowed=f"{MOST_CHARACTERS}")
    try:
        found = orjson.loads(text)
    except (orjson.JSONDecodeError, RecursionError):
        raise Unreadable("This is not JSON, or it is nested too deep.", field="text", value=text[:40]) from None
    if not isinstance(found, dict):
        raise Unreadable("A sheet file holds one sheet, as an object in braces.", field="text", value=text[:40])
    if found.get("format", FORMAT) != FORMAT:
        raise Inconsistent(
            "This file says that it is something else than a sheet.", field="format", value=str(found["format"])[:40], allowed=FORMAT
        )
    if found.get("version", VERSION) != VERSION:
        raise Inconsistent(
            "This file is of a version that is not known here.", field="version", value=str(found["version"])[:40], allowed=str(VERSION)
        )
    return found


def _mapped(row: dict[str, Any], place: str, ours: tuple[str, ...], kept: dict[str, str], seen: dict[str, Foreign]) -> dict[str, Any]:
    """A row with foreign names replaced by ours where that is known; the others are noted."""
    found: dict[str, Any] = {}
    for name, value in row.items():
        if name in ours or name in HEAD:
            found[name] = value
            continue
        key = f"{place}.{name}"[:60]
        target = kept.get(key)
        seen[key] = Foreign(name[:60], place, str(value)[:60], target or "", target is not None)
        if target:
            found[target] = value
    return found


def read_file(text: str, system: str) -> FileReport:
    """Read a sheet file for review. Raises Unreadable or Inconsistent for a file that is no sheet at all."""
    raw = _parsed(text)
    kept = dict(FieldName.objects.values_list("foreign", "ours"))
    seen: dict[str, Foreign] = {}
    found = _mapped(raw, "sheet", OURS, kept, seen)
    if isinstance(found.get("plugs"), list):
        found["plugs"] = [_mapped(p, "plug", IN_PLUG, kept, seen) for p in found["plugs"][:20] if isinstance(p, dict)]
    problems = [Problem(_path(e), str(e.instance)[:60], _why(e)) for e in _violations(found)]
    bad = {p.field for p in problems}
    converted: list[Converted] = []
    draft = {k: found[k] for k in ("name", "kind", *PLAIN, "sources", "casing_marks", "kit") if k in found and not _touches(bad, k)}
    for name, (column, kind) in AMOUNTS.items():
        if name in found and not _touches(bad, name):
            draft[column] = _amount(found[name], kind, column, system, converted, problems)
    rows = found.get("plugs", []) if isinstance(found.get("plugs"), list) else []
    draft["plugs"] = [_plug_in(p, k, bad, system, converted, problems) for k, p in enumerate(rows)]
    draft["variants"] = list(_variants_in(found, bad, system, converted, problems))
    draft["ambient"] = list(_ambient_in(found, bad, system, converted, problems))
    blank = tuple(words for name, words in WANTED.items() if found.get(name) in (None, "", []))
    plug_targets = tuple(t for t in IN_PLUG)
    return FileReport(draft, blank, tuple(converted), _doubts(draft), tuple(problems), tuple(seen.values()), OURS, plug_targets)


def _violations(found: dict[str, Any]) -> Iterator[jsonschema.ValidationError]:
    whole = {"format": FORMAT, "version": VERSION, "name": "", **found}
    checker = jsonschema.Draft202012Validator(schema())
    return (e for k, e in enumerate(sorted(checker.iter_errors(whole), key=lambda e: [str(p) for p in e.path])) if k < 40)


def _path(error: jsonschema.ValidationError) -> str:
    path = ".".join(str(p) for p in error.path)
    if error.validator == "required":
        missing = next((p for p in error.validator_value if p not in error.instance), "")
        return f"{path}.{missing}".strip(".")
    return path


def _why(error: jsonschema.ValidationError) -> str:
    if error.validator == "enum":
        return "Not one of: " + ", ".join(str(v) for v in error.validator_value) + "."
    if error.validator == "required":
        return "Missing."
    if error.validator == "additionalProperties":
        return "A field that is not known there."
    if error.validator == "anyOf":
        return "Not an amount above zero, such as “2.3 L” or “37 N·m”."
    return f"Does not fit the schema ({error.validator})."


def _touches(bad: set[str], name: str) -> bool:
    return any(b == name or b.startswith(f"{name}.") for b in bad)


def _amount(value: Any, kind: str, at: str, system: str, converted: list[Converted], problems: list[Problem]) -> float | None:
    """An amount with its unit, or a number in the canonical unit."""
    try:
        number = parse_quantity(value if isinstance(value, str) else f"{value:.10g} {_text(0, kind).split()[1]}", kind, system)
    except (CoreError, ValueError, TypeError) as error:
        problems.append(Problem(at, str(value)[:60], str(error)))
        return None
    if isinstance(value, str) and not value.rstrip().endswith(_text(0, kind).split()[1]):
        converted.append(Converted(at, value[:60], format_quantity(number, kind, "metric")))
    return number


def _plug_in(p: dict[str, Any], k: int, bad: set[str], system: str, converted: list[Converted], problems: list[Problem]) -> dict[str, Any]:
    row = {f: p[f] for f in ("role", "label", "drive", "seal", "magnet") if f in p and not _touches(bad, f"plugs.{k}.{f}")}
    for name, column, kind in (("size", "size_mm", "length"), ("torque", "torque_nm", "torque")):
        if p.get(name) is not None and not _touches(bad, f"plugs.{k}.{name}"):
            row[column] = _amount(p[name], kind, f"plugs.{k}.{column}", system, converted, problems)
    row.setdefault("role", "drain" if k else "fill")
    row.setdefault("label", f"plug {k + 1}")
    return row


def _variants_in(found: dict[str, Any], bad: set[str], system: str, converted: list[Converted], problems: list[Problem]) -> Iterator[dict]:
    for k, v in enumerate(found.get("variants", []) if not _touches(bad, "variants") else []):
        at = f"variants.{k}"
        row = {f: v.get(f, "") for f in ("name", "mark", "grade", "categories")}
        row["capacity_ml"] = _amount(v["capacity"], "volume", f"{at}.capacity_ml", system, converted, problems) if "capacity" in v else None
        row["heads"] = [
            {
                "plug": h["plug"],
                "drive": h.get("drive", "unknown"),
                "size_mm": _amount(h["size"], "length", f"{at}.heads.{i}.size_mm", system, converted, problems) if "size" in h else None,
                "torque_nm": _amount(h["torque"], "torque", f"{at}.heads.{i}.torque_nm", system, converted, problems)
                if "torque" in h
                else None,
            }
            for i, h in enumerate(v.get("heads", []))
        ]
        yield row


def _ambient_in(found: dict[str, Any], bad: set[str], system: str, converted: list[Converted], problems: list[Problem]) -> Iterator[dict]:
    for k, a in enumerate(found.get("ambient", []) if not _touches(bad, "ambient") else []):
        ends = {
            column: _amount(a[name], "temperature", f"ambient.{k}.{column}", system, converted, problems) if name in a else None
            for name, column in (("from", "min_c"), ("to", "max_c"))
        }
        yield {"grade": a["grade"], **ends}


def _doubts(draft: dict[str, Any]) -> tuple[Doubt, ...]:
    if draft.get("kind") not in COMPARTMENT_KINDS:
        return ()
    plugs = tuple(
        Plug(p["role"], p["label"], p.get("drive", "unknown"), p.get("size_mm"), p.get("seal", "unknown"), p.get("torque_nm"))
        for p in draft["plugs"]
    )
    sheet = Sheet(
        draft["kind"],
        requirement(SheetRevision(sheet=SpecSheet(kind=draft["kind"]), family="gear")),
        draft.get("capacity_ml"),
        "",
        "",
        plugs,
    )
    return doubts(sheet, draft.get("interval_km"), draft.get("interval_months"))


@dataclass(frozen=True)
class Naming:
    """What a foreign field name means: ``place`` sheet or plug; ``ours`` empty to leave it out."""

    name: str
    place: str
    ours: str


@transaction.atomic
def keep_names(by: Person, names: tuple[Naming, ...]) -> int:
    """Keep what foreign field names mean, so that the next file in that language is read at once."""
    require(by, "lead")
    for k, n in enumerate(names):
        allowed = OURS if n.place == "sheet" else IN_PLUG if n.place == "plug" else ()
        if n.ours and n.ours not in allowed:
            raise Inconsistent(
                f"“{n.ours}” is not a field of a {n.place}.", field=f"names.{k}.ours", value=n.ours, allowed=", ".join(allowed)
            )
        row, _ = FieldName.objects.update_or_create(
            foreign=f"{n.place}.{n.name}"[:60], defaults={"ours": n.ours, "by": by, "at": clock.now()}
        )
        audit(by, "field name kept", row, (), ours=n.ours)
    return len(names)
