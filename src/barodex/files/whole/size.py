"""What a file of the whole book will hold, before it is written."""

from __future__ import annotations

from dataclasses import dataclass

from barodex.book.models import OilRecord, ServicePhoto
from barodex.book.photos import folder
from barodex.fleet.models import Vehicle

from .kept import kept_models


@dataclass(frozen=True)
class BookSize:
    """Vehicles, changes, photos with their bytes, and rows in all."""

    vehicles: int
    changes: int
    photos: int
    photo_bytes: int
    rows: int


def book_size() -> BookSize:
    """Count what a file of the whole book holds."""
    files = list(folder().glob("*/*.jpg"))
    return BookSize(
        vehicles=Vehicle.objects.count(),
        changes=OilRecord.everything.count(),
        photos=ServicePhoto.objects.filter(removed_at=None).count(),
        photo_bytes=sum(f.stat().st_size for f in files),
        rows=sum(m._base_manager.count() for m in kept_models()),
    )
