"""What is drawn of a block: readings, stores and use over time."""

from datetime import date, datetime

from ninja import Field

from server.advice.schemas import GivenSet
from server.base.language import Translated
from server.base.schema import Body, Schema


class SiteSeries(Schema):
    """One instrument over time: rows are times, columns are depths.

    ``value`` in m3/m3 or kPa as read; ``fraction`` is the share of available water left,
    null where the reading is not trusted; ``doubt`` says why, by column, of the newest.
    """

    label: str
    is_tension: bool
    depth_mm: list[float]
    hours: list[float]
    value: list[list[float | None]]
    fraction: list[list[float | None]]
    doubt: list[Translated]


class StorePoint(Schema):
    """Water in the root zone between the surface and the root depth [mm]."""

    hours: float
    store_mm: float | None
    full_mm: float
    refill_mm: float
    wilt_mm: float
    root_mm: float


class UsePoint(Schema):
    date: date
    etc_mm: float | None
    rain_mm: float | None


# What a block's page opens with.
USUAL_DAYS = 21


class Stretch(Body):
    """How far back to look."""

    days: int = Field(USUAL_DAYS, ge=2, le=200)


class SeriesOut(Schema):
    now: datetime
    days: int
    sites: list[SiteSeries]
    store: list[StorePoint]
    use: list[UsePoint]
    sets: list[GivenSet]
    root_ahead_mm: list[float]
    profile_depth_mm: float
