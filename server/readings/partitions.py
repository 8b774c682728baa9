"""Monthly partitions of the readings' table, made ahead; of other months when a reading arrives."""

from collections.abc import Iterable
from datetime import UTC, datetime

from django.db import connection, transaction

from server.base.retrying import retried

# Months that are known to be there once their transaction has come through.
_made: set[str] = set()
_LOCK = 7_401  # advisory lock under which partitions are made
LONGEST_WAIT_MS = 2_000


def _months(first: datetime, last: datetime) -> list[tuple[int, int]]:
    start, end = first.astimezone(UTC), last.astimezone(UTC)
    count = (end.year - start.year) * 12 + end.month - start.month
    return [
        (start.year + (start.month - 1 + k) // 12, (start.month - 1 + k) % 12 + 1)
        for k in range(count + 1)
    ]


def ensure_months(first: datetime, last: datetime) -> None:
    """Make the partitions that readings between two instants fall into.

    To be called before a transaction that writes readings: whoever makes one waits for all who
    write, and must hold nothing that they wait for.
    """
    wanted = {f"readings_reading_{y:04}_{m:02}": (y, m) for y, m in _months(first, last)}
    if wanted.keys() <= _made:
        return
    if _missing(wanted):
        _make(wanted)
    transaction.on_commit(lambda: _made.update(wanted))


def _missing(wanted: Iterable[str]) -> list[str]:
    # Not to_regclass: within a transaction it may remember what was not there at its beginning.
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT name FROM unnest(%s::text[]) AS name WHERE NOT EXISTS (SELECT FROM pg_class "
            "WHERE relname = name AND relnamespace = 'public'::regnamespace)",
            [list(wanted)],
        )
        return [name for (name,) in cursor.fetchall()]


@retried
def _make(wanted: dict[str, tuple[int, int]]) -> None:
    with connection.cursor() as cursor:
        # Everybody who writes queues behind whoever waits here: not for long.
        cursor.execute(f"SET LOCAL lock_timeout = {LONGEST_WAIT_MS}")
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_LOCK])
        for name in _missing(wanted):
            year, month = wanted[name]
            low = f"{year:04}-{month:02}-01 00:00:00+00"
            high = f"{year + month // 12:04}-{month % 12 + 1:02}-01 00:00:00+00"
            # Attached after it is made: that does not keep others from reading meanwhile.
            cursor.execute(
                f"CREATE TABLE {name} (LIKE readings_reading INCLUDING ALL, "
                f"CHECK (\"time\" >= '{low}' AND \"time\" < '{high}'))"
            )
            cursor.execute(
                f"ALTER TABLE readings_reading ATTACH PARTITION {name} "
                f"FOR VALUES FROM ('{low}') TO ('{high}')"
            )
        cursor.execute("SET LOCAL lock_timeout TO DEFAULT")
