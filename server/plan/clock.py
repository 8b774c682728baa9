"""Midnights of the farm, and the hours between moments."""

from datetime import UTC, datetime, timedelta

HOUR = timedelta(hours=1)


def midnight_before(now: datetime) -> datetime:
    """The midnight, by the farm's clock, at which the day of a moment began."""
    return now.replace(hour=0, minute=0, second=0, microsecond=0)


def hours_between(first: datetime, then: datetime) -> float:
    """Hours that pass between two moments, whatever clocks do in between."""
    return (then.astimezone(UTC) - first.astimezone(UTC)) / HOUR
