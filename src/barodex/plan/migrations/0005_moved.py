"""Policy, school and bay hours go to the workshop, rules of compartments to the fleet. The tables stay."""
from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('plan', '0004_duty_and_schools'),
    ]

    operations = [migrations.SeparateDatabaseAndState(state_operations=[
        migrations.RemoveField(
            model_name='compartmentrule',
            name='by',
        ),
        migrations.RemoveField(
            model_name='compartmentrule',
            name='compartment',
        ),
        migrations.RemoveField(
            model_name='policyrevision',
            name='by',
        ),
        migrations.RemoveField(
            model_name='schedulerevision',
            name='by',
        ),
        migrations.DeleteModel(
            name='BayRevision',
        ),
        migrations.DeleteModel(
            name='CompartmentRule',
        ),
        migrations.DeleteModel(
            name='PolicyRevision',
        ),
        migrations.DeleteModel(
            name='ScheduleRevision',
        ),
    ])]
