"""Moments and days as they come in: within what a farm's record can be about.

A slip of the year, or a date that no calendar arithmetic survives, ends here and nowhere deeper.
"""

from datetime import UTC, date, datetime, timedelta
from typing import Annotated, Any
from zoneinfo import ZoneInfo

from django.db.models import CheckConstraint, Q
from pydantic import AfterValidator

from core.sentence import sentence

EARLIEST, LATEST = date(1950, 1, 1), date(2100, 1, 1)
AHEAD = timedelta(days=366)  # nothing is planned further ahead
OUTSIDE = "the year lies outside 1950 to 2099; check it"
TOO_FAR_AHEAD = sentence("That is more than a year ahead; check the date.")


def _on_record(day: date) -> date:
    if not EARLIEST <= day < LATEST:
        raise ValueError(OUTSIDE)
    return day


def _within(moment: datetime) -> datetime:
    # By its own clock: turned to another, the first and last of all dates overflow.
    _on_record(moment.date())
    return moment


# Of a request's body, path or query.
Moment = Annotated[datetime, AfterValidator(_within)]
Day = Annotated[date, AfterValidator(_on_record)]


def bounded(field: str, name: str, is_moment: bool = True, may_be_null: bool = False) -> Any:
    """The same bounds as a constraint of the database on a column of moments, or of days."""
    low, high = (
        (datetime.combine(d, datetime.min.time(), tzinfo=UTC) if is_moment else d)
        # A day either way: a farm's clock is not that of the database.
        for d in (EARLIEST - timedelta(days=1), LATEST + timedelta(days=1))
    )
    inside = Q(**{f"{field}__gte": low, f"{field}__lt": high})
    return CheckConstraint(
        condition=(Q(**{f"{field}__isnull": True}) | inside) if may_be_null else inside, name=name
    )


def to_instant(local: datetime, zone: ZoneInfo) -> datetime | None:
    """The instant of a farm-local time, or of one with its own offset; None when clocks skipped it.

    In the hour that autumn repeats, the first pass is meant.
    """
    if local.tzinfo is not None:
        return local.astimezone(UTC)
    instant = local.replace(tzinfo=zone, fold=0).astimezone(UTC)
    skipped = instant.astimezone(zone).replace(tzinfo=None) != local
    return None if skipped else instant


def by_the_phone(now: datetime, at: datetime, age_seconds: float | None) -> datetime:
    """When something was done that a phone tells of later.

    Parameters
    ----------
    now : in the farm's time zone
    at : by the phone's clock; farm-local without an offset
    age_seconds : how long ago by its watch; goes before its clock where it is given
    """
    if age_seconds is not None:
        return now - timedelta(seconds=age_seconds)
    return at if at.tzinfo is not None else at.replace(tzinfo=now.tzinfo)
