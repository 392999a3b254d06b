"""By which names vehicles are known: a vehicle that was made one with another is that one, also by the name that it had."""

from __future__ import annotations

from collections.abc import Iterator

from barodex.fleet.models import MERGED, Merge, Vehicle


def known_as() -> Iterator[tuple[str, str, Vehicle]]:
    """Each name and plate (may be empty), and the vehicle that is meant by it; the vehicles' own names last, so that they count."""
    vehicles = {v.pk: v for v in Vehicle.objects.all()}
    into = dict(Merge.objects.filter(undone_at=None).values_list("other", "kept"))
    for v in vehicles.values():
        if v.retired_how == MERGED and v.pk in into:
            stands = into[v.pk]
            while stands in into:
                stands = into[stands]
            yield v.name, "", vehicles[stands]
    yield from ((v.name, v.plate, v) for v in vehicles.values() if v.pk not in into)
