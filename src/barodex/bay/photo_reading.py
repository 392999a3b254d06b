"""A kept photo read as evidence: the oil's colour between paper and fresh oil, and how much of a magnet is covered."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from PIL import Image

from barodex.book.models import ServicePhoto
from barodex.book.photos import photo_file
from barodex.core import run
from barodex.core.findings.colour import ColourReading, Patch, read_colours
from barodex.core.findings.photo import Cover, Picture, Spot, blurred, magnet_cover, spot_pixels
from barodex.core.run.exchanging import drain_shares
from barodex.core.words import say

from . import guides

MOST_DRAINS, MOST_WHITES = 12, 5


def _picture(photo_id: uuid.UUID) -> Picture:
    with Image.open(photo_file(photo_id, small=False)) as kept:
        return np.asarray(kept.convert("RGB"))


def read_oil_colour(
    photo_id: uuid.UUID, papers: Sequence[Spot], fresh: Spot, drained: Sequence[Spot], compartment: str = ""
) -> ColourReading:
    """Read the drained oils of a photo; an exchange's computed fresh shares stand beside them. Raises ServicePhoto.DoesNotExist."""
    photo = ServicePhoto.objects.select_related("service").get(pk=photo_id, removed_at=None)
    picture = _picture(photo_id)
    key = compartment or str(photo.compartment_id or "")
    job = next((j for j in guides.jobs_of(photo.service) if str(j.compartment_id) == key), None)
    shares: tuple[float, ...] = ()
    if job is not None and len(drained) > 1:
        procedure = guides.procedure_of(photo.service)
        state = run.fold(procedure, guides.acts_of(photo.service))
        shares = drain_shares(procedure.job(key), state.ledgers[key])
    many = len(drained) > 1
    family = job.revision.family if job else "gear"

    def patch(spot: Spot, name: str) -> Patch:
        return Patch(spot_pixels(picture, spot, name), spot.x, spot.y)

    oils = [patch(spot, say("drain {k}", k=k) if many else "drained oil") for k, spot in enumerate(drained, 1)]
    read = read_colours([patch(p, "paper") for p in papers], patch(fresh, "fresh oil"), oils, family, shares)
    if blurred(picture):
        read = replace(
            read,
            doubts=(*read.doubts, say("The photo is blurred: what lies beside a mark may have run into it. Hold still, take it again.")),
        )
    return read


def read_magnet(photo_id: uuid.UUID, circle: Spot) -> Cover:
    """Read how much of a marked magnet is covered. Raises ServicePhoto.DoesNotExist."""
    return magnet_cover(_picture(photo_id), circle)
