"""Photos come from the Bay, with their table."""
import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('bay', '0006_moved'),
        ('book', '0004_amounts_and_voids'),
        ('fleet', '0005_moved'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ('bay', '0006_moved'),
    ]

    operations = [migrations.SeparateDatabaseAndState(state_operations=[
        migrations.CreateModel(
            name='ServicePhoto',
            fields=[
                ('id', models.UUIDField(primary_key=True, serialize=False)),
                ('step', models.CharField(max_length=40)),
                ('width', models.PositiveIntegerField()),
                ('height', models.PositiveIntegerField()),
                ('sha256', models.CharField(max_length=64)),
                ('at', models.DateTimeField()),
                ('removed_at', models.DateTimeField(null=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('compartment', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='photos', to='fleet.compartment')),
                ('service', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='photos', to='bay.service')),
            ],
            options={
                'db_table': 'bay_servicephoto',
                'ordering': ['at', 'id'],
            },
        ),
    ])]
