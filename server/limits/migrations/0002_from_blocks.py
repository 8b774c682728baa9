"""The soil and school that blocks had become their first dated changes."""

from django.db import migrations
from django.utils import timezone


def carry_over(apps, schema_editor):
    Block = apps.get_model("blocks", "Block")
    BlockSoil = apps.get_model("limits", "BlockSoil")
    RefillRule = apps.get_model("limits", "RefillRule")
    now = timezone.now()
    for block in Block._default_manager.all():
        BlockSoil._default_manager.create(
            block_id=block.pk, soil_id=block.soil_profile_id, reason="set-up", made_at=now
        )
        if block.school != "crop_p":
            RefillRule._default_manager.create(
                block_id=block.pk, school=block.school, reason="set-up", made_at=now
            )


class Migration(migrations.Migration):
    dependencies = [("limits", "0001_initial")]
    operations = [migrations.RunPython(carry_over, migrations.RunPython.noop)]
