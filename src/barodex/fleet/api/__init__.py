"""Vehicles, compartments, rules, readings and bottles that ride along, over HTTP."""

from barodex.fleet.api.carrying import Carry
from barodex.fleet.api.readings import Counter, Readings, VoidReading
from barodex.fleet.api.rules import CompartmentRule
from barodex.fleet.api.vehicles import Compartments, Vehicles, VehicleSeason, VehicleUse, Vocabularies

__all__ = [
    "Carry",
    "CompartmentRule",
    "Compartments",
    "Counter",
    "Readings",
    "VehicleSeason",
    "VehicleUse",
    "Vehicles",
    "Vocabularies",
    "VoidReading",
]
