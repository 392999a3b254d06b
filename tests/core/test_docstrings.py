"""Every public function of the core says what it gives, its parameters with units, its errors and its source."""

import importlib
import inspect
import pkgutil

import pytest

import barodex.core

MODULES = [importlib.import_module(f"barodex.core.{m.name}") for m in pkgutil.iter_modules(barodex.core.__path__)]
FUNCTIONS = [
    (f"{module.__name__.rsplit('.', 1)[1]}.{name}", function)
    for module in MODULES
    for name, function in inspect.getmembers(module, inspect.isfunction)
    if function.__module__ == module.__name__ and not name.startswith("_")
]
UNIT_WORDS = {"_ml": "mL", "_c": "°C", "_nm": "N·m", "_km": "km", "_g": "g", "_mm": "mm", "density15": "kg/m³", "kv100": "mm²/s"}


def test_the_core_has_functions_to_check():
    assert len(FUNCTIONS) > 40


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
