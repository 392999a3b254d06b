"""What had to be looked at again, and what shortened an interval, become consequences of their record."""

import datetime as dt

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

# The sentences that were written until now, in the order in which they are looked for; the rest stays as it was written.
_WRITTEN = (
    ("Stop, do not drive: ", "stop", "finding"),
    ("Look again: ", "look-again", "finding"),
    ("It leaks: look at the level", "look-again", "leak"),
    ("It leaks: repair", "repair", "leak"),
    ("Lost oil: look at the level again", "look-again", "loss-short"),
    ("Look at the level again after a top-up", "look-again", "topped-up"),
    ("Leaks and level, after the first drives", "look-again", "first-drives"),
    ("Leaks and level: the look after the drive was passed", "look-again", "drive-passed"),
    ("After a wrong oil: sample", "look-again", "wrong-oil"),
)


def _coded(row):
    for begins, kind, code in _WRITTEN:
        if row.what.startswith(begins):
            return kind, code, {"because": row.what.removeprefix(begins)} if code == "finding" else {}
    return "stop" if row.stop else "look-again", "as-written", {"what": row.what}


def carry(apps, schema_editor):
    """Every follow-up a row, and every shortened interval."""
    follow_up, row_of = apps.get_model("book", "FollowUp"), apps.get_model("book", "ConsequenceRow")
    record_of, correction = apps.get_model("book", "OilRecord"), apps.get_model("book", "Correction")
    anew = {}
    for c in correction.objects.filter(field__in=["finding", "on", "meter_value"]).order_by("at", "id"):
        anew.setdefault(c.record_id, {})[c.field] = c.after
    made = []
    for row in follow_up.objects.select_related("record").order_by("pk"):
        kind, code, params = _coded(row)
        said = anew.get(row.record_id, {})
        on = dt.date.fromisoformat(said["on"]) if "on" in said else row.record.on
        meter = said.get("meter_value", row.record.meter_value)
        made.append(
            row_of(
                pk=row.pk,  # who follows a link to it finds it
                record=row.record,
                kind=kind,
                code=code,
                params=params,
                days=None if row.due_on is None else max(0, (row.due_on - on).days),
                run=None if row.due_meter is None or meter is None else max(0.0, row.due_meter - meter),
                done_at=row.done_at,
                done_by=row.done_by,
                outcome=row.outcome,
            )
        )
    row_of.objects.bulk_create(made, batch_size=500)
    made = []
    for record in record_of.objects.order_by("pk").iterator():
        judged = anew.get(record.pk, {}).get("finding") or {}
        level, reasons = judged.get("level", record.level), judged.get("reasons", record.reasons) or []
        factor = judged.get("interval_factor", record.interval_factor)
        cap_run, cap_days = judged.get("cap_run", record.cap_run), judged.get("cap_days", record.cap_days)
        if factor < 1:
            if record.work == "correction" and (level or 0) < 2:
                code, params = "wrong-oil", {}
            elif record.details.get("recovered") is not None and (level or 0) < 2:
                code, params = "old-oil-stayed", {}
            else:
                fair = next((r for r in reasons if r.startswith("A fair look")), "") if (level or 0) < 2 else ""
                code, params = "finding", {"because": fair or (reasons[0] if reasons else "what the last change showed")}
            made.append(row_of(record=record, kind="due-cap", code=code, params=params, factor=factor))
        if cap_run is not None or cap_days is not None:
            made.append(row_of(record=record, kind="due-cap", code="water", run=cap_run, days=cap_days))
    row_of.objects.bulk_create(made, batch_size=500)


class Migration(migrations.Migration):
    dependencies = [
        ("book", "0012_cause"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="ConsequenceRow",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("voided_at", models.DateTimeField(null=True)),
                ("void_reason", models.CharField(blank=True, max_length=300)),
                ("kind", models.CharField(choices=[(k, k) for k in ("stop", "repair", "due-cap", "look-again", "ask", "adopt")], max_length=10)),
                ("code", models.CharField(max_length=20)),
                ("params", models.JSONField(default=dict)),
                ("run", models.FloatField(null=True)),
                ("days", models.PositiveIntegerField(null=True)),
                ("factor", models.FloatField(null=True)),
                ("basis", models.CharField(default="common practice", max_length=80)),
                ("done_at", models.DateTimeField(null=True)),
                ("outcome", models.CharField(blank=True, max_length=300)),
                ("done_by", models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL)),
                ("record", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="consequences", to="book.oilrecord")),
                ("voided_by", models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL)),
            ],
            options={
                "ordering": ["record", "id"],
                "abstract": False,
                "default_manager_name": "objects",
                "indexes": [models.Index(condition=models.Q(("done_at", None), ("voided_at", None)), fields=["kind", "record"], name="consequence_open")],
            },
        ),
        migrations.RunPython(carry, migrations.RunPython.noop),
    ]
