"""Pouring: which bottle to empty, and at which mark to stop the next one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from barodex.core.quantity.errors import Inconsistent, in_range
from barodex.core.quantity.working import COMMON_PRACTICE, Working, ml
from barodex.core.words import say

MOST_MARKED_ML = 5000.0  # a larger can or a drum is not poured to a mark: its oil is measured in a jug (common practice)


@dataclass(frozen=True)
class Bottle:
    """A container: full size, what is in it (mL), what it is called, whether it has marks to read."""

    size_ml: float
    content_ml: float
    label: str
    graduated: bool = True

    @property
    def marked(self) -> bool:
        """Whether it can be poured to a mark."""
        return self.graduated and self.size_ml <= MOST_MARKED_ML

    @property
    def opened(self) -> bool:
        return self.content_ml < self.size_ml


@dataclass(frozen=True)
class PourAction:
    """One act: ``kind`` is empty, mark, jug, stroke or part_stroke; ``volume_ml`` leaves ``label``; ``left_ml`` stays."""

    kind: str
    label: str
    volume_ml: float
    left_ml: float
    text: str


@dataclass(frozen=True)
class PourPlan:
    """The acts in order, what stays in each container, what is short, and the dead volume that stays in the pump."""

    need_ml: float
    actions: tuple[PourAction, ...]
    left: tuple[Bottle, ...]
    shortage_ml: float
    dead_volume_ml: float
    working: Working


def _check(containers: Sequence[Bottle]) -> None:
    for bottle in containers:
        in_range("size_ml", bottle.size_ml, 1, 1_000_000, "mL")
        in_range("content_ml", bottle.content_ml, 0, 1_000_000, "mL")
        if bottle.content_ml > bottle.size_ml:
            raise Inconsistent(
                say(
                    "{bottle_label} holds more ({content_ml}) than its size ({size_ml}).",
                    bottle_label=bottle.label,
                    content_ml=ml(bottle.content_ml),
                    size_ml=ml(bottle.size_ml),
                ),
                field="content_ml",
                value=bottle.content_ml,
            )


def _strokes(need_ml: float, stroke_ml: float) -> list[PourAction]:
    actions: list[PourAction] = []
    full = int((need_ml + 1e-9) // stroke_ml)
    rest = need_ml - full * stroke_ml
    if full:
        actions.append(
            PourAction(
                "stroke",
                "",
                full * stroke_ml,
                0.0,
                (say("{full} full strokes", full=full) if full != 1 else say("{full} full stroke", full=full)),
            )
        )
    if rest > 1e-6:
        actions.append(
            PourAction(
                "part_stroke", "", rest, 0.0, say("then to {rest}", rest=ml(rest)) if full else say("one stroke to {rest}", rest=ml(rest))
            )
        )
    return actions


def pour_plan(need_ml: float, containers: Sequence[Bottle], dead_volume_ml: float = 0.0, stroke_ml: float | None = None) -> PourPlan:
    """Plan a pour from the containers at hand, opened ones first, smallest content first among them.

    Parameters
    ----------
    need_ml : amount that must end up in the compartment, mL, 0 to 100 000
    containers : at most 200 of :class:`Bottle`
    dead_volume_ml : stays in the pump and cannot be poured, mL, 0 to 1000; loaded once in addition
    stroke_ml : size of a syringe or pump stroke, mL, 1 to 5000; None when poured straight

    Returns
    -------
    PourPlan; ``shortage_ml`` above 0 when the containers do not hold enough

    Raises
    ------
    OutOfRange : outside the ranges, or more containers than planned for
    Inconsistent : a container that holds more than its size

    References
    ----------
    Common practice: opened containers first; stop the last one at the mark that is left in it.
    """
    in_range("need_ml", need_ml, 0, 100_000, "mL")
    in_range("dead_volume_ml", dead_volume_ml, 0, 1000, "mL")
    in_range("containers", len(containers), 0, 200)
    if stroke_ml is not None:
        in_range("stroke_ml", stroke_ml, 1, 5000, "mL")
    _check(containers)
    order = sorted((b for b in containers if b.content_ml > 0), key=lambda b: (not b.opened, b.content_ml, b.label))
    remaining = need_ml + dead_volume_ml
    actions: list[PourAction] = []
    left: list[Bottle] = []
    for bottle in order:
        take = min(remaining, bottle.content_ml)
        stays = bottle.content_ml - take
        left.append(Bottle(bottle.size_ml, stays, bottle.label, bottle.graduated))
        if take <= 1e-9:
            continue
        remaining -= take
        if stays <= 1e-9:
            actions.append(
                PourAction("empty", bottle.label, take, 0.0, say("{bottle_label} empty ({take})", bottle_label=bottle.label, take=ml(take)))
            )
        elif bottle.marked:
            actions.append(
                PourAction(
                    "mark",
                    bottle.label,
                    take,
                    stays,
                    say("{bottle_label} down to the {stays} mark", bottle_label=bottle.label, stays=ml(stays)),
                )
            )
        else:
            actions.append(
                PourAction(
                    "jug",
                    bottle.label,
                    take,
                    stays,
                    say("{take} from {bottle_label}, measured in a jug", take=ml(take), bottle_label=bottle.label),
                )
            )
    if stroke_ml is not None and need_ml > 0:
        actions += _strokes(need_ml, stroke_ml)
    working = Working(
        "to load = need + dead volume; last mark = content − what is still to pour",
        (("need", ml(need_ml)), ("dead volume", ml(dead_volume_ml)), ("at hand", ml(sum(b.content_ml for b in containers)))),
        COMMON_PRACTICE,
    )
    return PourPlan(need_ml, tuple(actions), tuple(left), max(0.0, remaining), dead_volume_ml, working)
