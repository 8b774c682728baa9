"""Hours from now as moments of the farm's clock."""

from datetime import datetime
from math import isfinite


def instant(now: datetime, hours: float) -> datetime | None:
    """An hour from now as an instant, to the second; arithmetic in UTC so that clock changes
    don't shift it. None where it is not within sight."""
    if not isfinite(hours):
        return None
    moved = round(now.timestamp() + hours * 3600)
    return datetime.fromtimestamp(moved, tz=now.tzinfo)


def whole_hour(now: datetime, hours: float) -> datetime | None:
    """The whole hour at or before an instant, but never before now."""
    at = instant(now, hours)
    if at is None:
        return None
    floored = at.replace(minute=0, second=0, microsecond=0)
    return max(floored, now.replace(second=0, microsecond=0))
