"""What a block looks like on the wire."""

from datetime import date

from ninja import Field

from core.crop.season import Stage
from core.irrigation.system import SystemKind
from core.limits.refill_method import RefillMethod
from core.soil.texture import TextureClass
from core.state.estimate_from import EstimateFrom
from server.base.language import Translated
from server.base.moment import Day
from server.base.schema import Body, Keys, Name, Schema
from server.blocks.models import CropSeason, EventKind
from server.soils.schemas import HorizonIn


class SystemIn(Body):
    """Give the rate, the flow, or the figures of the design that it is worked out from;
    efficiency as a fraction; depths in mm gross."""

    kind: SystemKind
    rate_mm_h: float | None = None
    flow_m3_h: float | None = None
    design: dict[str, float | None] = Field(default_factory=dict, max_length=12)
    efficiency: float
    smallest_mm: float = Field(0, ge=0, le=1000)
    largest_mm: float | None = Field(None, gt=0, le=1000)


class BlockIn(Body):
    """A soil of the library, or horizons of a new one. ``soil_from`` dates a change of soil,
    no date meaning that it was always so. ``refill_method`` counts when the block is made.
    ``water_table_mm`` is the depth of the water table where no observation well tells it: what
    rises follows from it; else ``capillary_mm_day`` rises. ``little_and_often`` waters each day
    what was used; not for what moves over the block. ``irrigator_id`` is one of the farm's
    people."""

    name: str = Field(max_length=80)
    area_m2: float = Field(gt=0, le=1e8)
    soil_id: int | None = None
    soil_name: str = Field("", max_length=120)
    horizons: list[HorizonIn] = Field(default_factory=list, max_length=30)
    soil_from: Day | None = None
    crop_key: Name | None = None
    planted_on: Day | None = None
    system: SystemIn
    slope_percent: float = Field(1, ge=0, le=100)
    rain_room_mm: float = Field(0, ge=0, le=200)
    water_ecw: float | None = Field(None, ge=0, le=50)
    refill_method: RefillMethod = RefillMethod.CROP_P
    estimate_from: EstimateFrom = EstimateFrom.COMBINED
    dual: bool = False
    capillary_mm_day: float = Field(0, ge=0, le=20)
    water_table_mm: float | None = Field(None, ge=0, le=10_000)
    little_and_often: bool = False
    supply: str = Field("", max_length=60)
    irrigator_id: int | None = None


class BlockSetupOut(BlockIn):
    """A block as it was entered, for mending."""

    id: int
    refill_method: RefillMethod
    estimate_from: EstimateFrom


class BlockRef(Schema):
    id: int
    name: str


class BlockLine(Schema):
    """A block in the list; null is unknown. ``outline_m2`` is measured on the ellipsoid.

    TAW and RAW are over the whole ground, of which ``wetted_share`` is watered.
    """

    id: int
    name: str
    area_m2: float
    outline_m2: float | None
    soil_id: int
    soil: str
    crop_key: str | None
    crop: str | None
    planted_on: date | None
    stage: Stage | None
    refill_method: RefillMethod | None
    taw_mm: float | None
    raw_mm: float | None
    system: SystemKind
    wetted_share: float


class UsualOut(Schema):
    """What a kind of system usually reaches, low to high [fraction].

    ``wetted`` is the share of the ground that it usually wets, null where it wets all of it.
    """

    kind: SystemKind
    efficiency: list[float]
    du_lq: list[float]
    source: str
    wetted: float | None
    wetted_source: str


class CatalogueOut(Schema):
    textures: list[TextureClass]
    usual: list[UsualOut]
    system_kinds: list[SystemKind]
    moving_kinds: list[SystemKind]


class BulkIn(Body):
    """One change to many blocks, all or none: a crop from a date, a soil, or a refill rule."""

    block_ids: Keys = Field(min_length=1)
    crop_key: Name | None = None
    planted_on: Day | None = None
    clock: CropSeason.Clock = CropSeason.Clock.DAYS
    soil_id: int | None = None
    refill_method: RefillMethod | None = None
    value: float | None = None
    stage: Stage | None = None
    from_on: Day | None = None
    reason: str = Field("", max_length=300)


class BulkOut(Schema):
    blocks: int


class SeasonIn(Body):
    crop_key: Name
    planted_on: Day
    clock: CropSeason.Clock = CropSeason.Clock.DAYS


class EventIn(Body):
    """A stage seen, a ground cover measured (fraction, with height in m), or a cut."""

    kind: EventKind
    on: Day
    stage_key: str = Field("", max_length=24)
    cover: float | None = None
    height_m: float | None = None


class EventOut(EventIn):
    id: int
    label: Translated


class StageChoice(Schema):
    key: str
    name: Translated


class SeasonOut(SeasonIn):
    """A crop season with what was seen of it, and what can be looked for."""

    id: int
    crop: str
    under_way: bool
    counts_warmth: bool
    scales_with_cover: bool
    is_cut: bool
    perennial: bool
    stages: list[StageChoice]
    events: list[EventOut]
