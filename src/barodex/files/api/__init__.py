"""Files in and out over HTTP."""

from .imports import Import, ImportExample, ImportMapping, ImportProgress, ImportRows, Imports, TakeIn, UndoImport
from .small import HistoryFile, ReadingsFile, ShoppingFile
from .vehicle import VehicleFile, VehicleFileSchema, VehiclePreviewed, VehicleTake
from .whole import WholeBook, WholeBookBack, WholeBookSize

__all__ = [
    "HistoryFile",
    "Import",
    "ImportExample",
    "ImportMapping",
    "ImportProgress",
    "ImportRows",
    "Imports",
    "ReadingsFile",
    "ShoppingFile",
    "TakeIn",
    "UndoImport",
    "VehicleFile",
    "VehicleFileSchema",
    "VehiclePreviewed",
    "VehicleTake",
    "WholeBook",
    "WholeBookBack",
    "WholeBookSize",
]
