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
from barodex.core.oil.lubricant import AmbientGrade
from barodex.core.quantity.errors import CoreError, Inconsistent, Unreadable
from barodex.core.quantity.quantity import format_quantity, parse_quantity
from barodex.core.sheet.figures import QUANTITIES, Declared, declared
from barodex.core.sheet.kit import KitItem
from barodex.core.sheet.plausible import Doubt, doubts
from barodex.core.sheet.sheet import CasingMark, Head, Plug, Variant, asked_by, sheet_of
from barodex.core.words import say

from .models import FieldName, SheetRevision, SpecSheet
from .queries import ambient_of, current_revision, kit_items_of, marks_of, variants_of
from .queries.sheets import Backing, Content, PlugView

FORMAT, VERSION = "barodex-sheet", 1
MOST_CHARACTERS = 200_000
ROWS = ("plugs", "variants", "casing_marks", "ambient", "kit", "sources")
HEAD = ("format", "version", "name", "kind")
IN_PLUG = ("role", "label", "drive", "size", "seal", "torque", "magnet")
BY_FILE = {of.in_file: of for of in declared().values()}
OURS = (*HEAD[2:], *BY_FILE, *ROWS)
# what a technician would look for first; listed when a file leaves it out
WANTED = {
    "capacity": "service capacity",
    "grade": "grade",
    "categories": "API categories",
    "interval_distance": say("interval by distance"),
}
WANTED |= {
    "interval_months": say("interval by months"),
    "yellow_metal": say("brass inside or not"),
    "plugs": say("plugs with seal and torque"),
}


@functools.cache
def schema() -> dict[str, Any]:
    """The published JSON Schema of a sheet file: the rows as they stand beside this file, the scalar figures as they are declared."""
    frame = json.loads(importlib.resources.files(__package__).joinpath("sheet.schema.json").read_text("utf-8"))
    frame["properties"] |= {name: _property(of) for name, of in BY_FILE.items()}
    return frame


AMOUNT_WORDS = say('an amount with its unit, such as "2.3 L" or "27 lbf·ft"; a bare number is in mL, km, h, N·m, mm or °C')


def _property(of: Declared) -> dict[str, Any]:
    """The JSON Schema of a figure."""
    meaning = of.meaning
    if meaning.kind in QUANTITIES and meaning.low > 0:
        above_zero = {"type": "number", "exclusiveMinimum": 0}
        return {"anyOf": [{"type": "string", "maxLength": 60}, above_zero], "description": AMOUNT_WORDS}
    if meaning.kind in QUANTITIES:
        return {"description": AMOUNT_WORDS, "type": ["string", "number"], "maxLength": 60}
    if meaning.kind in ("minutes", "months", "count"):
        number = "number" if meaning.kind == "minutes" else "integer"
        return {"type": number, "minimum": int(meaning.low), "maximum": int(meaning.high)}
    alone = {"enum": list(meaning.choices)} if meaning.choices else {"type": "string", "maxLength": meaning.longest}
    if meaning.several:
        return {"type": "array", "items": alone, "maxItems": meaning.most}
    if meaning.kind == "three":
        alone = {"type": ["boolean", "null"]}
    elif meaning.kind == "flag":
        alone = {"type": "boolean"}
    return alone | ({"description": meaning.about} if meaning.about else {})


def write_file(sheet_id: int) -> dict[str, Any]:
    """The newest revision of a sheet as a file, amounts with their units; raises SpecSheet.DoesNotExist."""
    sheet = SpecSheet.objects.get(pk=sheet_id)
    r = current_revision(sheet.revisions.prefetch_related("plugs", "sources"), clock.today())
    found: dict[str, Any] = {"format": FORMAT, "version": VERSION, "name": sheet.name, "kind": sheet.kind}
    for name, of in BY_FILE.items():
        value = getattr(r, of.name)
        if value not in (None, "", []):
            found[name] = _text(value, of.meaning.kind) if of.meaning.kind in QUANTITIES else value
    found["plugs"] = [_plug_out(p) for p in r.plugs.all()]
    found |= _rows_out(r)
    found["sources"] = [{"figure": s.figure, "source": s.source, "trust": s.trust, "note": s.note} for s in r.sources.all()]
    return found


