"""Editions of the board's lines, and pages of blocks that stand as long as one does."""

import django.db.models.deletion
import django.db.models.manager
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("advice", "0005_told_by_a_logger"), ("blocks", "0009_times_on_record")]
    operations = [
        migrations.RunSQL(
            "CREATE SEQUENCE advice_edition", "DROP SEQUENCE advice_edition"
        ),
        migrations.AddField("storedanswer", "edition", models.BigIntegerField(default=0)),
        migrations.CreateModel(
            "StoredPage",
            [
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("kind", models.CharField(max_length=10)),
                ("edition", models.BigIntegerField()),
                ("made_at", models.DateTimeField()),
                ("body", models.TextField()),
                (
                    "block",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="+",
                        to="blocks.block",
                    ),
                ),
            ],
            options={
                "abstract": False,
                "default_manager_name": "unscoped",
                "base_manager_name": "unscoped",
            },
            managers=[("unscoped", django.db.models.manager.Manager())],
        ),
        migrations.AddConstraint(
            "storedpage",
            models.UniqueConstraint(fields=["block", "kind"], name="page_once"),
        ),
    ]
