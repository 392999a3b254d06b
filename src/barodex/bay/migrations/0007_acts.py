"""What was called an event of a service is an act. The table and its columns stay."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("bay", "0006_moved")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.RenameModel("ServiceEvent", "ServiceAct"),
                migrations.AlterModelTable("ServiceAct", "bay_serviceevent"),
                migrations.AlterField(
                    "ServiceAct", "service", models.ForeignKey("bay.Service", on_delete=models.CASCADE, related_name="acts")
                ),
            ]
        )
    ]
