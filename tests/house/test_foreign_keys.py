"""Foreign keys that point up the order of packages: string names that no import shows. These few, and no other."""

from __future__ import annotations

import tomllib
from pathlib import Path

from django.apps import apps

ROOT = Path(__file__).resolve().parents[2]
UP = {
    ("shelf", "Container", "fleet", "Vehicle"),
    ("fleet", "Compartment", "bay", "Service"),
    ("book", "OilRecord", "bay", "Service"),
    ("book", "ServicePhoto", "bay", "Service"),
}


def order() -> list[str]:
    """The packages, lowest first, as the import contract has them."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]["contracts"]
    layers = next(c["layers"] for c in contracts if c["name"].startswith("The packages stand"))
    return [name.strip() for layer in reversed(layers) for name in layer.split("|")]


def test_the_foreign_keys_that_point_up():
    place = {name: k for k, name in enumerate(order())}
    found = set()
    for model in apps.get_models(include_auto_created=True):
        app = model._meta.app_label
        for field in model._meta.get_fields():
            other = field.related_model if field.many_to_one or field.one_to_one or field.many_to_many else None
            if other is None or field.auto_created or app not in place or other._meta.app_label not in place:
                continue
            if place[other._meta.app_label] > place[app]:
                found.add((app, model.__name__, other._meta.app_label, other.__name__))
    assert found == UP
