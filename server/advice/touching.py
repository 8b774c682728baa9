"""Triggers that note which answers a change makes wrong, made from what the models declare.

Rows of `Touched`, and of `EventsTouched` for what is read from readings, are only ever added by
whoever changes something, so that writers never wait for each other; whoever makes the answers or
reads the events anew takes the rows away.
"""

import hashlib
from typing import Any

from django.apps import apps
from django.db import connection, transaction

from server.farms.touches import Touches

# A logger's request says so for its own transaction.
_ADD = """
WITH answers AS ({answers}), of_events AS (
    INSERT INTO events_touched (farm_id, block_id, first_on) SELECT * FROM answers
)
INSERT INTO advice_touched (farm_id, block_id, first_on, by_logger)
SELECT answers.*, coalesce(current_setting('furrow.by_logger', true), '') = 'on'
FROM answers;"""
_FUNCTION = """
CREATE FUNCTION {table}_touches() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    {body}
    RETURN NULL;
END $$;
"""
_OF_ROWS = """
    IF TG_OP <> 'INSERT' THEN {old}
    END IF;
    IF TG_OP <> 'DELETE' THEN {new}
    END IF;"""
_TRIGGER = """
CREATE TRIGGER {table}_touches{suffix} AFTER {event} ON {table} {how}
    EXECUTE FUNCTION {table}_touches();
"""
# A statement's trigger sees the rows of one kind of change.
_TABLES = {"INSERT": "NEW", "UPDATE": "NEW", "DELETE": "OLD"}
_DROP = """
DO $$
DECLARE made regprocedure;
BEGIN
    FOR made IN SELECT oid FROM pg_proc WHERE proname LIKE '%\\_touches'
        AND pronamespace = current_schema()::regnamespace
    LOOP
        EXECUTE format('DROP FUNCTION %s CASCADE', made);
    END LOOP;
END $$;
"""
_MARK = "SELECT obj_description('advice_touched'::regclass)"


def declared() -> dict[str, Touches]:
    """What each table's changes touch, by its name; tables that touch nothing are left out."""
    found = {m._meta.db_table: getattr(m, "touches", None) for m in apps.get_models()}
    return {table: touches for table, touches in sorted(found.items()) if touches}


def _triggers(table: str, touches: Touches) -> str:
    def add(row: str) -> str:
        return _ADD.format(answers=touches.answers.format(row=row))

    if touches.per_statement:
        body = add("changed")
        made = [
            _TRIGGER.format(
                table=table,
                suffix=f"_{event.lower()}",
                event=event,
                how=f"REFERENCING {rows} TABLE AS changed FOR EACH STATEMENT",
            )
            for event, rows in _TABLES.items()
        ]
    elif touches.columns:
        body = add("NEW")
        event = f"UPDATE OF {', '.join(touches.columns)}"
        made = [_TRIGGER.format(table=table, suffix="", event=event, how="FOR EACH ROW")]
    else:
        body = _OF_ROWS.format(old=add("OLD"), new=add("NEW"))
        event = "INSERT OR UPDATE OR DELETE"
        made = [_TRIGGER.format(table=table, suffix="", event=event, how="FOR EACH ROW")]
    return _FUNCTION.format(table=table, body=body) + "".join(made)


def install(**_: Any) -> None:
    """Put the declared triggers into the database, where others are in it.

    Called when the database has been migrated. Every table that is declared must be there.
    """
    tables = declared()
    wanted = "".join(_triggers(table, touches) for table, touches in tables.items())
    mark = hashlib.sha256(wanted.encode()).hexdigest()
    with transaction.atomic(), connection.cursor() as cursor:
        there = connection.introspection.table_names(cursor)
        if not {"advice_touched", "events_touched", *tables} <= set(there):
            return  # migrated in part, to an older state
        cursor.execute(_MARK)
        if cursor.fetchone() == (mark,):
            return
        cursor.execute(_DROP + wanted + f"COMMENT ON TABLE advice_touched IS '{mark}'")
