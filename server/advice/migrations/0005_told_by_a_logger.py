"""Notes of what is touched tell whether a logger's readings were the cause, and since when."""

from django.db import migrations, models
from django.db.models.functions import Now

# A logger's request says so for its own transaction.
_BY_LOGGER = "coalesce(current_setting('furrow.by_logger', true), '') = 'on'"
_SPANS = """
CREATE OR REPLACE FUNCTION readings_span_touches() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO advice_touched (farm_id, block_id, first_on{column})
    SELECT b.farm_id, b.id, advice_first_morning(min(s.start), b.farm_id){value} FROM changed s
        JOIN instruments_channel c ON c.id = s.channel_id
        JOIN instruments_instrument i ON i.id = c.instrument_id
        JOIN blocks_block b ON b.id = i.block_id
    GROUP BY b.farm_id, b.id;
    RETURN NULL;
END $$;
"""


class Migration(migrations.Migration):
    dependencies = [("advice", "0004_kept_format")]
    operations = [
        migrations.AddField(
            "touched", "by_logger", models.BooleanField(default=False, db_default=False)
        ),
        migrations.AddField("touched", "noted_at", models.DateTimeField(db_default=Now())),
        migrations.RunSQL(
            _SPANS.format(column=", by_logger", value=f", {_BY_LOGGER}"),
            _SPANS.format(column="", value=""),
        ),
    ]
