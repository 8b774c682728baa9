"""What a block looks like on the wire."""

from datetime import date

from ninja import Field, Schema

from core.advice.vocabulary import School
from core.irrigation.system import SystemKind
from core.soil.horizon import LimitMethod
from core.soil.texture import TextureClass


class HorizonIn(Schema):
    """Depths in mm; sand, silt, clay, organic matter in percent by weight; gravel by volume."""

    top_mm: float = Field(ge=0, le=5000)
    bottom_mm: float = Field(ge=0, le=5000)
    sand: float | None = None
    silt: float | None = None
    clay: float | None = None
    texture: TextureClass | None = None
    organic_matter: float = 1.5
    gravel: float = 0
    method: LimitMethod = LimitMethod.REGRESSION
    theta_full: float | None = None
    theta_wilt: float | None = None


class HorizonOut(Schema):
    """Limits of a horizon, whole soil, with the other method beside the one in force."""

    texture: TextureClass
    sand: float
    clay: float
    theta_full: float
    theta_wilt: float
    theta_sat: float
    full_tension_kpa: float
    source: str
    clamped: bool
    available_mm_per_m: float
    regression_mm_per_m: float
    book_mm_per_m: float


class SystemIn(Schema):
    """Give the rate or the flow; efficiency as a fraction; depths in mm gross."""

    kind: SystemKind
    rate_mm_h: float | None = None
    flow_m3_h: float | None = None
    efficiency: float
    smallest_mm: float = Field(0, ge=0, le=1000)
    largest_mm: float | None = Field(None, gt=0, le=1000)


class BlockIn(Schema):
    name: str = Field(max_length=80)
    area_m2: float = Field(gt=0, le=1e8)
    soil_name: str = Field("", max_length=120)
    horizons: list[HorizonIn]
    crop_key: str | None = None
    planted_on: date | None = None
    system: SystemIn
    rain_room_mm: float = Field(0, ge=0, le=200)
    school: School = School.CROP_P


class BlockSetupOut(BlockIn):
    """A block as it was entered, for mending."""

    id: int


class BlockRef(Schema):
    id: int
    name: str


class CropOut(Schema):
    """Book values of a crop; Kc on the grass reference surface, roots in mm."""

    key: str
    name: str
    group: str
    stage_days: list[int]
    calendar: str
    kc: list[float]
    root_initial_mm: float
    root_schedule_mm: float
    p: float
    sources: dict[str, str]


class CatalogueOut(Schema):
    crops: list[CropOut]
    textures: list[TextureClass]
    system_kinds: list[SystemKind]
    moving_kinds: list[SystemKind]


class SoilPreviewIn(Schema):
    horizons: list[HorizonIn]
    crop_key: str | None = None
    planted_on: date | None = None


class SoilPreviewOut(Schema):
    """Limits by horizon, and of the root zone when a crop is in the ground [mm]."""

    horizons: list[HorizonOut]
    root_mm: float | None
    taw_mm: float | None
    raw_mm: float | None
    stage: str | None
