"""Whether a simulated device is faulty is a property of it, not an adaptor of its own."""

from django.db import migrations, models

FAULTY = "simulated, faulty"


def forwards(apps, schema_editor):
    choices, links = apps.get_model("devices", "DeviceChoice"), apps.get_model("devices", "DeviceLink")
    choices.objects.filter(adaptor=FAULTY).update(adaptor="simulated", faulty=True)
    for link in links.objects.filter(adaptor=FAULTY):
        link.adaptor, link.state = "simulated", {**link.state, "faulty": True}
        link.save(update_fields=["adaptor", "state"])


def backwards(apps, schema_editor):
    choices, links = apps.get_model("devices", "DeviceChoice"), apps.get_model("devices", "DeviceLink")
    choices.objects.filter(adaptor="simulated", faulty=True).update(adaptor=FAULTY)
    for link in links.objects.filter(adaptor="simulated"):
        if link.state.get("faulty"):
            link.adaptor = FAULTY
            link.save(update_fields=["adaptor"])


class Migration(migrations.Migration):
    dependencies = [("devices", "0001_devices")]

    operations = [
        migrations.AlterField("DeviceChoice", "adaptor", models.CharField(max_length=20)),
        migrations.AddField("DeviceChoice", "faulty", models.BooleanField(default=False)),
        migrations.RunPython(forwards, backwards),
    ]
