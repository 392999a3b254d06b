"""Whether an oil still flows in the cold that is expected."""

from __future__ import annotations

from collections.abc import Iterator

from barodex.core.oil.grade_rules import _choice_of, asked_edition, label_grade, listed
from barodex.core.oil.grades import cold_limit_c
from barodex.core.oil.lubricant import Lubricant, OilConditions, OilPolicy, OilReason, Requirement
from barodex.core.words import say

COLD_REJECT_K = 10.0


def cold_rule(oil: Lubricant, asked: Requirement, day: OilConditions, policy: OilPolicy) -> Iterator[OilReason]:
    """Yield what the coldest day does to an oil.

    Parameters
    ----------
    oil, asked, day, policy : as :func:`barodex.core.oil.judge.judge`

    Returns
    -------
    Iterator of OilReason; a straight grade below 0 °C is never more than a caution, nor one that the sheet itself names for that weather

    References
    ----------
    SAE J306: the temperature at which 150 000 mPa·s is reached; the margin of 10 K is common practice.
    """
    if not listed(oil, asked) or day.ambient_min_c is None:
        return
    edition, low = policy.j306_edition, day.ambient_min_c
    have = label_grade(oil.grade, oil.family, edition)
    choice = _choice_of(asked, day)
    text = choice.grade or asked.grade
    if have is None:
        if low < 0 and oil.family == "gear" and not oil.grade and oil.kv100 is not None and text:
            sentence = say("Its label states no winter grade, and frost is expected.")
            yield OilReason("cold", "caution", sentence, say("{low:g} °C / not stated", low=low), "SAE J306")
        return
    if have.scale != "gear":
        return
    named = (*choice.fits, *([] if asked.ambient else [text]))
    own = any(label_grade(f, asked.family, asked_edition(asked, policy)) == have for f in named)
    limit = cold_limit_c(have, edition)
    if limit is None:
        if low < 0 and not own:
            sentence = say("A straight grade states no limit in the cold, and frost is expected.")
            yield OilReason("cold", "caution", sentence, say("{low:g} °C / not stated", low=low), "SAE J306")
        return
    if limit > low:
        over = limit - low
        verdict = "reject" if over > COLD_REJECT_K and not own else "caution"
        sentence = say("It is too stiff for the bearings below {limit:.0f} °C, and {low:g} °C is expected.", limit=limit, low=low)
        yield OilReason(
            "cold",
            verdict,
            sentence,
            say("{low:g} °C / {limit:.0f} °C, {over:.0f} K too warm", low=low, limit=limit, over=over),
            "SAE J306",
        )
