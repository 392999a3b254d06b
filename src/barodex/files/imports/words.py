"""What people call compartments and vehicles, in several languages, and what each is; common practice."""

from __future__ import annotations

from barodex.core.kinds.kind import COMPARTMENT_KINDS, kind_of
from barodex.fleet.models import SLOTS, USUAL, VEHICLE_KINDS

from .columns import plain

# words, kind, place in the driveline; the first that fits counts
_COMPARTMENTS: tuple[tuple[tuple[str, ...], str, str], ...] = (
    (("supercharger", "blower", "kompressor", "compresseur"), "supercharger", "supercharger"),
    (("clutch type transfer", "clutch transfer case"), "clutch transfer case", "transfer case"),
    (("transfer", "verteiler", "boite de transfert", "reductora"), "transfer case", "transfer case"),
    (("electronic diff", "e diff", "coupling", "haldenkupplung", "electronic differential"), "electronic differential", "rear axle"),
    (("front axle", "front diff", "vorderachse", "pont avant", "eje delantero"), "axle", "front axle"),
    (("middle axle", "mittelachse", "second axle"), "axle", "middle axle"),
    (("rear axle", "rear diff", "hinterachse", "pont arriere", "eje trasero", "achterachse"), "axle", "rear axle"),
    (("transaxle",), "transaxle", "transaxle"),
    (("dual clutch", "dct", "doppelkupplung"), "dual-clutch", "gearbox"),
    (("automatic", "automatik", "auto box", "autobox", "auto gearbox", "boite auto"), "automatic", "gearbox"),
    (("marine", "wendegetriebe", "boat gearbox", "reversing gear"), "marine gearbox", "marine gearbox"),
    (("hub", "nabe", "moyeu"), "hub gear", "hub gear"),
    (("chain case", "chaincase", "kettenkasten", "carter de chaine"), "chain case", "chain case"),
    (("bevel", "final drive", "kardan", "winkelgetriebe", "shaft drive"), "bevel drive", "bevel drive"),
    (("gearbox", "getriebe", "transmission", "boite", "caja", "cambio", "versnellingsbak", "schaltgetriebe"), "manual gearbox", "gearbox"),
    (("axle", "achse", "diff", "differential", "pont"), "axle", "rear axle"),
)
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
    """The kind of compartment that words mean, and its place; empty where they mean none."""
    said = plain(words)
    if said in COMPARTMENT_KINDS:
        return said, next((slot for _, kind, slot in _COMPARTMENTS if kind == said), SLOTS[0])
    padded = f" {said} "
    return next(
        ((kind, slot) for names, kind, slot in _COMPARTMENTS if any(f" {n}" in padded or n in said.split() for n in names)), ("", "")
    )


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


def family_of(kind: str) -> str:
    """The family of oil that a kind of compartment usually takes."""
    return kind_of(kind).family
