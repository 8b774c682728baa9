"""The database itself notes which answers a change makes stale.

A row of `advice_touched` is only ever added by whoever changes something, so that writers never
wait for each other; whoever makes the answers anew takes the rows away.
"""

from django.db import migrations

# Table and how its rows lead to a block; %s is the row.
BLOCK_OF = {
    "blocks_block": "%s.id",
    "blocks_cropseason": "%s.block_id",
    "blocks_seasonevent": "(SELECT block_id FROM blocks_cropseason WHERE id = %s.season_id)",
    "limits_blocksoil": "%s.block_id",
    "limits_refillrule": "%s.block_id",
    "instruments_instrument": "%s.block_id",
    "instruments_channel": "(SELECT block_id FROM instruments_instrument WHERE id = %s.instrument_id)",
    "instruments_instrumentevent": "(SELECT block_id FROM instruments_instrument WHERE id = %s.instrument_id)",
    "instruments_channelcalibration": "(SELECT i.block_id FROM instruments_channel c "
    "JOIN instruments_instrument i ON i.id = c.instrument_id WHERE c.id = %s.channel_id)",
    "water_irrigation": "%s.block_id",
    "water_hold": "%s.block_id",
    "advice_decision": "(SELECT block_id FROM advice_advice WHERE id = %s.advice_id)",
}
FARM_OF = {
    "soils_soilprofile": "%s.farm_id",
    "soils_horizon": "(SELECT farm_id FROM soils_soilprofile WHERE id = %s.profile_id)",
    "crops_farmcrop": "%s.farm_id",
    "weather_weatherday": "%s.farm_id",
    "weather_weatherforecast": "%s.farm_id",
}
# Columns of a farm that its answers rest on.
FARM_COLUMNS = (
    "fixed_now, clock_started_at, clock_rate, time_zone, et0_low, et0_expected, et0_high, "
    "alfalfa_ratio"
)
# One call a row: these tables change a few rows at a time.
_ROWS = """
CREATE FUNCTION {table}_touches() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP <> 'INSERT' THEN
        {old}
    END IF;
    IF TG_OP <> 'DELETE' THEN
        {new}
    END IF;
    RETURN NULL;
END $$;
CREATE TRIGGER {table}_touches AFTER INSERT OR UPDATE OR DELETE ON {table}
    FOR EACH ROW EXECUTE FUNCTION {table}_touches();
"""
_BLOCK = "INSERT INTO advice_touched (farm_id, block_id) SELECT farm_id, id FROM blocks_block WHERE id = {of};"
_FARM = "INSERT INTO advice_touched (farm_id) SELECT id FROM farms_farm WHERE id = {of};"
# Every way a reading can change ends in its span, so one trigger sees them all; one call a
# statement, for they come by the thousand.
_SPANS = """
CREATE FUNCTION readings_span_touches() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO advice_touched (farm_id, block_id)
    SELECT DISTINCT b.farm_id, b.id FROM changed s
        JOIN instruments_channel c ON c.id = s.channel_id
        JOIN instruments_instrument i ON i.id = c.instrument_id
        JOIN blocks_block b ON b.id = i.block_id;
    RETURN NULL;
END $$;
CREATE TRIGGER readings_span_added AFTER INSERT ON readings_readingspan
    REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION readings_span_touches();
CREATE TRIGGER readings_span_changed AFTER UPDATE ON readings_readingspan
    REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION readings_span_touches();
CREATE TRIGGER readings_span_removed AFTER DELETE ON readings_readingspan
    REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION readings_span_touches();
"""
_FARM_ROW = f"""
CREATE FUNCTION farms_farm_touches() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO advice_touched (farm_id) VALUES (NEW.id);
    RETURN NULL;
END $$;
CREATE TRIGGER farms_farm_touches AFTER UPDATE OF {FARM_COLUMNS} ON farms_farm
    FOR EACH ROW EXECUTE FUNCTION farms_farm_touches();
"""
# What was advised stays as it was said; only a block that goes takes its advice along.
_NEVER_REWRITTEN = """
CREATE FUNCTION advice_stays() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'an advice is never rewritten' USING ERRCODE = 'restrict_violation';
END $$;
CREATE TRIGGER advice_stays BEFORE UPDATE ON advice_advice
    FOR EACH ROW EXECUTE FUNCTION advice_stays();
"""


def _make() -> str:
    parts = []
    for statement, tables in ((_BLOCK, BLOCK_OF), (_FARM, FARM_OF)):
        for table, of in tables.items():
            old, new = (statement.format(of=of % row) for row in ("OLD", "NEW"))
            parts.append(_ROWS.format(table=table, old=old, new=new))
    return "".join([*parts, _SPANS, _FARM_ROW, _NEVER_REWRITTEN])


def _drop() -> str:
    functions = [f"{t}_touches" for t in (*BLOCK_OF, *FARM_OF)]
    functions += ["readings_span_touches", "farms_farm_touches", "advice_stays"]
    return "".join(f"DROP FUNCTION {f}() CASCADE;" for f in functions)


class Migration(migrations.Migration):
    dependencies = [
        ("advice", "0001_stored_answers"),
        ("blocks", "0006_supply_person_capillary"),
        ("crops", "0001_initial"),
        ("farms", "0004_station_and_morning_mail"),
        ("instruments", "0004_curve_samples"),
        ("limits", "0002_from_blocks"),
        ("readings", "0003_flag_rules"),
        ("soils", "0003_measured_points"),
        ("water", "0003_sets_and_holds"),
        ("weather", "0003_forecasts"),
    ]
    operations = [migrations.RunSQL(_make(), _drop())]
