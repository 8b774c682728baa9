"""Limits of a block on the wire. Water depths in mm, tensions in kPa, null is unknown."""

from datetime import date, datetime
from typing import Literal

from ninja import Field

from core.crop.salinity import Leaching
from core.crop.season import Stage
from core.limits.refill_method import RefillMethod
from core.soil.texture import TextureClass
from server.base.language import Translated
from server.base.moment import Day
from server.base.schema import Body, Schema


class LayerOut(Schema):
    """The part of a horizon within the roots; theta in m3/m3 of the whole soil."""

    top_mm: float
    bottom_mm: float
    texture: TextureClass
    source: str
    theta_full: float
    theta_refill: float
    theta_wilt: float
    full_kpa: float
    refill_kpa: float
    full_mm: float
    refill_mm: float
    wilt_mm: float
    available_mm: float
    available_sigma_mm: float


class RefillMethodLimits(Schema):
    """What a method says on the day; null where it has no figure for the crop.

    ``value`` is what it starts from: p, the flat share, or the tension; ``kpa`` the tension of
    the first layer when refill is reached.
    """

    refill_method: RefillMethod
    in_force: bool
    value: float | None
    p: float | None
    raw_mm: float | None
    refill_mm: float | None
    kpa: float | None
    source: str


class WindowDates(Schema):
    """A critical window with the days it takes this season."""

    name: Translated
    ky: float
    first: date
    last: date


class SeasonCurve(Schema):
    """One value a day from ``first``; refill by the rule in force and by each method."""

    first: date
    full_mm: list[float]
    wilt_mm: list[float]
    root_mm: list[float]
    kc: list[float]
    stage: list[Stage]
    in_force: list[RefillMethod]
    refill_mm: list[float | None]
    crop_p_mm: list[float | None]
    flat_mm: list[float | None]
    tension_mm: list[float | None]


class ChangeOut(Schema):
    """A dated change of what the limits are made of."""

    id: int
    kind: Literal["soil", "refill"]
    from_on: date | None
    soil: str
    refill_method: RefillMethod | None
    value: float | None
    stage: Stage | None
    reason: str
    made_by: str
    made_at: datetime
    undone_by: str
    undone_at: datetime | None


class LeachingOut(Schema):
    """Share of the water for leaching [-], the ECe that it holds [dS/m], the yield left at that
    [-], and whether more would be needed to lose no more than a tenth of it."""

    share: float
    ece_ds_m: float
    yield_left: float
    falls_short: bool

    @classmethod
    def of(cls, found: Leaching | None) -> "LeachingOut | None":
        """As the core has it."""
        return cls.model_validate(found, from_attributes=True) if found else None


class BlockLimitsOut(Schema):
    """Limits of a block on a day; depths of water are over the whole ground, of which
    ``wetted_share`` is watered, by ``wetted_source``."""

    block_id: int
    name: str
    on: date
    today: date
    crop: str | None
    crop_key: str | None
    crop_tension_kpa: float | None
    stage: Stage | None
    root_mm: float | None
    kc: float | None
    et0_mm_day: float | None
    et_source: str
    etc_mm_day: float | None
    full_mm: float | None
    wilt_mm: float | None
    taw_mm: float | None
    taw_sigma_mm: float | None
    refill_mm: float | None
    raw_mm: float | None
    wetted_share: float
    wetted_source: str
    soil: str
    soil_id: int
    ece: float | None
    relative_yield: float | None
    water_ecw: float | None
    leaching: LeachingOut | None
    layers: list[LayerOut]
    refill_methods: list[RefillMethodLimits]
    windows: list[WindowDates]
    curve: SeasonCurve | None
    changes: list[ChangeOut]
    why_not: Translated


class RefillIn(Body):
    """A refill rule from a date (none: from the beginning), in one stage or in all."""

    refill_method: RefillMethod
    value: float | None = None
    stage: Stage | None = None
    from_on: Day | None = None
    reason: str = Field("", max_length=300)
