"""What a column of a spreadsheet may be, and which it is by its heading: in several languages, whatever its unit."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Wanted:
    """A figure that a column may hold: what it is called, its kind (text, day, choice or a quantity), and headings that mean it."""

    label: str
    kind: str
    of: str
    means: tuple[str, ...]


WANTED: dict[str, Wanted] = {
    "vehicle": Wanted(
        "Vehicle",
        "text",
        "vehicle",
        ("vehicle", "machine", "car", "fahrzeug", "auto", "wagen", "vehicule", "vehiculo", "voertuig", "veicolo"),
    ),
    "plate": Wanted(
        "Plate",
        "text",
        "vehicle",
        ("plate", "registration", "reg", "reg no", "number plate", "kennzeichen", "immatriculation", "matricula", "kenteken", "targa"),
    ),
    "vehicle_kind": Wanted(
        "Kind of vehicle", "text", "vehicle", ("vehicle type", "type of vehicle", "fahrzeugart", "fahrzeugtyp", "kind of vehicle")
    ),
    "compartment": Wanted(
        "Compartment",
        "text",
        "compartment",
        ("compartment", "unit", "component", "gear unit", "aggregat", "baugruppe", "organe", "organo", "componente", "onderdeel"),
    ),
    "kind": Wanted("Kind of compartment", "text", "compartment", ("compartment type", "kind of compartment", "bauart")),
    "capacity_ml": Wanted(
        "Capacity",
        "volume",
        "compartment",
        ("capacity", "fill capacity", "holds", "fullmenge", "contenance", "capacidad", "inhoud", "capacita"),
    ),
    "grade": Wanted(
        "Grade it asks for",
        "text",
        "compartment",
        ("grade", "required grade", "spec", "specification", "spezifikation", "viscosity", "viskositat"),
    ),
    "interval_km": Wanted(
        "Interval, distance", "distance", "compartment", ("interval", "interval km", "every", "intervall", "intervalle", "intervalo")
    ),
    "interval_months": Wanted("Interval, months", "count", "compartment", ("interval months", "months", "monate", "mois", "meses")),
    "on": Wanted(
        "Day",
        "day",
        "change",
        ("date", "day", "changed on", "done on", "datum", "fecha", "data", "jour", "am", "last change", "letzter wechsel"),
    ),
    "meter": Wanted(
        "Meter",
        "meter",
        "reading",
        (
            "odometer",
            "mileage",
            "meter",
            "reading",
            "km",
            "miles",
            "hours",
            "kilometerstand",
            "km stand",
            "tachostand",
            "stunden",
            "kilometrage",
            "kilometraje",
            "stand",
        ),
    ),
    "oil": Wanted(
        "Oil", "text", "oil", ("oil", "oil used", "lubricant", "fluid", "ol", "oel", "huile", "aceite", "olie", "olio", "schmierstoff")
    ),
    "drained_ml": Wanted(
        "Came out", "volume", "change", ("drained", "came out", "out", "abgelassen", "ablass", "vidange", "drenado", "afgetapt")
    ),
    "poured_ml": Wanted(
        "Went in",
        "volume",
        "change",
        (
            "filled",
            "poured",
            "went in",
            "in",
            "quantity",
            "qty",
            "amount",
            "litres",
            "liters",
            "eingefullt",
            "menge",
            "quantite",
            "cantidad",
            "hoeveelheid",
        ),
    ),
    "note": Wanted(
        "Note",
        "text",
        "change",
        ("note", "notes", "remark", "remarks", "comment", "bemerkung", "anmerkung", "remarque", "nota", "opmerking"),
    ),
    "family": Wanted("Family of the oil", "text", "oil", ("family", "oil family", "oil type", "olart", "type d huile")),
    "oil_grade": Wanted("Grade of the oil", "text", "oil", ("sae", "sae grade", "oil grade", "olviskositat")),
    "categories": Wanted("API categories of the oil", "text", "oil", ("api", "gl", "api category")),
    "container": Wanted(
        "Container", "text", "container", ("container", "bottle", "drum", "can", "gebinde", "fass", "kanister", "bidon", "envase")
    ),
    "size_ml": Wanted("Its size", "volume", "container", ("size", "pack", "pack size", "gebindegrosse", "taille")),
    "content_ml": Wanted("What is in it", "volume", "container", ("content", "left", "rest", "in stock", "stock", "bestand", "voorraad")),
}
UNITS: dict[str, tuple[str, ...]] = {
    "mL": ("ml", "cc", "ccm"),
    "L": ("l", "litre", "litres", "liter", "liters", "litros"),
    "US qt": ("qt", "qts", "us qt", "quart", "quarts"),
    "US pt": ("us pt",),
    "imp pt": ("pt", "pint", "pints", "imp pt"),
    "US gal": ("us gal", "gal", "gallon", "gallons"),
    "imp gal": ("imp gal",),
    "fl oz": ("us fl oz", "oz", "fl oz"),
    "km": ("km", "kms", "kilometer", "kilometres"),
    "mi": ("mi", "mile", "miles"),
    "h": ("h", "hr", "hrs", "hour", "hours", "std", "stunden", "bh"),
}
UNIT_OF = {word: unit for unit, words in UNITS.items() for word in words}
OF_KIND = {
    "volume": ("mL", "L", "US qt", "US pt", "imp pt", "US gal", "imp gal", "fl oz"),
    "distance": ("km", "mi"),
    "meter": ("km", "mi", "h"),
}


def plain(text: str) -> str:
    """Letters and digits of a heading, without accents and case, words apart by one space."""
    apart = unicodedata.normalize("NFKD", text.casefold().replace("ß", "ss"))
    kept = "".join(c if c.isalnum() else " " for c in apart if not unicodedata.combining(c))
    return " ".join(kept.split())


_IN_BRACKETS = re.compile(r"[(\[{]([^)\]}]*)[)\]}]")


def unit_in(heading: str, kind: str) -> str:
    """The unit that a heading names, where it is one of its kind; empty otherwise."""
    words = [plain(w) for w in _IN_BRACKETS.findall(heading)]
    bare = plain(_IN_BRACKETS.sub(" ", heading)).split()
    words += [" ".join(bare[-2:]), *bare[-1:]] if bare else []
    return next((UNIT_OF[w] for w in words if UNIT_OF.get(w) in OF_KIND.get(kind, ())), "")


def guessed(headings: Iterable[str]) -> dict[str, str]:
    """Which heading holds what: as it is called, else as one of its words is; each figure once, the first heading first."""
    found: dict[str, str] = {}
    said = [(h, plain(_IN_BRACKETS.sub(" ", h))) for h in headings]
    for fits in (
        lambda name, word: name == word,
        lambda name, word: name.startswith(f"{word} "),
        lambda name, word: len(word) > 2 and word in name.split(),
    ):
        for heading, name in said:
            if heading in found.values():
                continue
            figure = next((f for f, w in WANTED.items() if f not in found and any(fits(name, m) for m in w.means)), None)
            if figure:
                found[figure] = heading
    return found


def kept_mapping(mapping: Mapping[str, str], headings: Iterable[str]) -> dict[str, str]:
    """What of a mapping that was kept fits these headings."""
    here = {plain(h): h for h in headings}
    return {figure: here[plain(h)] for figure, h in mapping.items() if figure in WANTED and plain(h) in here}
