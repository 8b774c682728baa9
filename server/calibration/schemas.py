"""The calibration worksheet as the API tells it. Masses in g, volumes in mL, theta in m3/m3."""

from ninja import Field

from core.instrument.calibration import CurveKind
from server.base.language import Translated
from server.base.moment import Moment
from server.base.schema import Body, Keys, Schema


class SampleIn(Body):
    raw: float
    wet_g: float
    dry_g: float
    tare_g: float
    volume_ml: float


class WorksheetIn(Body):
    """``raw`` in the core unit of what the instrument writes down. ``maker``: the coefficients
    of the maker's curve, constant first."""

    samples: list[SampleIn] = Field(max_length=200)
    channels: Keys
    maker: list[float] = Field([], max_length=4)
    organic_percent: float | None = None
    dried_c: float | None = None


class WeighedOut(Schema):
    gravimetric: float
    bulk_density: float
    theta: float


class FitOut(Schema):
    """``line_raw`` and ``line_theta`` draw the curve; ``grave`` warnings refuse it."""

    kind: CurveKind
    coefficients: list[float]
    rmse: float
    left_out: float | None
    residual: list[float]
    line_raw: list[float]
    line_theta: list[float]
    grave: list[Translated]
    warnings: list[Translated]


class WorksheetOut(Schema):
    """``best`` is the family with the smallest left-out error; null where none fits."""

    weighed: list[WeighedOut]
    coverage: float | None
    field_density: float | None
    fits: list[FitOut]
    best: CurveKind | None


class ApplyIn(WorksheetIn):
    """``insist``: in spite of grave warnings, whose reason must then be given."""

    kind: CurveKind
    from_at: Moment | None = None
    reason: str = Field(max_length=300)
    insist: bool = False


class AppliedOut(Schema):
    curves: list[int]
    judged: int


class SamplesOut(Schema):
    samples: list[SampleIn]
