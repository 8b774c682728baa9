"""Measured limits were two contents; they become points at their tensions."""

from django.db import migrations


def to_points(apps, schema_editor):
    Horizon = apps.get_model("soils", "Horizon")
    for row in Horizon._default_manager.filter(method="measured", theta_full__isnull=False):
        row.points = [[33.0, row.theta_full], [1500.0, row.theta_wilt]]
        row.full_tension_kpa = 33.0
        row.theta_full = row.theta_wilt = None
        row.save()


class Migration(migrations.Migration):
    dependencies = [("soils", "0002_density_salt_points")]
    operations = [migrations.RunPython(to_points, migrations.RunPython.noop)]
