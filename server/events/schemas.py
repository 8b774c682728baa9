"""A block's wetting events on the wire; depths of water are over all of its ground."""

from datetime import date, datetime

from ninja import Field

from core.learned.root_activity import RootsFit
from server.base.moment import Day
from server.base.schema import Body, Schema


class SensorAnswer(Schema):
    """How one sensor answered: nulls where it did not.

    ``rise`` is of its water content to its wettest reading [m3/m3], null where it is not known.
    """

    depth_mm: float
    arrived_after: datetime | None
    arrived_by: datetime | None
    wettest_at: datetime | None
    rise: float | None


class Brought(Schema):
    """An irrigation that a wetting came from."""

    id: int
    starts_at: datetime
    ends_at: datetime
    gross_mm: float


class WettingOut(Schema):
    """What came, how deep it went, what stayed and what passed the roots.

    ``stored_mm`` is what the soil held more by ``settled_at`` than before, and ``used_mm`` what the
    crop used until then; both together are found again.
    Spreads are standard deviations. Water arrived after ``began_after`` and by ``began_by``.
    ``reached_high_mm`` is null where it went on below the deepest sensor; ``recovery`` is the share
    of what was given [-] that was found again. ``is_over`` is False while readings may still change
    it.
    """

    id: int
    instrument_id: int
    instrument: str
    began_after: datetime
    began_by: datetime
    settled_at: datetime
    is_over: bool
    sensors: list[SensorAnswer]
    reached_mm: float
    reached_low_mm: float
    reached_high_mm: float | None
    front_mm_h: float | None
    root_mm: float | None
    stored_mm: float | None
    stored_sigma_mm: float | None
    irrigations: list[Brought]
    rain_days: list[date]
    given_mm: float | None
    given_sigma_mm: float | None
    used_mm: float | None
    recovery: float | None
    recovery_sigma: float | None
    passed_mm: float | None
    passed_sigma_mm: float | None
    drained_at: datetime | None
    drained_mm: float


class LayerUptake(Schema):
    """What a sensor's layer loses by day beyond its nights; null where the sensor is silent."""

    depth_mm: float
    uptake_mm: float | None


class SeenOnBlockOut(Schema):
    """The full point of a horizon, from 0, as a block's sensors have shown it, with its middle 80
    percent [m3/m3]."""

    block_id: int
    block: str
    index: int
    seen: float
    low: float
    high: float


class HorizonFullOut(Schema):
    """The full point of a horizon in use, and as its sensors have shown it with its middle 80
    percent; contents of the whole soil [m3/m3]. ``index`` names it when it is adopted;
    ``last_season`` is what seasons before this one have shown, null where they showed none."""

    index: int
    top_mm: float
    bottom_mm: float
    in_use: float
    wilt: float
    seen: float
    low: float
    high: float
    sensors: int
    events: int
    last_season: float | None
    can_be_adopted: bool


class AdoptIn(Body):
    """Horizons whose full point is to be the one seen, from a day on; null: since ever."""

    horizons: list[int] = Field(max_length=40)
    from_on: Day | None = None
    reason: str = Field("", max_length=500)


class RootActivityOut(Schema):
    """How deep the roots at an instrument feed, by its newest dry days.

    ``feeds_mm``: above it 90 percent of the uptake lies, ``low_mm`` and ``high_mm`` the middle 80
    percent; null where it lies below the deepest sensor's layer. ``root_mm`` is the depth of the
    roots that is used today, and ``fit`` whether it goes with that.
    """

    instrument: str
    days: int
    layers: list[LayerUptake]
    low_mm: float
    feeds_mm: float | None
    high_mm: float | None
    root_mm: float | None
    fit: RootsFit | None


class HoursOut(Schema):
    """Hours that just wet roots of a depth, and the gross depth that they apply.

    ``low`` and ``high`` are the middle 80 percent; ``high`` is null where no irrigation went deep
    enough to tell.
    """

    root_mm: float
    low: float
    likely: float
    high: float | None
    gross_mm: float


class RunHoursOut(Schema):
    """What the block's last irrigations did, and how long they should run.

    ``reached_mm`` is null where most went past the deepest sensor; ``passed_mm`` of one went past
    the roots on average. ``enough`` is for the roots of now first, then for deeper ones.
    """

    irrigations: list[int]
    habit_hours: float
    habit_net_mm: float
    habit_gross_mm: float
    reached_mm: float | None
    passed_mm: float
    enough: list[HoursOut]
