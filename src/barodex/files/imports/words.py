"""What people call compartments and vehicles, in several languages, and what each is; common practice."""

from __future__ import annotations

from barodex.core.kinds.kind import KIND_TABLE
from barodex.fleet.models import USUAL, VEHICLE_KINDS

from .columns import plain

# words in the name of a compartment that say where it is; else it is where its kind usually is
_PLACES: tuple[tuple[tuple[str, ...], str], ...] = (
    (("front", "vorder", "avant", "delantero", "voor", "anteriore"), "front axle"),
    (("middle", "mittel", "second", "central", "centrale"), "middle axle"),
    (("rear", "hinter", "arriere", "trasero", "achter", "posteriore"), "rear axle"),
)
_AXLES = tuple(place for _, place in _PLACES)
_VEHICLES: tuple[tuple[tuple[str, ...], str], ...] = (
    (("snow machine", "sled", "schneemobil", "snowmobile"), "snow machine"),
    (("truck", "lorry", "lkw", "camion"), "truck"),
    (("van", "transporter", "kastenwagen", "fourgon", "furgoneta"), "van"),
    (("4x4", "suv", "offroader", "gelandewagen"), "4x4"),
    (("motorcycle", "motorrad", "moto", "motorbike"), "motorcycle"),
    (("bicycle", "fahrrad", "velo", "bike"), "bicycle"),
    (("boat", "boot", "launch", "bateau", "barco"), "boat"),
    (("bus", "coach"), "bus"),
    (("car", "auto", "pkw", "wagen", "coupe", "hatchback", "estate"), "car"),
)
_TOTALS = ("total", "totals", "sum", "summe", "gesamt", "somme", "totaal", "totale", "subtotal", "zwischensumme")


def compartment_by(words: str) -> tuple[str, str]:
    """The kind of compartment that words mean by the longest of its names in them, and its place; empty where they mean none."""
    said = plain(words)
    named = [(len(name), kind) for kind in KIND_TABLE for name in (plain(kind.name), *kind.called) if f" {name}" in f" {said}"]
    if not named:
        return "", ""
    kind = max(named, key=lambda n: n[0])[1]
    here = next((place for signs, place in _PLACES if kind.place in _AXLES and any(s in said for s in signs)), kind.place)
    return kind.name, here


def vehicle_by(*words: str) -> str:
    """The kind of vehicle that words mean, the first that do; empty where none does."""
    for said in filter(None, map(plain, words)):
        kind = said if said in VEHICLE_KINDS else next((k for names, k in _VEHICLES if any(f" {n} " in f" {said} " for n in names)), "")
        if kind:
            return kind
    return ""


def usual_meter(kind: str) -> str:
    """What the meter of a kind of vehicle counts."""
    return USUAL[kind][1] if kind in USUAL else "km"


def is_total(first: str) -> bool:
    """Whether a row is a sum of those above it."""
    said = plain(first)
    return said in _TOTALS or said.split()[:1] in ([t] for t in _TOTALS)
