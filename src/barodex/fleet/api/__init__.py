"""Vehicles, compartments, rules, readings and bottles that ride along, over HTTP."""

from barodex.fleet.api.carrying import Carry
from barodex.fleet.api.life import Boxes, Fittings, OneVehicle, OtherBox, Place, Retire, Retired
from barodex.fleet.api.readings import Counter, Readings, VoidReading
from barodex.fleet.api.rules import CompartmentRule
from barodex.fleet.api.vehicles import Compartments, Vehicles, VehicleSeason, VehicleUse, Vocabularies

__all__ = [
    "Boxes",
    "Carry",
    "CompartmentRule",
    "Compartments",
    "Counter",
    "Fittings",
    "OneVehicle",
    "OtherBox",
    "Place",
    "Readings",
    "Retire",
    "Retired",
    "VehicleSeason",
    "VehicleUse",
    "Vehicles",
    "Vocabularies",
    "VoidReading",
]
