"""Instruments on the wire. Depths in mm; times are instants; null is unknown."""

from datetime import datetime

from ninja import Field

from core.instrument.calibration import CurveKind
from core.instrument.kinds import InstrumentKind, Quantity
from core.instrument.reading_units import ReadingUnit
from server.base.language import Translated
from server.base.schema import Body, Schema


class InstrumentIn(Body):
    """``quantity`` is what it writes down; null: what its kind tells."""

    label: str = Field(max_length=80)
    kind: InstrumentKind
    depths_mm: list[float] = Field([], max_length=60)
    quantity: Quantity | None = None
    thermometer: bool = False
    serial: str = Field("", max_length=80)
    site: str = Field("", max_length=300)


class InstrumentChange(Body):
    """Only what is given is changed."""

    label: str | None = Field(None, max_length=80)
    serial: str | None = Field(None, max_length=80)
    site: str | None = Field(None, max_length=300)
    position: list[float] | None = Field(None, max_length=2)
    pass_place: float | None = Field(None, ge=0, le=1)
    constants: dict[str, float] | None = Field(None, max_length=20)
    walk_order: float | None = None


class ChannelOut(Schema):
    id: int
    quantity: Quantity
    depth_mm: float | None
    suspect: bool


class InstrumentOut(Schema):
    id: int
    label: str
    kind: InstrumentKind
    quantity: Quantity
    units: list[ReadingUnit]
    channels: list[ChannelOut]


class CalibrationOut(Schema):
    """theta = c0 + c1 x + c2 x^2 + c3 x^3 of the raw reading; ``from_at`` null: since ever."""

    id: int
    channel_id: int
    kind: CurveKind
    coefficients: list[float]
    raw_low: float | None
    raw_high: float | None
    from_at: datetime | None
    rmse: float | None
    samples: int
    reason: str
    made_at: datetime
    made_by: str
    undone_at: datetime | None
    undone_by: str


class PhotoOut(Schema):
    id: int
    taken_at: datetime
    note: str
    made_by: str


class KindOut(Schema):
    """What is known of a kind of instrument."""

    kind: InstrumentKind
    name: Translated
    quantity: Quantity
    raw: list[Quantity]
    units: list[ReadingUnit]
    has_depths: bool
    in_soil: bool
    logged: bool
    usual_depths_mm: list[float]
    lies: Translated
    source: Translated
