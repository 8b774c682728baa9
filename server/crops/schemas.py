"""What a crop looks like on the wire."""

from enum import StrEnum

from ninja import Field

from core.crop.degree_days import DegreeDayMethod
from core.crop.reference import Surface
from server.base.language import Translated
from server.base.schema import Body, Name, Schema


class SaltOut(Body):
    """ECe that costs no yield [dS/m] and the loss per dS/m above it [percent]."""

    threshold_ds_m: float
    slope_percent: float


class DegreeDaysOut(Body):
    method: DegreeDayMethod
    base_c: float
    upper_c: float | None
    stage_sums: list[float] = Field(min_length=4, max_length=4)


class CanopyOut(Body):
    height_m: float = Field(gt=0, le=40)
    cover: float = Field(gt=0, le=1)


class CuttingOut(Schema):
    days: list[int]
    kc: list[float]
    kcb: list[float] | None


class WindowOut(Schema):
    """A critical window; start and end as stage number from 0 plus the share of it gone."""

    name: Translated
    start: float
    end: float
    ky: float


class StageOut(Schema):
    """A stage to look for; ``place`` as in a window."""

    key: str
    name: Translated
    place: float


class CropValue(StrEnum):
    """What a farm may state of its own about a crop, see `CropIn`."""

    STAGE_DAYS = "stage_days"
    KC = "kc"
    KCB = "kcb"
    HEIGHT_M = "height_m"
    SURFACE = "surface"
    ROOT_INITIAL_MM = "root_initial_mm"
    ROOT_SCHEDULE_MM = "root_schedule_mm"
    ROOT_DEEP_MM = "root_deep_mm"
    P = "p"
    TENSION_KPA = "tension_kpa"
    SALT = "salt"
    DEGREE_DAYS = "degree_days"
    CANOPY = "canopy"


class Difference(Schema):
    """A value that is not the published one, both as text of plain numbers."""

    value: CropValue
    own: str
    book: str


class CropRow(Schema):
    """A crop to choose: of the book, or the farm's own."""

    key: str
    name: str
    group: Translated
    own: bool
    book_key: str
    calendar: Translated
    perennial: bool
    surface: Surface
    kc: list[float]
    stage_days: list[int]
    root_initial_mm: float
    root_schedule_mm: float
    root_deep_mm: float
    p: float
    tension_kpa: float | None
    counts_warmth: bool
    scales_with_cover: bool
    is_cut: bool
    blocks: int
    sources: dict[str, str]


class CropOut(CropRow):
    """A crop with all its values; Kc on ``surface``, roots in mm, tension in kPa."""

    reason: str
    height_m: float
    kcb: list[float] | None
    ky_season: float | None
    windows: list[WindowOut]
    salt: SaltOut | None
    degree_days: DegreeDaysOut | None
    canopy: CanopyOut | None
    cutting: CuttingOut | None
    stages: list[StageOut]
    differences: list[Difference]
    curve_kc: list[float]
    curve_root_mm: list[float]


class CropIn(Body):
    """A crop of the farm's own; what equals the book's value or is left out stays the book's.
    A value that is null is not known, a height then the book's."""

    name: Name
    book_key: Name
    reason: str = Field("", max_length=280)
    stage_days: list[int] = Field(min_length=4, max_length=4)
    kc: list[float] = Field(min_length=3, max_length=3)
    kcb: list[float] | None = Field(None, min_length=3, max_length=3)
    height_m: float | None = None
    surface: Surface
    root_initial_mm: float
    root_schedule_mm: float
    root_deep_mm: float
    p: float
    tension_kpa: float | None = None
    salt: SaltOut | None = None
    degree_days: DegreeDaysOut | None = None
    canopy: CanopyOut | None = None


class CropRef(Schema):
    key: str
    name: str
