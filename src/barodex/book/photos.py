"""Photos that are kept with records: their files, and what there are."""

from __future__ import annotations

import datetime as dt
import uuid
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings

from barodex.book.models import ServicePhoto


@dataclass(frozen=True)
class PhotoView:
    """A photo of a service: where it was taken, its size in pixels, and its addresses."""

    id: str
    step: str
    words: str
    compartment: str
    width: int
    height: int
    url: str
    small_url: str
    by: str
    at: dt.datetime


def folder() -> Path:
    """Where photos are kept."""
    return Path(settings.VAR) / "photos"


def path_of(photo_id: uuid.UUID, small: bool = False) -> Path:
    """The file of a photo."""
    name = photo_id.hex
    return folder() / name[:2] / f"{name}{'-small' if small else ''}.jpg"


def photo_file(photo_id: uuid.UUID, small: bool) -> Path:
    """The file of a photo; raises ServicePhoto.DoesNotExist, also where the file is gone."""
    photo = ServicePhoto.objects.get(pk=photo_id, removed_at=None)
    path = path_of(photo.pk, small)
    if not path.exists():
        raise ServicePhoto.DoesNotExist
    return path


def photo_view(photo: ServicePhoto, words: str) -> PhotoView:
    return PhotoView(
        id=str(photo.pk),
        step=photo.step,
        words=words,
        compartment=str(photo.compartment_id or ""),
        width=photo.width,
        height=photo.height,
        url=f"/api/photos/{photo.pk}",
        small_url=f"/api/photos/{photo.pk}/small",
        by=photo.by.shown_name,
        at=photo.at,
    )


def photos_of_records(services: Iterable[tuple[int, int]]) -> dict[tuple[int, int], tuple[PhotoView, ...]]:
    """The photos of (service, compartment) pairs; one of the whole visit belongs to each of its compartments."""
    pairs = list(services)
    found: dict[int, list[ServicePhoto]] = defaultdict(list)
    for photo in ServicePhoto.objects.filter(service_id__in={s for s, _ in pairs}, removed_at=None).select_related("by"):
        found[photo.service_id].append(photo)
    return {(s, c): tuple(photo_view(p, p.task) for p in found[s] if p.compartment_id in (None, c)) for s, c in pairs if found.get(s)}
