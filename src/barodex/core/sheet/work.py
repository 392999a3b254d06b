"""The kinds of service: what may be done to a compartment by its sheet, and what each comes to."""

from __future__ import annotations

from collections.abc import Collection

from barodex.core.kinds.kind import clutches_inside, kind_of
from barodex.core.oil.grades import parse_category
from barodex.core.quantity.errors import Inconsistent
from barodex.core.sheet.sheet import Plug, Sheet

WORKS = ("change", "exchange", "flush", "top-up", "correction", "opened")
EXCHANGE_SCHOOLS = ("drain and refill", "flow through")
WORK_WORDS = {
    "change": "oil change",
    "exchange": "exchange in cycles",
    "flush": "flush and change",
    "top-up": "check and top-up",
    "correction": "correction of a wrong oil",
    "opened": "opened service",
}
TARGET_FRESH = 0.7  # 70 % fresh is fine, 90 % is plenty (common practice)
RINSE_ML = 250.0  # a rinse with fresh oil, a quarter litre (common practice)
SPARE_CYCLES = 3  # that can be added while the exchange runs


def rinse_ml(sheet: Sheet) -> float:
    """Give what one rinse takes: what the sheet names; else through an open way out a quarter litre, or as much as a small box holds;
    without one, a whole fill.

    Parameters
    ----------
    sheet : the compartment's

    Returns
    -------
    float, mL

    References
    ----------
    The sheet; common practice where it names none.
    """
    if sheet.rinse_ml:
        return sheet.rinse_ml
    size = sheet.capacity_ml
    if not size:
        return RINSE_ML
    return size if sheet.way_out is None else min(RINSE_ML, size)


def usual_work(sheet: Sheet) -> str:
    """Give the kind of service that a sheet leads to when nobody chooses.

    Parameters
    ----------
    sheet : the compartment's

    Returns
    -------
    str, one of ``WORKS``

    References
    ----------
    The sheet: cycles ask for an exchange, a flush fluid for a flush.
    """
    if sheet.exchange_cycles > 1:
        return "exchange"
    return "flush" if sheet.flush_ml else "change"


def pan_comes_off(attached: Collection[str]) -> bool:
    """Say whether a job that rides along takes the pan or cover off.

    Parameters
    ----------
    attached : the jobs that ride along, in words

    Returns
    -------
    bool

    References
    ----------
    Common practice: a filter stands behind the pan, and its gasket is used once.
    """
    return any(word in what.casefold() for what in attached for word in ("filter", "pan", "gasket"))


def kit_work(work: str, attached: Collection[str]) -> str:
    """Give the kind of service whose seals and tools are fetched: one that opens the pan is an opened one.

    Parameters
    ----------
    work : one of ``WORKS``
    attached : the jobs that ride along, in words

    Returns
    -------
    str, one of ``WORKS``

    References
    ----------
    As :func:`pan_comes_off`.
    """
    return "opened" if work != "top-up" and pan_comes_off(attached) else work


def touched_plugs(sheet: Sheet, work: str) -> tuple[Plug, ...]:
    """Give the plugs, sticks and covers that a kind of service opens.

    Parameters
    ----------
    sheet : the compartment's
    work : one of ``WORKS``

    Returns
    -------
    tuple of Plug

    References
    ----------
    Common practice: a top-up leaves the drain plug alone; a level at temperature opens its screw too.
    """
    if work == "top-up":
        fill, level = sheet.plug("fill", "level", "combination"), sheet.plug("level")
        return tuple(dict.fromkeys(p for p in (fill, level if sheet.fill_method == "overflow" else None) if p is not None))
    if work == "opened" or sheet.drain_method == "cover":
        return sheet.plugs
    return tuple(p for p in sheet.plugs if p.role != "cover")


def flush_allowed(sheet: Sheet) -> bool:
    """Say whether a flush is offered: where the maker states one, or the kind bears it; never where linings run in the oil.

    Parameters
    ----------
    sheet : the compartment's

    Returns
    -------
    bool

    References
    ----------
    Common practice: hub gears, chain cases and old straight-cut boxes; never automatics, wet clutches, limited slip.
    """
    asked = sheet.requirement
    if clutches_inside(sheet.kind, asked.wet_clutch, asked.limited_slip):
        return False
    kind = kind_of(sheet.kind)
    straight_cut = kind.straight_cut and not asked.synchro and bool(OLD_BOX & set(parse_category(asked.categories)))
    return bool(sheet.flush_ml) or kind.flushed or straight_cut


OLD_BOX = {"GL-1", "GL-2", "GL-3", "MT-1"}  # categories that boxes without synchronisers ask for


def works_for(sheet: Sheet, gauged: bool = False) -> tuple[str, ...]:
    """Give the kinds of service that a compartment can have, the usual one first.

    Parameters
    ----------
    sheet : the compartment's
    gauged : whether a depth gauge was cut after a measured fill: then its level can be checked

    Returns
    -------
    tuple of str

    References
    ----------
    Common practice: an exchange needs the total amount and a drain; a level that only the counter knows cannot be topped up;
    only what has a cover or pan can be opened.
    """
    found = [usual_work(sheet), "change"] if not sheet.flush_ml else ["flush"]
    if sheet.total_ml is not None and sheet.drain_method == "plug":
        found.append("exchange")
    if sheet.drain_method == "plug" and flush_allowed(sheet):
        found.append("flush")
    if sheet.fill_method not in ("measured", "syringe") or (gauged and sheet.fill_method == "measured"):
        found.append("top-up")
    found.append("correction")
    if sheet.plug("cover"):
        found.append("opened")
    return tuple(dict.fromkeys(found))


def check_work(sheet: Sheet, work: str, gauged: bool = False) -> str:
    """Give the kind of service, or refuse one that this compartment cannot have, with the reason.

    Parameters
    ----------
    sheet : the compartment's
    work : one of ``WORKS``, or empty for the usual one
    gauged : as :func:`works_for`

    Returns
    -------
    str, one of ``WORKS``

    Raises
    ------
    Inconsistent : the sheet does not allow it

    References
    ----------
    As :func:`works_for`.
    """
    if not work:
        return usual_work(sheet)
    allowed = works_for(sheet, gauged)
    if work in allowed:
        return work
    why = {
        "top-up": "its level is the amount: no plug or stick tells how much is missing, and no depth gauge was cut at the last fill.",
        "exchange": "the sheet states no total amount, so the fresh share cannot be counted.",
        "opened": "the sheet lists no cover or pan.",
        "flush": "it has no drain plug to let the flush out."
        if sheet.drain_method != "plug"
        else "its maker states none, and linings or synchronisers do not bear one.",
        "change": "a flush fluid goes in before the oil of this one.",
    }.get(work, "no such kind of service.")
    raise Inconsistent(f"{WORK_WORDS.get(work, work).capitalize()}: {why}", field="work", value=work, allowed=", ".join(allowed))
