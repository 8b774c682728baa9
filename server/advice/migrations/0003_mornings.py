"""Mornings kept of each block's ensemble, and notes of change that say which are wrong."""

import django.db.models.deletion
import django.db.models.manager
from django.db import migrations, models

ALL, NONE = "NULL::date", "'infinity'::date"
# The first morning that hears of an instant: what is read nearest to six in the morning may be
# as late as noon.
_FIRST_MORNING = """
CREATE FUNCTION advice_first_morning(at timestamptz, farm bigint) RETURNS date
LANGUAGE sql STABLE AS $$
    SELECT ((at AT TIME ZONE f.time_zone) + interval '12 hours')::date
    FROM farms_farm f WHERE f.id = farm
$$;
"""
# Table, how its rows lead to a block, and the first morning they make wrong; %s is the row.
BLOCK_OF = {
    "blocks_block": ("%s.id", ALL),
    "blocks_cropseason": ("%s.block_id", ALL),
    "blocks_seasonevent": ("(SELECT block_id FROM blocks_cropseason WHERE id = %s.season_id)", ALL),
    "limits_blocksoil": ("%s.block_id", ALL),
    "limits_refillrule": ("%s.block_id", NONE),
    "instruments_instrument": ("%s.block_id", ALL),
    "instruments_channel": (
        "(SELECT block_id FROM instruments_instrument WHERE id = %s.instrument_id)",
        ALL,
    ),
    "instruments_instrumentevent": (
        "(SELECT block_id FROM instruments_instrument WHERE id = %s.instrument_id)",
        ALL,
    ),
    "instruments_channelcalibration": (
        "(SELECT i.block_id FROM instruments_channel c "
        "JOIN instruments_instrument i ON i.id = c.instrument_id WHERE c.id = %s.channel_id)",
        ALL,
    ),
    "water_irrigation": ("%s.block_id", "advice_first_morning(%s.started_at, b.farm_id)"),
    "water_hold": ("%s.block_id", NONE),
    "advice_decision": ("(SELECT block_id FROM advice_advice WHERE id = %s.advice_id)", NONE),
}
FARM_OF = {
    "crops_farmcrop": ("%s.farm_id", ALL),
    # A day's ET0 and rain are heard of by the morning after it.
    "weather_weatherday": ("%s.farm_id", "%s.date + 1"),
    "weather_weatherforecast": ("%s.farm_id", NONE),
}
SOIL_OF = {"soils_soilprofile": "%s.id", "soils_horizon": "%s.profile_id"}
_ROWS = """
CREATE OR REPLACE FUNCTION {table}_touches() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP <> 'INSERT' THEN
        {old}
    END IF;
    IF TG_OP <> 'DELETE' THEN
        {new}
    END IF;
    RETURN NULL;
END $$;
"""
_BLOCK = (
    "INSERT INTO advice_touched (farm_id, block_id, first_on) "
    "SELECT b.farm_id, b.id, {first} FROM blocks_block b WHERE b.id = {of};"
)
_FARM = (
    "INSERT INTO advice_touched (farm_id, first_on) "
    "SELECT f.id, {first} FROM farms_farm f WHERE f.id = {of};"
)
_SOIL = (
    "INSERT INTO advice_touched (farm_id, block_id) SELECT DISTINCT b.farm_id, b.id "
    "FROM limits_blocksoil s JOIN blocks_block b ON b.id = s.block_id WHERE s.soil_id = {of};"
)
_SPANS = """
CREATE OR REPLACE FUNCTION readings_span_touches() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO advice_touched (farm_id, block_id, first_on)
    SELECT b.farm_id, b.id, advice_first_morning(min(s.start), b.farm_id) FROM changed s
        JOIN instruments_channel c ON c.id = s.channel_id
        JOIN instruments_instrument i ON i.id = c.instrument_id
        JOIN blocks_block b ON b.id = i.block_id
    GROUP BY b.farm_id, b.id;
    RETURN NULL;
END $$;
"""
# A clock that is set makes no past day another; a time zone, or the ET0 of days without weather,
# does.
_FARM_ROW = """
CREATE OR REPLACE FUNCTION farms_farm_touches() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO advice_touched (farm_id, first_on) VALUES (NEW.id, CASE
        WHEN (NEW.time_zone, NEW.et0_low, NEW.et0_expected, NEW.et0_high, NEW.alfalfa_ratio)
            IS DISTINCT FROM
            (OLD.time_zone, OLD.et0_low, OLD.et0_expected, OLD.et0_high, OLD.alfalfa_ratio)
        THEN NULL ELSE 'infinity'::date END);
    RETURN NULL;
END $$;
"""


def _statement(statement: str, of: str, first: str, row: str) -> str:
    return statement.format(of=of.replace("%s", row), first=first.replace("%s", row))


def _make() -> str:
    parts = [_FIRST_MORNING, _SPANS, _FARM_ROW]
    for statement, tables in ((_BLOCK, BLOCK_OF), (_FARM, FARM_OF)):
        for table, (of, first) in tables.items():
            old, new = (_statement(statement, of, first, row) for row in ("OLD", "NEW"))
            parts.append(_ROWS.format(table=table, old=old, new=new))
    for table, of in SOIL_OF.items():
        old, new = (_statement(_SOIL, of, "", row) for row in ("OLD", "NEW"))
        parts.append(_ROWS.format(table=table, old=old, new=new))
    return "".join(parts)


class Migration(migrations.Migration):
    dependencies = [("advice", "0002_what_is_touched")]
    operations = [
        migrations.AddField("touched", "first_on", models.DateField(null=True)),
        migrations.CreateModel(
            "EstimatedMorning",
            [
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("on", models.DateField()),
                ("version", models.CharField(max_length=20)),
                ("ground", models.BinaryField()),
                ("notes", models.BinaryField()),
                ("members", models.BinaryField(null=True)),
                ("memory", models.BinaryField(null=True)),
                ("counters", models.BinaryField(null=True)),
                (
                    "block",
                    models.ForeignKey(
                        db_index=False,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="mornings",
                        to="blocks.block",
                    ),
                ),
            ],
            options={
                "abstract": False,
                "base_manager_name": "unscoped",
                "default_manager_name": "unscoped",
            },
            managers=[("unscoped", django.db.models.manager.Manager())],
        ),
        migrations.AddConstraint(
            "estimatedmorning",
            models.UniqueConstraint(fields=("block", "on"), name="one_morning_a_day"),
        ),
        # Members are drawn numbers: there is nothing to compress.
        migrations.RunSQL(
            "ALTER TABLE advice_estimatedmorning ALTER members SET STORAGE EXTERNAL",
            migrations.RunSQL.noop,
        ),
        migrations.RunSQL(_make(), migrations.RunSQL.noop),
    ]
