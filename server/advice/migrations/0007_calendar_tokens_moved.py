"""The calendars' addresses belong to the morning; their table stays, see `server.today`."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("advice", "0006_pages")]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[migrations.DeleteModel(name="CalendarToken")]
        ),
    ]
