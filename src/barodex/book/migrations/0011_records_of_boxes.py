"""A record is of the box that was fitted at its place."""

import django.db.models.deletion
from django.db import migrations, models
from django.db.models import OuterRef, Subquery


def forwards(apps, schema_editor):
    places = apps.get_model("fleet", "Compartment").objects.filter(pk=OuterRef("compartment_id"))
    apps.get_model("book", "OilRecord")._base_manager.update(box_id=Subquery(places.values("box_id")[:1]))


class Migration(migrations.Migration):

    dependencies = [
        ('book', '0010_amounts_are_sums'),
        ('fleet', '0006_boxes'),
    ]

    operations = [
        migrations.AddField(
            model_name='oilrecord',
            name='box',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='records', to='fleet.box'),
        ),
        migrations.RunPython(forwards, migrations.RunPython.noop),
        migrations.AlterField(
            model_name='oilrecord',
            name='box',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='records', to='fleet.box'),
        ),
        migrations.RemoveIndex(
            model_name='oilrecord',
            name='record_newest_first',
        ),
        migrations.AddIndex(
            model_name='oilrecord',
            index=models.Index(fields=['box', '-on', '-id'], name='record_newest_first'),
        ),
    ]
