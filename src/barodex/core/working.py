"""The working behind a number: what every computed figure can show when asked "how?"."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Working:
    """How a figure came about.

    ``formula`` in symbols, ``inputs`` as name and value with unit, ``source`` the publication, or "common practice".
    """

    formula: str
    inputs: tuple[tuple[str, str], ...]
    source: str


COMMON_PRACTICE = "common practice"
