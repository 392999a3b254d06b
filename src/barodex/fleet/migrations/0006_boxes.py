"""A box at every place: one each, of what was there before nothing more is known."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def forwards(apps, schema_editor):
    box_of, place_of = apps.get_model("fleet", "Box"), apps.get_model("fleet", "Compartment")
    places = list(place_of.objects.order_by("pk"))
    for place, box in zip(places, box_of.objects.bulk_create([box_of() for _ in places]), strict=True):
        place.box = box
    place_of.objects.bulk_update(places, ["box"], batch_size=500)


class Migration(migrations.Migration):

    dependencies = [
        ('fleet', '0005_moved'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Box',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.CharField(blank=True, max_length=40)),
                ('note', models.CharField(blank=True, max_length=300)),
                ('variant', models.CharField(blank=True, max_length=60)),
                ('limited_slip', models.BooleanField(null=True)),
            ],
        ),
        migrations.AddField(
            model_name='compartment',
            name='box',
            field=models.OneToOneField(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='place', to='fleet.box'),
        ),
        migrations.RunPython(forwards, migrations.RunPython.noop),
        migrations.AlterField(
            model_name='compartment',
            name='box',
            field=models.OneToOneField(on_delete=django.db.models.deletion.PROTECT, related_name='place', to='fleet.box'),
        ),
    ]
