"""Monthly partitions of the readings' table, made when the first reading of a month arrives."""

from datetime import UTC, datetime

from django.db import connection, transaction

# Months that are known to be there once their transaction has come through.
_made: set[str] = set()
_LOCK = 7_401  # advisory lock under which partitions are made


def _months(first: datetime, last: datetime) -> list[tuple[int, int]]:
    start, end = first.astimezone(UTC), last.astimezone(UTC)
    count = (end.year - start.year) * 12 + end.month - start.month
    return [
        (start.year + (start.month - 1 + k) // 12, (start.month - 1 + k) % 12 + 1)
        for k in range(count + 1)
    ]


def ensure_months(first: datetime, last: datetime) -> None:
    """Make the partitions that readings between two instants fall into."""
    wanted = {f"readings_reading_{y:04}_{m:02}": (y, m) for y, m in _months(first, last)}
    if wanted.keys() <= _made:
        return
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_LOCK])
        cursor.execute(
            "SELECT name FROM unnest(%s::text[]) AS name WHERE to_regclass(name) IS NULL",
            [list(wanted)],
        )
        for (name,) in cursor.fetchall():
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
    transaction.on_commit(lambda: _made.update(wanted))
