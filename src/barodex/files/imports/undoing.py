"""An import taken back as a whole, until something stands on what it made."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Sequence

from django.apps import apps
from django.db.models import Model

from barodex.accounts.models import Person
from barodex.bay.models import Service
from barodex.book.models import ConsequenceRow, Correction, LedgerRow, OilRecord, ServicePhoto
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say
from barodex.fleet.models import Box, Compartment, CompartmentRule, CounterReading, Fitting, Reading, Vehicle
from barodex.shelf.models import Container, FigureSource, Lubricant, Pack, Plug, SheetRevision, SourceClaim, SpecSheet, StockMovement

# What belongs to a row and goes with it, by the model that it belongs to.
PARTS: dict[type[Model], tuple[tuple[type[Model], str], ...]] = {
    OilRecord: ((ConsequenceRow, "record"), (LedgerRow, "record")),
    Compartment: ((Fitting, "compartment"),),
    Lubricant: ((Pack, "lubricant"),),
    Container: ((StockMovement, "container"),),
    SpecSheet: ((SheetRevision, "sheet"),),
    SheetRevision: ((Plug, "revision"), (FigureSource, "revision")),
}
ORDER: tuple[type[Model], ...] = (OilRecord, Reading, Container, Compartment, Vehicle, Lubricant, SpecSheet)
WORDS = {
    "bay.Service": "a service",
    "bay.ServiceJob": "a service",
    "plan.PlannedVisit": say("an agreed visit"),
    "book.OilRecord": say("a record that was written since"),
    "book.Correction": "a correction",
    "fleet.Reading": say("a reading that was written since"),
    "fleet.Compartment": say("a compartment that was added since"),
    "shelf.Container": say("a container that was put on the shelf since"),
    "shelf.SheetRevision": say("a revision of a sheet"),
    "shelf.SourceClaim": say("what another source says"),
    "fleet.CompartmentRule": say("a rule that was set"),
}
MANY = 500  # ids asked at once


def _slices(ids: Sequence[int]) -> Iterable[list[int]]:
    for k in range(0, len(ids), MANY):
        yield ids[k : k + MANY]


def everything_of(made: dict[str, list[int]]) -> dict[type[Model], set[int]]:
    """What an import made, with what belongs to it."""
    found: dict[type[Model], set[int]] = {apps.get_model(name): set(ids) for name, ids in made.items()}
    boxes = {
        pk
        for ids in _slices(sorted(found.get(Compartment, ())))
        for pk in Compartment.objects.filter(pk__in=ids).values_list("box", flat=True)
    }
    found[Box] = found.get(Box, set()) | boxes
    for owner in (OilRecord, Compartment, Lubricant, Container, SpecSheet, SheetRevision):
        for part, name in PARTS.get(owner, ()):
            if part._meta.label in made:  # it says itself which of them it brought: one more was written since
                continue
            ids = {
                pk
                for some in _slices(sorted(found.get(owner, ())))
                for pk in part._base_manager.filter(**{f"{name}__in": some}).values_list("pk", flat=True)
            }
            found[part] = found.get(part, set()) | ids
    return found


def refuse_if_something_stands_on_it(found: dict[type[Model], set[int]], made: dict[str, list[int]], since: dt.datetime) -> None:
    """Refuse where another row of the book refers to one that would go, or one was changed since the import."""
    later = {"done_at__gt": since} if ConsequenceRow._meta.label in made else {"done_at__isnull": False}  # a file brings closed ones
    if any(ConsequenceRow.everything.filter(pk__in=ids, **later).exists() for ids in _slices(sorted(found.get(ConsequenceRow, ())))):
        raise Inconsistent(say("Something that follows from a change of this import was closed since: it stays."), field="import", value="")
    own = () if SheetRevision._meta.label in made else sorted(found.get(SheetRevision, ()))
    if any(SheetRevision.objects.filter(pk__in=ids, number__gt=1).exists() for ids in _slices(own)):
        raise Inconsistent(say("A sheet of this import was revised since: it stays."), field="import", value="")
    if any(StockMovement.objects.filter(container=pk).count() > 1 for pk in found.get(Container, ())):
        raise Inconsistent(say("Oil was taken out of a container of this import since: it stays."), field="import", value="")
    for model, ids in found.items():
        for relation in model._meta.related_objects:
            other, name = relation.related_model, relation.field.name
            own = found.get(other, set())
            for some in _slices(sorted(ids)):
                standing = set(other._base_manager.filter(**{f"{name}__in": some}).values_list("pk", flat=True)) - own
                if standing:
                    label = other._meta.label
                    what = WORDS.get(label, f"something ({other._meta.verbose_name})")
                    raise Inconsistent(
                        say("{what} stands on what this import brought: it stays.", what=what.capitalize()), field="import", value=label
                    )


def vehicles_of(found: dict[type[Model], set[int]]) -> set[int]:
    """The vehicles that an import touched."""
    touched = set(found.get(Vehicle, ()))
    for model, name in ((OilRecord, "compartment__vehicle"), (Reading, "vehicle")):
        for some in _slices(sorted(found.get(model, ()))):
            touched |= set(model._base_manager.filter(pk__in=some).values_list(name, flat=True))
    return touched


def take_out(found: dict[type[Model], set[int]]) -> None:
    """Take the rows out, those first that stand on others."""
    written = (ServicePhoto, ConsequenceRow, Correction, LedgerRow, OilRecord, Service, Reading, CounterReading, CompartmentRule)
    there = (Fitting, StockMovement, Container, Compartment, Box, Vehicle, Pack, Lubricant)
    for model in (*written, *there, SourceClaim, Plug, FigureSource, SheetRevision, SpecSheet, Person):
        for some in _slices(sorted(found.get(model, ()))):
            rows = model._base_manager.filter(pk__in=some)
            rows._raw_delete(rows.db)
