"""Versions of what answers are made from."""

from django.db import models


class Version(models.Model):
    """When something last moved: ``number`` is one more than the largest there was, so the largest of all is the version of the book.

    ``what`` is ``vehicle:`` and an id, or one of :data:`barodex.memory.versions.SCOPES`.
    """

    what = models.CharField(max_length=30, primary_key=True)
    number = models.PositiveBigIntegerField(db_index=True)
