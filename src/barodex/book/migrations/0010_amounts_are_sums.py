"""What went in and came out stands in the entries of a record, and nowhere else."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('book', '0009_entries_from_records'),
    ]

    operations = [
        migrations.RemoveConstraint(
            model_name='oilrecord',
            name='record_drained_possible',
        ),
        migrations.RemoveConstraint(
            model_name='oilrecord',
            name='record_poured_possible',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='additive_ml',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='drained_15_ml',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='drained_c',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='drained_ml',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='loss_15_ml',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='loss_band',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='loss_sigma_ml',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='net_in_15_ml',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='poured_ml',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='run_out_ml',
        ),
        migrations.RemoveField(
            model_name='oilrecord',
            name='warmth',
        ),
    ]
