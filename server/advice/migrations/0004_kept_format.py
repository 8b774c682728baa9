"""The format in which an advice was put on record; those before this are of the first."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("advice", "0003_mornings")]
    operations = [
        migrations.AddField("advice", "format", models.SmallIntegerField(default=1)),
    ]
