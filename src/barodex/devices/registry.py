"""The adaptors that there are, by kind of device and name. A new one is a module that registers itself, and its name in ``MODULES``."""

from __future__ import annotations

import importlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say

from .protocol import DEVICE_KINDS

NONE = "none"
MODULES = ("barodex.devices.simulated",)


@dataclass(frozen=True)
class Adaptor:
    """A way to reach a kind of device.

    ``connect`` takes the setup of its kind (:mod:`.protocol`) and gives what must be kept between two questions, as plain values;
    ``open`` gives the device on that. ``simulated``: what hangs on it is moved from the page (its key turned, a pan put on it).
    """

    kind: str
    name: str
    connect: Callable[[Any], dict[str, Any]]
    open: Callable[[dict[str, Any]], Any]
    simulated: bool = False


_ADAPTORS: dict[tuple[str, str], Adaptor] = {}


def register(adaptor: Adaptor) -> None:
    """Make an adaptor known; one of the same kind and name takes its place."""
    assert adaptor.kind in DEVICE_KINDS
    assert adaptor.name != NONE
    _ADAPTORS[adaptor.kind, adaptor.name] = adaptor


def load() -> None:
    """Load the modules that register adaptors; asked for when the application starts."""
    for module in MODULES:
        importlib.import_module(module)


def names_of(kind: str) -> tuple[str, ...]:
    """What may be chosen for a kind of device."""
    return (NONE, *(name for of, name in _ADAPTORS if of == kind))


def adaptor_for(kind: str, name: str) -> Adaptor:
    """An adaptor by its name; raises Inconsistent where there is none."""
    found = _ADAPTORS.get((kind, name))
    if found is None:
        allowed = ", ".join(names_of(kind))
        raise Inconsistent(say("“{name}” is no adaptor for a {kind}.", name=name, kind=kind), field="adaptor", value=name, allowed=allowed)
    return found


def is_simulated(kind: str, name: str) -> bool:
    """Whether what hangs on an adaptor is moved from the page; False for none, and for one that is gone."""
    found = _ADAPTORS.get((kind, name))
    return found is not None and found.simulated
