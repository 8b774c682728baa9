"""What a soil looks like on the wire."""

from ninja import Field

from core.crop.season import Stage
from core.soil.horizon import CurveShape, LimitMethod
from core.soil.texture import TextureClass
from server.base.language import Translated
from server.base.moment import Day
from server.base.schema import Body, Name, Schema


class Point(Body):
    """A measured pair: tension [kPa] and content of the fine earth [m3/m3]."""

    tension_kpa: float
    theta: float


class HorizonIn(Body):
    """Depths in mm; sand, silt, clay, organic matter in percent by weight; gravel by volume;
    bulk density in g/cm3; ECe in dS/m; contents in m3/m3 of the fine earth."""

    top_mm: float = Field(ge=0, le=5000)
    bottom_mm: float = Field(ge=0, le=5000)
    sand: float | None = None
    silt: float | None = None
    clay: float | None = None
    texture: TextureClass | None = None
    organic_matter: float = 1.5
    gravel: float = 0
    bulk_density: float | None = None
    ece: float | None = None
    stops_roots: bool = False
    note: str = Field("", max_length=200)
    method: LimitMethod = LimitMethod.REGRESSION
    curve: CurveShape | None = None
    full_tension_kpa: float | None = None
    points: list[Point] = Field(default_factory=list, max_length=40)
    theta_full: float | None = None
    theta_wilt: float | None = None


class MethodOut(Schema):
    """What one method says of a horizon, whole soil; ``problem`` says why it can't be asked."""

    method: LimitMethod
    source: str = ""
    theta_full: float | None = None
    theta_wilt: float | None = None
    available_mm_per_m: float | None = None
    sigma_mm_per_m: float | None = None
    problem: Translated = ""


class CurveOut(Schema):
    """Whole-soil content by one shape of curve at the preview's tensions."""

    shape: CurveShape
    in_force: bool
    theta: list[float]


class HorizonOut(Schema):
    """Limits of a horizon, whole soil, with the other methods beside the one in force."""

    top_mm: float
    bottom_mm: float
    texture: TextureClass
    sand: float
    clay: float
    theta_full: float
    theta_wilt: float
    theta_sat: float
    sigma_full: float
    sigma_wilt: float
    full_tension_kpa: float
    ksat_mm_h: float
    intake_mm_h: float
    source: str
    clamped: bool
    available_mm_per_m: float
    sigma_mm_per_m: float
    methods: list[MethodOut]
    curves: list[CurveOut]


class SoilPreviewIn(Body):
    horizons: list[HorizonIn] = Field(max_length=30)
    crop_key: Name | None = None
    planted_on: Day | None = None


class SoilPreviewOut(Schema):
    """Limits by horizon, and of the root zone when a crop is in the ground [mm].

    ``relative_yield`` is what the salt in the roots leaves of the crop's yield; null unknown.
    """

    horizons: list[HorizonOut]
    tensions_kpa: list[float]
    root_limit_mm: float
    root_mm: float | None
    taw_mm: float | None
    raw_mm: float | None
    stage: Stage | None
    ece: float | None
    relative_yield: float | None


class SoilIn(Body):
    """``from_on`` and ``reason`` count where blocks stand on the soil already; no date means
    that it was always so."""

    name: str = Field(max_length=120)
    note: str = Field(default="", max_length=500)
    horizons: list[HorizonIn] = Field(max_length=30)
    from_on: Day | None = None
    reason: str = Field(default="", max_length=300)


class SoilRef(Schema):
    id: int
    name: str


class SoilHorizonRow(Schema):
    top_mm: float
    bottom_mm: float
    texture: TextureClass
    available_mm: float
    stops_roots: bool


class SoilRow(Schema):
    """A soil of the library; available water down to a metre, or as deep as roots can go.

    One that is ``surveyed`` comes from a soil survey and was not seen on this farm.
    """

    id: int
    name: str
    note: str
    depth_mm: float
    available_mm: float
    sigma_mm: float
    methods: list[LimitMethod]
    blocks: list[str]
    earlier: bool
    surveyed: bool
    horizons: list[SoilHorizonRow]


class SoilOut(Schema):
    id: int
    name: str
    note: str
    horizons: list[HorizonIn]
    blocks: list[str]
    earlier: bool
    surveyed: bool


class TriangleClass(Schema):
    """A class as a patch of the triangle; corners as sand and clay percent."""

    texture: TextureClass
    sand: list[float]
    clay: list[float]
    label_sand: float
    label_clay: float


class HandAnswer(Schema):
    say: Translated
    next_step: str | None
    texture: TextureClass | None


class HandStep(Schema):
    key: str
    ask: Translated
    answers: list[HandAnswer]


class LaboratorySoil(Schema):
    """A soil read from a laboratory's sheet; ``row`` is its first line in the file."""

    name: str
    row: int
    exists: bool
    horizons: list[HorizonIn]


class LaboratoryOut(Schema):
    """What a sheet holds; ``columns`` are those understood, ``ignored`` those not used."""

    soils: list[LaboratorySoil]
    columns: list[str]
    ignored: list[str]
    saved: bool
