"""A photo says what was being done when it was taken: for those of before, as the guide of their service says."""

from django.db import migrations, models


def forwards(apps, schema_editor):
    guides, photos = apps.get_model("bay", "ServiceGuide"), apps.get_model("book", "ServicePhoto")
    for service in photos.objects.order_by().values_list("service_id", flat=True).distinct():
        kept = guides.objects.filter(service_id=service).first()
        tasks = {s["id"]: s["task"] for s in kept.guide["steps"]} if kept else {}
        for photo in photos.objects.filter(service_id=service):
            photo.task = tasks.get(photo.step, "")[:200]
            photo.save(update_fields=["task"])


class Migration(migrations.Migration):
    dependencies = [("book", "0006_closed_with"), ("bay", "0009_purpose")]

    operations = [
        migrations.AddField("ServicePhoto", "task", models.CharField(blank=True, max_length=200)),
        migrations.RunPython(forwards, migrations.RunPython.noop),
    ]
