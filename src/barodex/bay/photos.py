"""The photos of a service, kept until its photo version is raised. Their files and those of records are the book's."""

from __future__ import annotations

import datetime as dt

from barodex.bay.models import Service
from barodex.book.models import ServicePhoto
from barodex.book.photos import PhotoView, photo_view
from barodex.core.guide.steps import Procedure
from barodex.memory.kept import keep


def photos_of_service(service: Service, procedure: Procedure) -> tuple[PhotoView, ...]:
    """The photos of a service, as they were taken."""
    kept = _kept(service.pk, service.started_at, service.photo_version) if service.photo_version else ()
    return tuple(photo_view(p, procedure.by_id[p.step].title if p.step in procedure.by_id else "") for p in kept)


@keep("photos", 256)
def _kept(service_id: int, started_at: dt.datetime, version: int) -> tuple[ServicePhoto, ...]:
    """The photos of a service as of a version; they change far less often than the service is asked for."""
    return tuple(ServicePhoto.objects.filter(service_id=service_id, removed_at=None).select_related("by"))
