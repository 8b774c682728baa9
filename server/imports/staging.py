"""Readings of a file between its check and its storing: a table of its own, sorted by the database.

The table is not logged: after a crash of the database it is empty and the file is checked anew.
"""

from dataclasses import dataclass
from datetime import datetime

from django.db import connection
from django.db.backends.utils import CursorWrapper

from core.sentence import sentence
from server.imports.understand import STAGED_ROW, RefusedCell
from server.readings.binary_copy import EPOCH_US, Records, copy_in, copy_out
from server.readings.store import ROW

PART_ROWS = 100_000
MAX_TWINS_NAMED = 500


@dataclass(frozen=True)
class ChannelTally:
    """What a file holds for one channel, in the unit it is written in."""

    channel_id: int
    readings: int
    new: int
    changed: int
    first: datetime
    last: datetime
    low: float
    high: float


def _table(import_id: int) -> str:
    return f"imports_staged_{int(import_id)}"


def make_staging(import_id: int) -> None:
    """An empty table for the readings of an import."""
    with connection.cursor() as cursor:
        drop_staging(import_id)
        cursor.execute(
            f"CREATE UNLOGGED TABLE {_table(import_id)} (line bigint, channel_id bigint, "
            '"time" timestamptz, value double precision, unit smallint)'
        )


def drop_staging(import_id: int) -> None:
    """Let the staged readings go."""
    with connection.cursor() as cursor:
        cursor.execute(f"DROP TABLE IF EXISTS {_table(import_id)}")


def is_staged(import_id: int) -> bool:
    """Whether the table is there and holds anything."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT to_regclass(%s)", [_table(import_id)])
        if cursor.fetchone()[0] is None:
            return False
        cursor.execute(f"SELECT EXISTS (SELECT FROM {_table(import_id)})")  # noqa: S608
        return bool(cursor.fetchone()[0])


def add_staged(import_id: int, rows: Records) -> None:
    """Add readings of `STAGED_ROW`."""
    if not rows.size:
        return
    staged = rows.astype(STAGED_ROW)
    staged["time"] -= EPOCH_US
    with connection.cursor() as cursor:
        copy_in(cursor, _table(import_id), staged)


def drop_twins(import_id: int) -> tuple[int, list[RefusedCell], int]:
    """Keep the first of several rows for one channel and time.

    Returns
    -------
    repeated : int, rows that said the same again
    named : the rows that said something else, up to `MAX_TWINS_NAMED`
    contrary : int, how many such there are
    """
    table = _table(import_id)
    with connection.cursor() as cursor:
        cursor.execute(f'CREATE INDEX ON {table} (channel_id, "time", line)')
        cursor.execute(f"ANALYZE {table}")
        cursor.execute(
            f"""
            CREATE TEMPORARY TABLE twin ON COMMIT DROP AS
            SELECT * FROM (
                SELECT ctid AS place, line, value, unit,
                    first_value(line) OVER w AS first_line,
                    first_value(value) OVER w AS first_value,
                    first_value(unit) OVER w AS first_unit, row_number() OVER w AS nth
                FROM {table} WINDOW w AS (PARTITION BY channel_id, "time" ORDER BY line)
            ) AS q WHERE nth > 1
            """  # noqa: S608
        )
        cursor.execute(f"DELETE FROM {table} WHERE ctid IN (SELECT place FROM twin)")  # noqa: S608
        contrary = "value IS DISTINCT FROM first_value OR unit <> first_unit"
        cursor.execute(f"SELECT count(*), count(*) FILTER (WHERE {contrary}) FROM twin")  # noqa: S608
        every, wrong = cursor.fetchone()
        cursor.execute(
            f"SELECT line, value, first_line, first_value FROM twin WHERE {contrary} "  # noqa: S608
            f"ORDER BY line LIMIT {MAX_TWINS_NAMED}"
        )
        named = [
            RefusedCell(
                line,
                "",
                f"{value:g}",
                sentence(
                    "Row {first_line} has the same time for this sensor and says {first:g}; that "
                    "one is taken.",
                    first_line=first_line,
                    first=first,
                ),
            )
            for line, value, first_line, first in cursor.fetchall()
        ]
        cursor.execute("DROP TABLE twin")
    return every - wrong, named, wrong


def compare(import_id: int) -> list[ChannelTally]:
    """Staged readings held against those that are stored, by channel."""
    table = _table(import_id)
    with connection.cursor() as cursor:
        cursor.execute(f'SELECT min("time"), max("time") FROM {table}')  # noqa: S608
        first, last = cursor.fetchone()
        if first is None:
            return []
        cursor.execute(
            f"""
            SELECT s.channel_id, count(*),
                count(*) FILTER (WHERE r.channel_id IS NULL),
                count(*) FILTER (WHERE r.channel_id IS NOT NULL
                    AND (r.value IS DISTINCT FROM s.value OR r.unit <> s.unit)),
                min(s."time"), max(s."time"), min(s.value), max(s.value)
            FROM {table} s LEFT JOIN readings_reading r
                ON r.channel_id = s.channel_id AND r."time" = s."time"
                AND r."time" BETWEEN %(first)s AND %(last)s
            GROUP BY s.channel_id ORDER BY s.channel_id
            """,  # noqa: S608
            {"first": first, "last": last},
        )
        return [ChannelTally(*row) for row in cursor.fetchall()]


def part_starts(import_id: int) -> list[datetime]:
    """Instants that cut the staged readings into stretches of about `PART_ROWS`."""
    with connection.cursor() as cursor:
        cursor.execute(
            f"""
            SELECT DISTINCT min("time") FROM (
                SELECT "time", (row_number() OVER (ORDER BY "time") - 1) / {PART_ROWS} AS part
                FROM {_table(import_id)}
            ) AS q GROUP BY part ORDER BY 1
            """  # noqa: S608
        )
        starts = [row[0] for row in cursor.fetchall()]
        cursor.execute(f'CREATE INDEX ON {_table(import_id)} ("time")')
    return starts


def staged_part(cursor: CursorWrapper, import_id: int, first: str, before: str | None) -> Records:
    """Staged readings from an instant on, to before another [ISO]; an array of `ROW`."""
    query = (
        f'SELECT channel_id, "time", value, unit FROM {_table(import_id)} '  # noqa: S608
        'WHERE "time" >= %(first)s AND (%(before)s::timestamptz IS NULL OR "time" < %(before)s)'
    )
    return copy_out(cursor, query, {"first": first, "before": before}, ROW)
