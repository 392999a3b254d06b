"""Photos taken in: judged by content, turned upright, stripped of what the camera adds; and taken out again."""

from __future__ import annotations

import contextlib
import hashlib
import io
import os
import uuid
import warnings
from pathlib import Path

from django.db import IntegrityError, transaction
from django.db.models import F
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.bay.models import Service
from barodex.book.models import ServicePhoto
from barodex.book.photos import path_of
from barodex.core.guide.steps import Procedure
from barodex.core.quantity.errors import GateClosed, Inconsistent, OutOfRange
from barodex.core.words import say

MOST_BYTES = 15 * 1024 * 1024
MOST_PIXELS = 60_000_000
MOST_PHOTOS = 60  # of one service
LONGEST, SMALL = 2000, 360  # px of the kept picture and of the small one
TYPES = ("JPEG", "PNG", "WEBP")


def read_picture(content: bytes) -> Image.Image:
    """The picture of a file, upright and in plain colour; refuses what is no picture, or one that is too large."""
    if len(content) > MOST_BYTES:
        raise OutOfRange(
            say(
                "The photo has {content:.0f} MB; at most {most_bytes} MB are taken.",
                content=len(content) / 1000000.0,
                most_bytes=MOST_BYTES // 2**20,
            ),
            field="file",
            value=len(content),
            allowed=say("up to {most_bytes} MB", most_bytes=MOST_BYTES // 2**20),
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            picture = Image.open(io.BytesIO(content), formats=TYPES)
            if picture.width * picture.height > MOST_PIXELS:
                raise OutOfRange(
                    say(
                        "The photo has {width:.0f} million pixels: too many to be a photo of a workshop camera.",
                        width=picture.width * picture.height / 1000000.0,
                    ),
                    field="file",
                    value=picture.width * picture.height,
                    allowed=say("up to {most_pixels} million", most_pixels=MOST_PIXELS // 1000000),
                )
            # A JPEG is read at half its size or less where that is as much as is kept.
            ratio = min(1.0, LONGEST / max(picture.size))
            picture.draft("RGB", (int(picture.width * ratio), int(picture.height * ratio)))
            picture.load()
            ImageOps.exif_transpose(picture, in_place=True)
            plain = picture if picture.mode == "RGB" else picture.convert("RGB")
            _to_srgb(plain)
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Warning, Image.DecompressionBombError) as error:
        if isinstance(error, OutOfRange):
            raise
        raise Inconsistent(
            say("This file is no photo that can be read: JPEG, PNG or WebP, whatever its name says."), field="file"
        ) from error
    if min(plain.size) < 16:
        raise OutOfRange(
            say("{width} × {height} pixels show nothing.", width=plain.width, height=plain.height),
            field="file",
            value=min(plain.size),
            allowed=say("from 16 pixels on"),
        )
    return plain


def _to_srgb(picture: Image.Image) -> None:
    """Bring a picture with a colour profile of its own to sRGB, by which colours are read; nothing else of its file stays with it."""
    profile = picture.info.get("icc_profile")
    if profile:
        with contextlib.suppress(ImageCms.PyCMSError, OSError):  # one that cannot be read: the picture is taken as it is
            ImageCms.profileToProfile(picture, ImageCms.ImageCmsProfile(io.BytesIO(profile)), ImageCms.createProfile("sRGB"), inPlace=True)
    picture.info = {}


def _keep(picture: Image.Image, path: Path, longest: int) -> Image.Image:
    """Write a picture whole or not at all, without anything but its pixels; gives it as it was kept."""
    path.parent.mkdir(parents=True, exist_ok=True)
    shrunk = picture if max(picture.size) <= longest else ImageOps.contain(picture, (longest, longest))
    part = path.with_suffix(f".{os.getpid()}.part")
    shrunk.save(part, "JPEG", quality=86, optimize=True)
    with part.open("rb") as file:
        os.fsync(file.fileno())
    part.replace(path)
    return shrunk


def add_photo(by: Person, service_id: int, photo_id: uuid.UUID, step: str, content: bytes, procedure: Procedure) -> ServicePhoto:
    """Keep a photo with a step of an open service. The same id twice is one photo."""
    require(by, "technician")
    known = ServicePhoto.objects.filter(pk=photo_id).first()
    if known is not None:
        if known.service_id != service_id:
            raise Inconsistent(say("This photo belongs to another service."), field="photo_id", value=str(photo_id))
        return known
    service = Service.objects.get(pk=service_id)
    if service.state != "open":
        raise GateClosed(say("This service is closed: its record is not added to."), field="photo_id", value=service.state)
    if step not in procedure.by_id:
        raise Inconsistent(say("This service has no such step."), field="step", value=step)
    if service.photos.filter(removed_at=None).count() >= MOST_PHOTOS:
        raise OutOfRange(say("A service keeps at most {most_photos} photos.", most_photos=MOST_PHOTOS), field="file", value=MOST_PHOTOS)
    picture = read_picture(content)
    kept = _keep(picture, path_of(photo_id), LONGEST)
    _keep(kept, path_of(photo_id, small=True), SMALL)
    try:
        with transaction.atomic():
            made = ServicePhoto.objects.create(
                id=photo_id,
                service=service,
                step=step,
                task=procedure.by_id[step].task[:200],
                compartment_id=int(procedure.by_id[step].compartment or 0) or None,
                width=kept.width,
                height=kept.height,
                sha256=hashlib.sha256(content).hexdigest(),
                by=by,
                at=clock.now(),
            )
            _count(service)
            audit(by, "photo added", service, (), step=step, photo=str(photo_id))
    except IntegrityError:  # pressed twice: the other one was quicker
        return ServicePhoto.objects.get(pk=photo_id)
    return made


def _count(service: Service) -> None:
    Service.objects.filter(pk=service.pk).update(photo_version=F("photo_version") + 1)


@transaction.atomic
def remove_photo(by: Person, photo_id: uuid.UUID) -> ServicePhoto:
    """Take a photo out of an open service; that it was there stays on record."""
    require(by, "technician")
    photo = ServicePhoto.objects.select_related("service").get(pk=photo_id, removed_at=None)
    if photo.service.state != "open":
        raise GateClosed(say("The service is signed: its photos stay."), field="photo_id", value=str(photo_id))
    photo.removed_at = clock.now()
    photo.save(update_fields=["removed_at"])
    _count(photo.service)
    audit(by, "photo removed", photo.service, (), photo=str(photo_id), step=photo.step)
    return photo
