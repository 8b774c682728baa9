"""Times as a person writes them, by the farm's clock."""

from datetime import UTC, datetime
from zoneinfo import ZoneInfo


def to_instant(local: datetime, zone: ZoneInfo) -> datetime | None:
    """The instant of a farm-local time, or of one with its own offset; None when clocks skipped it.

    In the hour that autumn repeats, the first pass is meant.
    """
    if local.tzinfo is not None:
        return local.astimezone(UTC)
    instant = local.replace(tzinfo=zone, fold=0).astimezone(UTC)
    skipped = instant.astimezone(zone).replace(tzinfo=None) != local
    return None if skipped else instant
