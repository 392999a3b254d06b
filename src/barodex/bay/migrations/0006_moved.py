"""Photos go to the book. The table stays."""
from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('bay', '0005_kept_guide'),
    ]

    operations = [migrations.SeparateDatabaseAndState(state_operations=[
        migrations.DeleteModel(
            name='ServicePhoto',
        ),
    ])]
