"""Rules of compartments come from the plan, with their table; a compartment says which open service has it."""
import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def say_which_are_in_service(apps, schema_editor):
    for job in apps.get_model("bay", "ServiceJob").objects.filter(open=True):
        apps.get_model("fleet", "Compartment").objects.filter(pk=job.compartment_id).update(in_service_id=job.service_id)


class Migration(migrations.Migration):

    dependencies = [
        ('bay', '0006_moved'),
        ('plan', '0005_moved'),
        ('fleet', '0004_amounts_and_voids'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='compartment',
            name='in_service',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='bay.service'),
        ),
        migrations.RunPython(say_which_are_in_service, migrations.RunPython.noop),
        migrations.SeparateDatabaseAndState(state_operations=[
        migrations.CreateModel(
            name='CompartmentRule',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('why', models.CharField(max_length=200)),
                ('at', models.DateTimeField()),
                ('school', models.CharField(blank=True, max_length=12)),
                ('interval_km', models.FloatField(null=True)),
                ('interval_h', models.FloatField(null=True)),
                ('interval_months', models.PositiveIntegerField(null=True)),
                ('load_share', models.FloatField(null=True)),
                ('severe_factor', models.FloatField(null=True)),
                ('linked', models.CharField(blank=True, max_length=12)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('compartment', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='rules', to='fleet.compartment')),
            ],
            options={
                'db_table': 'plan_compartmentrule',
                'ordering': ['id'],
                'abstract': False,
            },
        ),
        ]),
    ]
