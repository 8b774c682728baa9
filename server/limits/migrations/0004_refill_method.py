from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("limits", "0003_times_on_record")]
    operations = [
        migrations.RemoveConstraint("refillrule", "refill_rule_value_in_range"),
        migrations.RenameField("refillrule", "school", "refill_method"),
        migrations.RenameField("historicalrefillrule", "school", "refill_method"),
        migrations.AddConstraint(
            "refillrule",
            models.CheckConstraint(
                condition=models.Q(value__isnull=True)
                | models.Q(refill_method="tension", value__gte=5, value__lte=500)
                | (~models.Q(refill_method="tension") & models.Q(value__gte=0.1, value__lte=0.8)),
                name="refill_rule_value_in_range",
            ),
        ),
    ]
