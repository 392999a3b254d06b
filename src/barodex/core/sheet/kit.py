"""The kit of a service: seals, parts and tools that a sheet asks for, and what of it is missing before the start."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import figure
from barodex.core.sheet.sheet import Sheet, key_size
from barodex.core.words import say

KIT_KINDS = ("seal", "part", "tool")
_NO_SEAL = ("none", "unknown", "taper thread")
_REUSED = ("PTFE tape", "thread-lock")  # used from a roll or a bottle, not counted by the piece


@dataclass(frozen=True)
class KitItem:
    """Something to have at hand: what it is called in the store, its kind, how many, whether the job cannot go without, and what for."""

    name: str
    kind: str
    count: int = 1
    mandatory: bool = True
    use: str = ""


@dataclass(frozen=True)
class KitLine:
    """A kit item against the store: ``state`` is there, missing, or not counted (nobody keeps count of it)."""

    item: KitItem
    in_store: int | None
    state: str


def check_item(item: KitItem, at: str = "") -> None:
    """Refuse a kit item without a name or of no kind.

    Parameters
    ----------
    item : the item
    at : prefix of the field named in an error

    Raises
    ------
    Inconsistent : no name, or an unknown kind
    OutOfRange : a count outside 1 to 200

    References
    ----------
    None needed.
    """
    if not item.name.strip():
        raise Inconsistent(say("A part of the kit needs a name."), field=f"{at}name", value=item.name)
    if item.kind not in KIT_KINDS:
        raise Inconsistent(
            say("“{kind}” is not a seal, part or tool.", kind=item.kind), field=f"{at}kind", value=item.kind, allowed=", ".join(KIT_KINDS)
        )
    in_range("count", item.count, 1, 200)


def kit_of(sheet: Sheet, extra: Iterable[KitItem] = (), hose: str = "") -> tuple[KitItem, ...]:
    """Give what a sheet asks for: the seal and the key of each plug, what it is drained with, and its own list.

    Parameters
    ----------
    sheet : its plugs with key sizes in mm
    extra : the sheet's own seals, parts and tools
    hose : size of the hose that goes in, in words; empty where none is stated

    Returns
    -------
    tuple of :class:`KitItem`, each name once with its counts added up; mandatory where any of its uses is

    Raises
    ------
    Inconsistent, OutOfRange : as :func:`check_item`

    References
    ----------
    The tools follow from the sheet (common practice).
    """
    found: list[KitItem] = []
    for plug in sheet.plugs:
        if plug.role == "dipstick":
            continue
        if plug.seal not in _NO_SEAL:
            size = (
                say(" for {size_mm} {plug_label}", size_mm=key_size(plug.size_mm), plug_label=plug.label)
                if plug.size_mm is not None
                else say(" for {plug_label}", plug_label=plug.label)
            )
            found.append(
                KitItem(plug.seal if plug.seal in _REUSED else f"{plug.seal}{size}", "seal", 1, plug.seal != "thread-lock", plug.label)
            )
        if plug.drive not in ("by hand", "unknown"):
            found.append(KitItem(plug.key, "tool", 1, True, plug.label))
    if any(p.torque_nm is not None for p in sheet.plugs):
        torques = [p.torque_nm for p in sheet.plugs if p.torque_nm is not None]
        span = (
            f"{figure(min(torques), 1)} N·m"
            if min(torques) == max(torques)
            else say("{torques} to {torques_2} N·m", torques=figure(min(torques), 1), torques_2=figure(max(torques), 1))
        )
        found.append(KitItem("torque wrench", "tool", 1, True, span))
    if sheet.drain_method == "suction":
        found.append(
            KitItem(
                "suction pump", "tool", 1, True, say("hose {hose}", hose=hose) if hose else say("hose: size not stated, measure the hole")
            )
        )
    if hose and sheet.drain_method != "suction":
        found.append(KitItem("filling hose", "tool", 1, False, hose))
    for k, item in enumerate(extra):
        check_item(item, f"kit.{k}.")
        found.append(item)
    merged: dict[tuple[str, str], KitItem] = {}
    for item in found:
        key = (item.kind, item.name.casefold())
        if (had := merged.get(key)) is None:
            merged[key] = item
            continue
        count = max(had.count, item.count) if item.kind == "tool" or item.name in _REUSED else had.count + item.count
        uses = [u for u in (had.use, item.use) if u]
        merged[key] = KitItem(had.name, had.kind, count, had.mandatory or item.mandatory, ", ".join(dict.fromkeys(uses)))
    return tuple(replace(i, use=f"{i.use}; short and long") if i.kind == "tool" and "hex socket" in i.name else i for i in merged.values())


def join_kits(kits: Iterable[tuple[str, Iterable[KitItem]]]) -> tuple[KitItem, ...]:
    """Put the kits of several compartments together.

    Parameters
    ----------
    kits : (compartment, its items)

    Returns
    -------
    tuple of :class:`KitItem`; seals and parts add up, a tool is needed once

    References
    ----------
    None needed: a sum.
    """
    merged: dict[tuple[str, str], KitItem] = {}
    for compartment, items in kits:
        for item in items:
            key = (item.kind, item.name.casefold())
            use = f"{compartment}: {item.use}" if item.use else compartment
            if (had := merged.get(key)) is None:
                merged[key] = KitItem(item.name, item.kind, item.count, item.mandatory, use)
            else:
                count = max(had.count, item.count) if item.kind == "tool" or item.name in _REUSED else had.count + item.count
                merged[key] = KitItem(had.name, had.kind, count, had.mandatory or item.mandatory, f"{had.use}; {use}")
    return tuple(merged.values())


def readiness(items: Iterable[KitItem], store: Mapping[str, int]) -> tuple[KitLine, ...]:
    """Hold a kit against the store.

    Parameters
    ----------
    items : what is needed
    store : name to how many there are, in any case of letters

    Returns
    -------
    tuple of :class:`KitLine`; what nobody counts is "not counted", which is neither there nor missing

    References
    ----------
    Common practice: a missing tool stops the start, not the middle.
    """
    held = {name.casefold(): count for name, count in store.items()}
    lines = []
    for item in items:
        count = held.get(item.name.casefold())
        state = "not counted" if count is None else "there" if count >= item.count else "missing"
        lines.append(KitLine(item, count, state))
    return tuple(lines)
