"""What was seen, as an act carries it and as it is judged."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from barodex.core.findings.debris import assess
from barodex.core.findings.finding import Assessment, DebrisContext, Finding, Particle
from barodex.core.guide.steps import Job
from barodex.core.kinds.kind import clutches_inside
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say


def assess_finding(job: Job, finding: Finding) -> Assessment:
    """Judge a finding against this compartment's own past.

    Parameters
    ----------
    job : the compartment, its sheet and past (distance km)
    finding : what was seen (sizes mm)

    Returns
    -------
    Assessment

    Raises
    ------
    Inconsistent, OutOfRange : as :func:`barodex.core.findings.assess`

    References
    ----------
    As :func:`barodex.core.findings.assess`.
    """
    asked = job.sheet.requirement
    return assess(
        finding,
        DebrisContext(
            kind=job.sheet.kind,
            distance_km=job.distance_km,
            first_change=job.first_change,
            yellow_metal=asked.yellow_metal,
            magnet_fitted=job.sheet.magnet,
            previous=job.previous,
            previous_level=job.previous_level,
            older_levels=job.older_levels,
            clutches=clutches_inside(job.sheet.kind, asked.wet_clutch, asked.limited_slip),
        ),
    )


def finding_from(values: Mapping[str, Any]) -> Finding:
    """Read a finding from plain values, as they are stored.

    Parameters
    ----------
    values : magnet, colour, clarity, smell, wet as words or None; particles a list of form, metal, count, size_mm (mm) and magnetic, or
        None; d1500, delta_e, covered as measured, or None

    Returns
    -------
    Finding

    Raises
    ------
    Inconsistent : something that is not a finding

    References
    ----------
    The lists of :mod:`barodex.core.findings.debris`.
    """
    try:
        raw = values.get("particles")
        particles = (
            None
            if raw is None
            else tuple(
                Particle(
                    str(p["form"]), str(p.get("metal", "steel")), int(p.get("count", 1)), float(p.get("size_mm", 0.1)), p.get("magnetic")
                )
                for p in raw
            )
        )
        d1500, delta_e, covered = (None if values.get(k) is None else float(values[k]) for k in ("d1500", "delta_e", "covered"))
        magnet, colour, clarity, smell, wet = (values.get(k) or None for k in ("magnet", "colour", "clarity", "smell", "wet"))
        return Finding(
            magnet=magnet,
            particles=particles,
            colour=colour,
            clarity=clarity,
            smell=smell,
            d1500=d1500,
            delta_e=delta_e,
            covered=covered,
            wet=wet,
        )
    except (AttributeError, KeyError, TypeError, ValueError) as error:
        raise Inconsistent(
            say("That is not a finding: magnet, particles, colour, clarity, smell."), field="finding", value=str(values)[:80]
        ) from error
