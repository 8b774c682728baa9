from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("blocks", "0009_times_on_record")]
    operations = [
        migrations.RemoveConstraint("block", "block_weighing_known"),
        migrations.RenameField("block", "weighing", "estimate_from"),
        migrations.RenameField("historicalblock", "weighing", "estimate_from"),
        *(
            migrations.AlterField(
                model,
                "estimate_from",
                models.CharField(
                    choices=[
                        ("combined", "combined"), ("sensors", "sensors"), ("balance", "balance"),
                    ],
                    default="combined",
                    max_length=8,
                ),
            )
            for model in ("block", "historicalblock")
        ),
        *(
            migrations.RunSQL(
                f"UPDATE {table} SET estimate_from = 'combined' WHERE estimate_from = 'blend'",
                f"UPDATE {table} SET estimate_from = 'blend' WHERE estimate_from = 'combined'",
            )
            for table in ("blocks_block", "blocks_historicalblock")
        ),
        migrations.RunSQL("SET CONSTRAINTS ALL IMMEDIATE", migrations.RunSQL.noop),
        migrations.AddConstraint(
            "block",
            models.CheckConstraint(
                condition=models.Q(estimate_from__in=["combined", "sensors", "balance"]),
                name="block_estimate_from_known",
            ),
        ),
    ]
