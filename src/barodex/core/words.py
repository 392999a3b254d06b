"""What the core says: a message is its code, the English that it is worded in once, with the parameters that it was made of.

Standard gettext: the code is the msgid of the catalogue `barodex.pot`, which `make api` gathers from the sources. A message is text like any
other; whoever keeps it or sends it on may keep code and parameters beside it, and nothing ever looks into the text.
"""

from __future__ import annotations

import gettext
import math
import numbers
import string
from collections.abc import Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any

LOCALES = Path(__file__).resolve().parents[1] / "locale"
CATALOGUE = gettext.translation("barodex", LOCALES, languages=["en"], fallback=True)  # English for now: a message stands as it is worded
MOST_INTEGER, LONGEST_SPEC = 2**53, 4  # a longer format would only pad
JOINED = "{first}{then}"  # two pieces, one behind the other: each keeps its own code


class Message(str):
    """A sentence with its code and its parameters (numbers, text, messages)."""

    code: str
    params: Mapping[str, Any]

    def __new__(cls, text: str, code: str, params: Mapping[str, Any]) -> Message:
        made = super().__new__(cls, text)
        made.code, made.params = code, params
        return made

    def __str__(self) -> Message:  # what a serializer takes for text stays a message
        return self

    def __reduce__(self) -> tuple[Any, ...]:
        return Message, (str.__str__(self), self.code, self.params)

    def __add__(self, then: str) -> Message:
        return Message(str.__add__(self, then), JOINED, {"first": self, "then": then}) if then else self

    def __radd__(self, first: str) -> Message:
        return Message(str.__add__(first, self), JOINED, {"first": first, "then": self}) if first else self

    def __copy__(self) -> Message:
        return self

    def __deepcopy__(self, memo: dict[int, Any]) -> Message:
        return self


@lru_cache(4096)
def _plain(code: str) -> Message:
    return Message(CATALOGUE.gettext(code), code, {})


def say(code: str, /, **params: Any) -> str:
    """Word a message: a :class:`Message`, to be used as the text that it is.

    Parameters
    ----------
    code : its English with the names of its parameters in braces, as in :meth:`str.format`; without parameters it stands as it is
    params : numbers, text, or messages

    Returns
    -------
    Message

    Raises
    ------
    KeyError : a parameter is missing

    References
    ----------
    Python's :mod:`gettext`; PEP 3101 for the braces.
    """
    if not params:
        return _plain(code)
    return Message(CATALOGUE.gettext(code).format(**params), code, params)


def _named(code: str) -> set[str]:
    """The parameters that a code names; ValueError where it would reach into one of them, which no code of ours does."""
    fields = [(name, spec or "") for _, name, spec, _ in string.Formatter().parse(code) if name is not None]
    names = {name for name, _ in fields}
    if not all(name.isidentifier() and "{" not in spec and len(spec) <= LONGEST_SPEC for name, spec in fields):
        raise ValueError(code)
    return names


def kept(value: Any) -> Any:
    """Return ``value`` as it is stored: in place of each message its code and parameters.

    Parameters
    ----------
    value : messages, text, numbers, lists and mappings of such

    Returns
    -------
    the same; a message as ``{"say": code, "with": {name: parameter}}``, parameters that are neither number nor text as their text; one that
    could not be worded again from these as its text

    References
    ----------
    The form is our own.
    """
    if isinstance(value, Message):
        with_them = {"with": {name: simple(p) for name, p in value.params.items()}} if value.params else {}
        stored = {"say": value.code, **with_them}
        return stored if said(stored) == value else "".join(value)  # what JSON cannot give back is kept as it was written
    if isinstance(value, Mapping):
        return {name: kept(one) for name, one in value.items()}
    if isinstance(value, (list, tuple)):
        return [kept(one) for one in value]
    return value


def simple(param: Any) -> Any:
    """Return a parameter as it can be sent or stored.

    Parameters
    ----------
    param : of a message

    Returns
    -------
    a number that JSON can hold, text, or a message as :func:`kept` gives it; anything else as its text

    References
    ----------
    RFC 8259, section 6: integers agree between readers up to 2⁵³.
    """
    if isinstance(param, Message):
        return kept(param)
    if isinstance(param, (str, bool)) or param is None:
        return param
    if isinstance(param, numbers.Integral) and abs(int(param)) < MOST_INTEGER:
        return int(param)
    if isinstance(param, numbers.Real) and not isinstance(param, numbers.Integral) and math.isfinite(param):
        return float(param)
    return str(param)


def said(value: Any) -> Any:
    """Return what was stored by :func:`kept`, worded again; what was stored as text stays as written.

    Parameters
    ----------
    value : as read back: text, numbers, lists, mappings

    Returns
    -------
    the same with messages

    References
    ----------
    The form is our own.
    """
    if isinstance(value, dict):
        if "say" in value and set(value) <= {"say", "with"} and isinstance(value["say"], str) and isinstance(value.get("with", {}), dict):
            params = {name: said(one) for name, one in value.get("with", {}).items()}
            try:
                if _named(value["say"]) <= set(params) or not params:
                    return say(value["say"], **params)
            except (ValueError, TypeError):
                pass  # no message of ours: it stays what it is
        return {name: said(one) for name, one in value.items()}
    if isinstance(value, list):
        return [said(one) for one in value]
    return value
