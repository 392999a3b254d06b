"""Two revisions of a sheet side by side."""

from __future__ import annotations

from dataclasses import dataclass

from barodex.core.quantity.quantity import format_quantity
from barodex.core.quantity.working import figure
from barodex.core.sheet.claims import Changed, what_changed
from barodex.core.sheet.figures import declared
from barodex.core.words import say
from barodex.shelf.models import SheetRevision
from barodex.shelf.queries.figures import figure_text
from barodex.shelf.queries.sheets import variants_of


@dataclass(frozen=True)
class Comparison:
    """Two revisions of a sheet: what changed between them."""

    older: int
    newer: int
    reason: str
    changes: tuple[Changed, ...]


def _words_of(r: SheetRevision, system: str) -> dict[str, str]:
    def amount(value: float | None, kind: str) -> str:
        return "" if value is None else format_quantity(value, kind, system)

    words = {of.meaning.label: figure_text(of, getattr(r, name), system) for name, of in declared().items()}
    for p in r.plugs.all():
        key = say("{size_mm} mm {drive}", size_mm=figure(p.size_mm, 1), drive=p.drive) if p.size_mm else p.drive
        words[p.label] = f"{key}, {p.seal}, {amount(p.torque_nm, 'torque') or 'torque unknown'}" + (", magnet" if p.magnet else "")
    for v in variants_of(r):
        words[f"variant {v.name}"] = ", ".join(filter(None, (v.mark, amount(v.capacity_ml, "volume"), v.grade, v.categories)))
    for s in r.sources.all():
        words[f"source of {s.figure}"] = f"{s.source}, {s.trust}"
    return words


def compare(sheet_id: int, older: int, newer: int, system: str) -> Comparison:
    """What changed from one revision to another; raises SheetRevision.DoesNotExist."""
    rows = {
        r.number: r for r in SheetRevision.objects.filter(sheet_id=sheet_id, number__in=(older, newer)).prefetch_related("plugs", "sources")
    }
    if older not in rows or newer not in rows:
        raise SheetRevision.DoesNotExist
    return Comparison(older, newer, rows[newer].reason, what_changed(_words_of(rows[older], system), _words_of(rows[newer], system)))
