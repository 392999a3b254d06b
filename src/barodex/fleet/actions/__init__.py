"""Changes of vehicles, compartments, their rules, readings, and the bottles that ride along: one function a change."""

from barodex.fleet.actions.boxes import OtherBox, fit_box
from barodex.fleet.actions.carrying import carry
from barodex.fleet.actions.life import (
    Called,
    bring_back,
    called,
    delete_vehicle,
    edit_compartment,
    edit_vehicle,
    remove_compartment,
    retire,
)
from barodex.fleet.actions.readings import (
    add_reading,
    check_duty,
    check_new_reading,
    mark_void,
    neighbours,
    parse_duty,
    replace_reading,
    void_reading,
)
from barodex.fleet.actions.rules import set_rule
from barodex.fleet.actions.vehicles import (
    CompartmentSpec,
    Use,
    VehicleSpec,
    add_compartment,
    add_vehicle,
    answer_season,
    read_counter,
    set_use,
    use_of,
)

__all__ = [
    "Called",
    "CompartmentSpec",
    "OtherBox",
    "Use",
    "VehicleSpec",
    "add_compartment",
    "add_reading",
    "add_vehicle",
    "answer_season",
    "bring_back",
    "called",
    "carry",
    "check_duty",
    "check_new_reading",
    "delete_vehicle",
    "edit_compartment",
    "edit_vehicle",
    "fit_box",
    "mark_void",
    "neighbours",
    "parse_duty",
    "read_counter",
    "remove_compartment",
    "replace_reading",
    "retire",
    "set_rule",
    "set_use",
    "use_of",
    "void_reading",
]
