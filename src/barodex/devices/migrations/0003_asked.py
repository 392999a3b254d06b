"""Who asked a tool for a reset, until it has answered."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("devices", "0002_faulty")]

    operations = [migrations.AddField("DeviceLink", "asked", models.JSONField(default=dict))]
