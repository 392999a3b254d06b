"""An oil that was taken against the rules before what follows was a list: its look stands in that list, as it does for those since."""

from django.db import migrations

HALF_MONTH_DAYS = 365.25 / 24


def forwards(apps, schema_editor):
    job_of, record_of = apps.get_model("bay", "ServiceJob"), apps.get_model("book", "OilRecord")
    row_of = apps.get_model("book", "ConsequenceRow")
    for job in job_of.objects.exclude(oil_override="").select_related("lubricant", "revision").iterator(chunk_size=200):
        record = record_of.objects.filter(service=job.service_id, compartment=job.compartment_id).first()
        if record is None or row_of.objects.filter(record=record, code="oil-override").exists():
            continue
        later = record_of.objects.filter(box=record.box_id, on__gt=record.on, voided_at=None).exclude(work="top-up").order_by("on").first()
        by_hours = job.service.vehicle.meter == "h"
        whole = job.revision.interval_h if by_hours else job.revision.interval_km
        months = job.revision.interval_months
        row_of.objects.create(
            record=record,
            kind="look-again",
            code="oil-override",
            params={"oil": job.lubricant.name, "why": job.oil_override},
            run=whole / 2 if whole else None,
            days=int(months * HALF_MONTH_DAYS) if months else None,
            done_at=later.at if later else None,
            done_by=later.by if later else None,
            outcome=f"looked at with the change of {later.on:%d %b %Y}" if later else "",
        )


class Migration(migrations.Migration):
    dependencies = [("bay", "0010_two_sigma"), ("book", "0014_consequences_alone")]

    operations = [migrations.RunPython(forwards, migrations.RunPython.noop)]
