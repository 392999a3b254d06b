"""A column of JSON whose messages are kept by their codes and parameters, and worded when they are read.

Rows from before hold text: that stays as it was written.
"""

from __future__ import annotations

from typing import Any

from django.db import models
from django.db.models.expressions import BaseExpression

from barodex.core.words import kept, said


class SaidJSON(models.JSONField):
    """JSON in which text may be a message; in the database nothing differs from Django's own field."""

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        return super().get_db_prep_value(value if isinstance(value, BaseExpression) else kept(value), connection, prepared)

    def from_db_value(self, value: Any, expression: Any, connection: Any) -> Any:
        return said(super().from_db_value(value, expression, connection))

    def deconstruct(self) -> Any:
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.JSONField", args, kwargs
