"""Steps of setting up that a farm does without."""

import django.db.models.deletion
import django.db.models.manager
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True
    dependencies = [
        ("farms", "0004_station_and_morning_mail"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.CreateModel(
            name="SkippedStep",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("step", models.CharField(choices=[("position", "Position"), ("soil", "Soil"), ("blocks", "Blocks"), ("equipment", "Equipment"), ("crop", "Crop"), ("weather", "Weather"), ("instruments", "Instruments"), ("readings", "Readings"), ("people", "People")], max_length=12)),
                ("at", models.DateTimeField()),
                ("by", models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL)),
                ("farm", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="+", to="farms.farm")),
            ],
            options={
                "abstract": False,
                "base_manager_name": "unscoped",
                "default_manager_name": "unscoped",
                "constraints": [models.UniqueConstraint(fields=("farm", "step"), name="a_step_is_skipped_once")],
            },
            managers=[("unscoped", django.db.models.manager.Manager())],
        ),
    ]
