"""Takes the calendars' addresses over from the advice, as they are."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("farms", "0004_station_and_morning_mail"),
        ("today", "0001_morning_sent"),
        ("advice", "0007_calendar_tokens_moved"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="CalendarToken",
                    fields=[
                        (
                            "id",
                            models.BigAutoField(
                                auto_created=True,
                                primary_key=True,
                                serialize=False,
                                verbose_name="ID",
                            ),
                        ),
                        ("hashed", models.CharField(max_length=64, unique=True)),
                        ("made_at", models.DateTimeField()),
                        (
                            "farm",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="calendar_tokens",
                                to="farms.farm",
                            ),
                        ),
                        (
                            "user",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="calendar_tokens",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "db_table": "advice_calendartoken",
                        "constraints": [
                            models.UniqueConstraint(
                                fields=("farm", "user"), name="one_calendar_each"
                            )
                        ],
                    },
                )
            ],
        ),
        migrations.AlterModelTable(name="calendartoken", table=None),
    ]
