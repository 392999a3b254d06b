"""What follows stands in its own rows, and nowhere else."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("book", "0013_consequences")]

    operations = [
        migrations.DeleteModel(name="FollowUp"),
        migrations.RemoveField(model_name="oilrecord", name="interval_factor"),
        migrations.RemoveField(model_name="oilrecord", name="cap_run"),
        migrations.RemoveField(model_name="oilrecord", name="cap_days"),
    ]
