"""Are the bands honest? Every figure that is shown with a band or a probability, against made-up truth: ``make calibration``.

Each line is one figure with its limit; it ends non-zero when one is over. Seeded: the same lines every time. The makers of the truth stand
in the tests and share no model with the core.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

sys.path[:0] = [str(Path(__file__).resolve().parents[1])]

from tests.core.due.use_by_day import SCENARIOS, hits  # noqa: E402
from tests.core.findings.lights import LIGHTS, Shot, shot  # noqa: E402
from tests.core.findings.magnets import COVERS, face, shrunk, told_of  # noqa: E402
from tests.core.ledger.boxes import Workshop, rate_points, service, suction_points  # noqa: E402
from tests.core.ledger.test_honest_loss import named_right  # noqa: E402

from barodex.core.findings.colour import OilColour, read_colours  # noqa: E402
from barodex.core.findings.colour_space import ciede2000  # noqa: E402
from barodex.core.ledger.bands import MATTERS  # noqa: E402
from barodex.core.ledger.leak import loss_rate  # noqa: E402
from barodex.core.quantity.errors import Inconsistent  # noqa: E402

COUNT, SEED = 600, 1


def forecast_lines() -> Iterator[tuple[str, str, str, bool]]:
    """What was wanted of forecasts: 70 to 90 % within, the middle within 7 %, neither side more than twice the other."""
    slack = 3 * (0.8 * 0.2 / COUNT) ** 0.5  # three binomial standard errors
    for scenario in SCENARIOS:
        h = hits(scenario, COUNT, SEED)
        name = f"forecast, {scenario.__name__.replace('_', ' ')}"
        parts = f"{100 * h.below:.0f}/{100 * h.inside:.0f}/{100 * h.above:.0f} %"
        yield name, parts, "70 to 90 % within", 0.7 - slack <= h.inside <= 0.9 + slack
        yield name, f"middle {100 * h.bias:+.1f} %", "7 %", abs(h.bias) <= 0.07
        more, out = max(h.below, h.above), h.below + h.above
        yield (
            name,
            f"{100 * more / max(out, 1e-9):.0f} % on one side",
            "two of three",
            more * COUNT <= out * COUNT * 2 / 3 + 3 * (out * COUNT * 2 / 9) ** 0.5,
        )


def _share(name: str, count: int, of: int, least: float = 0.0, most: float = 1.0) -> tuple[str, str, str, bool]:
    """A share against its bounds, to three binomial standard errors."""
    low, high = (3 * (b * (1 - b) / max(1, of)) ** 0.5 for b in (least, most))
    wanted = f"at least {100 * least:.0f} %" if most == 1.0 else f"at most {100 * most:.0f} %"
    return name, f"{count} of {of}", wanted, of > 0 and least - low <= count / of <= most + high


def loss_lines() -> Iterator[tuple[str, str, str, bool]]:
    """What is called a leak, or tight, and what a rate may be off by."""
    rng = np.random.default_rng(SEED)

    def bands(**of: object) -> list[str]:
        return [told.band if (told := service(rng, **of)) else "" for _ in range(COUNT)]  # type: ignore[arg-type]

    dry = [told.band for _ in range(COUNT) if (told := service(rng, 1850.0, 0.0, 1850 * rng.uniform(0.02, 0.06), first=True))]
    yield _share("loss, dry-filled and tight: leak or repair", sum(b in ("leak", "repair") for b in dry), COUNT, most=0.06)
    sucked = [
        told.band if (told := service(rng, 3000.0, 0.0, 3000 * rng.uniform(0.05, 0.3), "suction", first=True, some_stays=True)) else ""
        for _ in range(COUNT)
    ]
    yield _share("loss, first suction of a tight box: repair", sucked.count("repair"), COUNT, most=0.02)
    for method, stays in (("plug", False), ("suction", True)):
        small = bands(fill_ml=150.0, lost_ml=15.0, left_ml=0.0, method=method, some_stays=stays)
        yield _share(f"loss, a tenth of 150 mL by {method}: tight", small.count("tight"), COUNT, most=0.10)
    said = [
        (told, lost, fill)
        for _ in range(3 * COUNT)
        if (told := service(rng, fill := float(np.exp(rng.uniform(5, 8.3))), lost := fill * rng.uniform(0, 0.2), 0.0))
        and told.band == "tight"
    ]
    yield _share("loss, said to be tight: it is", sum(lost < MATTERS * fill for _, lost, fill in said), len(said), least=0.9)
    for takes, words in ((True, "taken"), (False, "not taken")):
        rates = [loss_rate(rate_points(rng, 1850.0, 3.0, Workshop(takes, 0.0 if takes else rng.normal(0, 15)))) for _ in range(COUNT)]
        inside = sum(abs(r.rate - 3.0) <= 2 * r.sigma for r in rates)
        yield _share(f"loss, eight services, temperature {words}", inside, COUNT, least=0.95)
    for rate, words in ((0.0, "tight"), (6.0, "6 mL per 1 000 km")):
        rates = [loss_rate(suction_points(rng, 3000.0, rate)) for _ in range(COUNT)]
        yield _share(f"loss, eight suctions, {words}: within 2σ", sum(abs(r.rate - rate) <= 2 * r.sigma for r in rates), COUNT, least=0.95)
        if not rate:
            yield _share("loss, eight suctions of a tight box: real", sum(r.real for r in rates), COUNT, most=0.05)
    for method, unlisted in (("plug", 0.0), ("plug", 0.1), ("suction", 0.0), ("suction", 0.1)):
        right, named = named_right(np.random.default_rng(SEED), method, unlisted, 3 * COUNT)
        yield _share(f"variant by {method}, {100 * unlisted:.0f} % unlisted: right", right, named, least=0.9)


def _colour(of: Shot) -> OilColour | None:
    """The drained oil as it is read; None where it says that it cannot be."""
    try:
        return read_colours(of.papers, of.fresh, [of.drained]).drained[0]
    except Inconsistent:
        return None


def colour_lines() -> Iterator[tuple[str, str, str, bool]]:
    """Whether the true colour lies within 2σ, and a sure word is right."""
    rng = np.random.default_rng(SEED)
    under: list[tuple[str, dict[str, Any]]] = [(f"by {light}", {"light": light}) for light in LIGHTS]
    under += [("by day, on cream paper", {"light": "day", "paper": "cream"})]
    under += [(f"by day, sloping, {n} white points", {"light": "day", "uneven": 0.3, "whites": n}) for n in (2, 3)]
    for words, of in under:
        shots = [shot(rng, **of) for _ in range(200)]
        read = [(s, colour) for s in shots if (colour := _colour(s)) is not None]
        inside = sum(float(ciede2000(np.array(r.lab), s.lab_true)) <= 2 * r.sigma for s, r in read)
        yield _share(f"colour {words}: within 2σ", inside, len(read), least=0.9)
        sure = [r.word == s.word for s, r in read if r.sure > 0.9]
        yield _share(f"colour {words}: a sure word is right", sum(sure), len(sure), least=0.9)


def magnet_lines() -> Iterator[tuple[str, str, str, bool]]:
    """Whether a cover that is said to be sure is right, and a bare dark magnet is taken for none."""
    rng = np.random.default_rng(SEED)
    read = [(f.cover, told_of(f)) for f in (face(rng, COVERS[k % len(COVERS)]) for k in range(300))]
    sure = [cover == told.suggests for cover, told in read if told is not None and told.sure > 0.9]
    yield _share("magnet: a sure cover is right", sum(sure), len(sure), least=0.9)
    dark = [told_of(face(rng, "none", shade=(25, 75))) for _ in range(100)]
    yield _share("magnet, bare and dark: read as covered", sum(t is not None and t.suggests != "none" for t in dark), len(dark), most=0.02)
    small = [told_of(shrunk(face(rng, "cap"), 0.9)) for _ in range(100)]
    seen = [t.suggests for t in small if t is not None]
    yield _share(
        "magnet, circle a tenth too small: a cap has whiskers", sum(s in ("whiskers", "overflowing") for s in seen), len(seen), most=0.05
    )


def main() -> int:
    began, wrong = time.monotonic(), 0
    for name, found, limit, fine in (*forecast_lines(), *loss_lines(), *colour_lines(), *magnet_lines()):
        wrong += not fine
        print(f"{'ok  ' if fine else 'OVER'} {name:54s} {found:24s} wanted: {limit}", flush=True)
    print(f"{time.monotonic() - began:.0f} s, {wrong} over")
    return 1 if wrong else 0


if __name__ == "__main__":
    raise SystemExit(main())