def _text(value: float, kind: str) -> str:
    """An amount in its canonical unit, exactly: a file loses nothing."""
    return f"{value:.10g} {QUANTITIES[kind]}"


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


@dataclass(frozen=True, kw_only=True)
class Draft(Content):
    """A sheet as a file has it, for the form: what the file leaves out stands as unknown."""

    name: str
    kind: str
    sources: tuple[Backing, ...]


@dataclass(frozen=True)
class FileReport:
    """A file read for review: the draft of a sheet, and everything that a person must look at before it is written."""

    draft: Draft
    blank: tuple[str, ...]
    converted: tuple[Converted, ...]
    implausible: tuple[Doubt, ...]
    problems: tuple[Problem, ...]
    foreign: tuple[Foreign, ...]
    targets: tuple[str, ...]
    plug_targets: tuple[str, ...]


def _parsed(text: str) -> dict[str, Any]:
    if len(text) > MOST_CHARACTERS:
        raise Unreadable(
            say("The file is too long for a sheet."),
            field="text",
            value=say("{text} characters", text=len(text)),
            allowed=f"{MOST_CHARACTERS}",
        )
    try:
        found = orjson.loads(text)
    except (orjson.JSONDecodeError, RecursionError):
        raise Unreadable(say("This is not JSON, or it is nested too deep."), field="text", value=text[:40]) from None
    if not isinstance(found, dict):
        raise Unreadable(say("A sheet file holds one sheet, as an object in braces."), field="text", value=text[:40])
    if found.get("format", FORMAT) != FORMAT:
        raise Inconsistent(
            say("This file says that it is something else than a sheet."), field="format", value=str(found["format"])[:40], allowed=FORMAT
        )
    if found.get("version", VERSION) != VERSION:
        raise Inconsistent(
            say("This file is of a version that is not known here."),
            field="version",
            value=str(found["version"])[:40],
            allowed=str(VERSION),
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
    draft = _draft(found, bad, _Amounts(system, converted, problems))
    blank = tuple(words for name, words in WANTED.items() if found.get(name) in (None, "", []))
    plug_targets = tuple(t for t in IN_PLUG)
    return FileReport(
        draft,
        blank,
        tuple(converted),
        _doubts(draft) if draft.kind == found.get("kind") else (),
        tuple(problems),
        tuple(seen.values()),
        OURS,
        plug_targets,
    )


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
        return say("Not one of: ") + ", ".join(str(v) for v in error.validator_value) + "."
    if error.validator == "required":
        return "Missing."
    if error.validator == "additionalProperties":
        return say("A field that is not known there.")
    if error.validator == "anyOf":
        return say("Not an amount above zero, such as “2.3 L” or “37 N·m”.")
    return say("Does not fit the schema ({validator}).", validator=error.validator)


def _touches(bad: set[str], name: str) -> bool:
    return any(b == name or b.startswith(f"{name}.") for b in bad)


@dataclass(frozen=True)
class _Amounts:
    """Reads amounts, noting what was converted and what cannot be taken."""

    system: str
    converted: list[Converted]
    problems: list[Problem]

    def read(self, value: Any, kind: str, at: str) -> float | None:
        """An amount with its unit, or a number in the canonical unit."""
        try:
            number = parse_quantity(value if isinstance(value, str) else _text(value, kind), kind, self.system)
        except (CoreError, ValueError, TypeError) as error:
            self.problems.append(Problem(at, str(value)[:60], str(error)))
            return None
        if isinstance(value, str) and not value.rstrip().endswith(QUANTITIES[kind]):
            self.converted.append(Converted(at, value[:60], format_quantity(number, kind, "metric")))
        return number

    def at(self, row: dict[str, Any], name: str, kind: str, at: str) -> float | None:
        """The amount of a row, where it has one."""
        return self.read(row[name], kind, at) if row.get(name) is not None else None


def _draft(found: dict[str, Any], bad: set[str], amounts: _Amounts) -> Draft:
    """The draft of a sheet from what can be taken of a file."""
    taken = {name: value for name, value in found.items() if not _touches(bad, name)}
    scalars: dict[str, Any] = {}
    for name, of in BY_FILE.items():
        value = taken.get(name)
        if of.meaning.kind in QUANTITIES:
            scalars[of.name] = amounts.at(taken, name, of.meaning.kind, of.name)
        elif value is None:
            scalars[of.name] = of.meaning.choices[0] if of.asked else of.default
        else:
            scalars[of.name] = tuple(value) if of.meaning.several else value
    rows = found.get("plugs", []) if isinstance(found.get("plugs"), list) else []
    return Draft(
        **scalars,
        name=taken.get("name", ""),
        kind=taken.get("kind", COMPARTMENT_KINDS[0]),
        plugs=tuple(_plug_in(p, k, bad, amounts) for k, p in enumerate(rows)),
        variants=tuple(_variant_in(v, f"variants.{k}", amounts) for k, v in enumerate(taken.get("variants", []))),
        ambient=tuple(
            AmbientGrade(
                a["grade"],
                amounts.at(a, "from", "temperature", f"ambient.{k}.min_c"),
                amounts.at(a, "to", "temperature", f"ambient.{k}.max_c"),
            )
            for k, a in enumerate(taken.get("ambient", []))
        ),
        casing_marks=tuple(CasingMark(**m) for m in taken.get("casing_marks", [])),
        kit=tuple(KitItem(**k) for k in taken.get("kit", [])),
        sources=tuple(Backing(s["figure"], s["source"], s["trust"], s.get("note", "")) for s in taken.get("sources", [])),
    )


def _plug_in(p: dict[str, Any], k: int, bad: set[str], amounts: _Amounts) -> PlugView:
    at = f"plugs.{k}"
    row = {name: value for name, value in p.items() if not _touches(bad, f"{at}.{name}")}
    return PlugView(
        row.get("role", "drain" if k else "fill"),
        row.get("label", f"plug {k + 1}"),
        row.get("drive", "unknown"),
        amounts.at(row, "size", "length", f"{at}.size_mm"),
        row.get("seal", "unknown"),
        amounts.at(row, "torque", "torque", f"{at}.torque_nm"),
        row.get("magnet", False),
    )


def _variant_in(v: dict[str, Any], at: str, amounts: _Amounts) -> Variant:
    heads = tuple(
        Head(
            h["plug"],
            h.get("drive", "unknown"),
            amounts.at(h, "size", "length", f"{at}.heads.{i}.size_mm"),
            amounts.at(h, "torque", "torque", f"{at}.heads.{i}.torque_nm"),
        )
        for i, h in enumerate(v.get("heads", []))
    )
    capacity_ml = amounts.at(v, "capacity", "volume", f"{at}.capacity_ml")
    return Variant(v["name"], v.get("mark", ""), capacity_ml, v.get("grade", ""), v.get("categories", ""), heads)


def _doubts(draft: Draft) -> tuple[Doubt, ...]:
    plugs = tuple(Plug(p.role, p.label, p.drive, p.size_mm, p.seal, p.torque_nm) for p in draft.plugs)
    sheet = sheet_of(draft.kind, draft, asked_by(draft.kind, draft), plugs)
    return doubts(sheet, draft.interval_km, draft.interval_months)


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
                say("“{ours}” is not a field of a {place}.", ours=n.ours, place=n.place),
                field=f"names.{k}.ours",
                value=n.ours,
                allowed=", ".join(allowed),
            )
        row, _ = FieldName.objects.update_or_create(
            foreign=f"{n.place}.{n.name}"[:60], defaults={"ours": n.ours, "by": by, "at": clock.now()}
        )
        audit(by, "field name kept", row, (), ours=n.ours)
    return len(names)
