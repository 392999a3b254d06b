"""What a compartment was closed with is a plug and a torque, not a line of text; a line that is no such thing stays as it was written."""

import re

from django.db import migrations

LINE = re.compile(r"^(?:shut the |close the )?(?P<plug>.+?)(?: back on)?: (?:(?P<torque>\d+(?:\.\d+)?) N·m|no figure)$")


def closed_with(line):
    """A line of before as plug and torque, N·m."""
    found = LINE.match(line)
    if found is None:
        return {"plug": "", "torque_nm": None, "as_written": line}
    torque = found["torque"]
    return {"plug": found["plug"], "torque_nm": float(torque) if torque else None, "as_written": ""}


def forwards(apps, schema_editor):
    records = apps.get_model("book", "OilRecord")
    for record in records.objects.exclude(torques=[]).iterator(chunk_size=500):
        record.torques = [closed_with(line) for line in record.torques]
        record.save(update_fields=["torques"])


def backwards(apps, schema_editor):
    records = apps.get_model("book", "OilRecord")
    for record in records.objects.exclude(torques=[]).iterator(chunk_size=500):
        record.torques = [
            c["as_written"] or f"{c['plug']}: " + (f"{c['torque_nm']:g} N·m" if c["torque_nm"] else "no figure") for c in record.torques
        ]
        record.save(update_fields=["torques"])


class Migration(migrations.Migration):
    dependencies = [("book", "0005_moved")]

    operations = [migrations.RunPython(forwards, backwards)]
