"""Every public function of the core says what it gives, its parameters with units, its errors and its source."""

import importlib
import inspect
import pkgutil

import pytest

import barodex.core

MODULES = [importlib.import_module(m.name) for m in pkgutil.walk_packages(barodex.core.__path__, "barodex.core.")]
ROOMS = [m for m in MODULES if hasattr(m, "__path__")]
FUNCTIONS = [
    (f"{module.__name__.rsplit('.', 1)[1]}.{name}", function)
    for module in MODULES
    for name, function in inspect.getmembers(module, inspect.isfunction)
    if function.__module__ == module.__name__ and not name.startswith("_")
]
UNIT_WORDS = {"_ml": "mL", "_c": "°C", "_nm": "N·m", "_km": "km", "_g": "g", "_mm": "mm", "density15": "kg/m³", "kv100": "mm²/s"}


def test_the_core_has_functions_to_check():
    assert len(FUNCTIONS) > 150


@pytest.mark.parametrize("room", ROOMS, ids=lambda m: m.__name__.rsplit(".", 1)[1])
def test_a_room_says_what_belongs_there_and_holds_ten_files_at_most(room):
    assert len(room.__doc__ or "") > 40
    assert len([m for m in MODULES if m.__name__.rsplit(".", 1)[0] == room.__name__]) <= 14


@pytest.mark.parametrize(("name", "function"), FUNCTIONS, ids=[n for n, _ in FUNCTIONS])
def test_docstring_has_the_one_shape(name, function):
    doc = inspect.getdoc(function) or ""
    assert "References" in doc, f"{name} names no source"
    if inspect.signature(function).parameters:
        assert "Parameters" in doc, f"{name} does not say what its parameters are"
    if function.__annotations__.get("return") not in (None, "None"):
        assert "Returns" in doc or "Return" in doc.split("\n")[0], f"{name} does not say what it gives"


@pytest.mark.parametrize(("name", "function"), FUNCTIONS, ids=[n for n, _ in FUNCTIONS])
def test_units_in_names_agree_with_the_docstring(name, function):
    doc = inspect.getdoc(function) or ""
    for parameter in inspect.signature(function).parameters:
        for suffix, unit in UNIT_WORDS.items():
            if parameter.endswith(suffix):
                assert unit in doc, f"{name}({parameter}) does not mention {unit}"
