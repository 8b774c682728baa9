from django.db import migrations, models

_RENAME = "ALTER TABLE readings_reading RENAME CONSTRAINT {} TO {}"
_NAMES = ("reading_verdict_known", "reading_review_known")


class Migration(migrations.Migration):
    dependencies = [("readings", "0003_flag_rules")]
    operations = [
        migrations.RenameModel("ReadingVerdict", "ReadingReview"),
        migrations.RenameField("readingreview", "verdict", "review"),
        migrations.RenameField("reading", "verdict", "review"),
        migrations.AlterField(
            "readingreview",
            "instrument",
            models.ForeignKey(
                on_delete=models.CASCADE, related_name="reviews", to="instruments.instrument"
            ),
        ),
        # The constraint is the same under another name: no reading is looked at again.
        migrations.SeparateDatabaseAndState(
            database_operations=[
                migrations.RunSQL(_RENAME.format(*_NAMES), _RENAME.format(*_NAMES[::-1]))
            ],
            state_operations=[
                migrations.RemoveConstraint("reading", _NAMES[0]),
                migrations.AddConstraint(
                    "reading",
                    models.CheckConstraint(
                        condition=models.Q(review__in=[0, 1, 2]), name=_NAMES[1]
                    ),
                ),
            ],
        ),
    ]
