"""The edition of a line since which loggers alone were the reason to make it anew."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("advice", "0007_calendar_tokens_moved")]

    operations = [
        migrations.AddField(
            "storedanswer", "deeds", models.BigIntegerField(default=0, db_default=0)
        ),
    ]
