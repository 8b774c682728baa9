"""Chosen spots on the wire: taken along, installed, checked, kept or moved."""

from datetime import date, datetime
from typing import Annotated

from ninja import Field

from core.instrument.kinds import InstrumentKind
from core.instrument.life import LifeStatus
from core.siting.hand_check import HandWay
from core.siting.purpose import Purpose
from server.base.language import Translated
from server.base.moment import Day, Moment
from server.base.schema import Body, Schema
from server.soils.schemas import HorizonIn, SoilHorizonRow

Longitude = Annotated[float, Field(ge=-180, le=180)]
Latitude = Annotated[float, Field(ge=-90, le=90)]
Position = tuple[Longitude, Latitude]


class ProbeSpotIn(Body):
    longitude: Longitude
    latitude: Latitude
    name: str = Field(min_length=1, max_length=80)
    why: str = Field(min_length=1, max_length=300)


class ProbeSpotOut(Schema):
    id: int
    name: str
    position: Position
    purpose: Purpose
    score: float | None
    why: str
    made_at: datetime
    made_by: str
    instrument: int | None


class SpotInstrumentIn(Body):
    label: str = Field(min_length=1, max_length=80)
    kind: InstrumentKind
    depths_mm: list[float] = Field(default_factory=list, max_length=60)
    round_id: int | None = None
    installed_at: Moment | None = None


class SpotSoil(Schema):
    """A soil of the library at a spot: of a zone of the map, or else of the block or a core;
    ``surveyed`` where nobody saw it."""

    of_zone: bool
    id: int
    name: str
    surveyed: bool
    horizons: list[SoilHorizonRow]


class SpotSheet(Schema):
    """What to take along to a spot: where it is, how a kind of instrument is installed, and the
    soil to expect, of the map's zone there or of the block."""

    expected: SpotSoil | None

    spot: ProbeSpotOut
    block_id: int
    block: str
    kind: InstrumentKind
    kind_name: Translated
    steps: list[Translated]
    proof: Translated
    usual_depths_mm: list[float]
    cautions: list[Translated]


class SpotCoreIn(Body):
    """A soil core and its tests. ``name`` is of the soil in the library; ``describes`` an existing
    soil that the core describes anew; ``for_block`` puts the block on it from that day on."""

    taken_on: Day
    horizons: list[HorizonIn] = Field(min_length=1, max_length=30)
    name: str = Field(default="", max_length=120)
    describes: int | None = None
    for_block: bool = False
    note: str = Field(default="", max_length=300)


class HandDepth(Body):
    """Water content [m3/m3], or by feel the fraction of the available water."""

    depth_mm: float = Field(gt=0, le=5000)
    value: float = Field(ge=0, le=1)


class SpotCheckIn(Body):
    at: Moment | None = None
    way: HandWay
    depths: list[HandDepth] = Field(min_length=1, max_length=30)
    note: str = Field(default="", max_length=300)


class CheckedDepthOut(Schema):
    """Contents in m3/m3; ``sensor`` is null where it said nothing. ``differs`` says that they are
    further apart than two measurements of one soil."""

    depth_mm: float
    by_hand: float
    sensor: float | None
    differs: bool


class SpotCheckOut(Schema):
    id: int
    at: datetime
    way: HandWay
    note: str
    made_by: str
    depths: list[CheckedDepthOut]


class SpotDecisionIn(Body):
    """``moved_to`` is another chosen spot of the block that the instrument went to."""

    kept: bool
    why: str = Field(min_length=1, max_length=300)
    moved_to: int | None = None


class SpotDecisionOut(Schema):
    id: int
    kept: bool
    why: str
    moved_to: str
    difference: float | None
    spread: float | None
    sites: int | None
    days: int | None
    made_at: datetime
    made_by: str


class ProbeStanding(Schema):
    """How a probe lies to the mean of all: ``difference`` and its ``spread`` over time, as shares
    of the mean; ``index`` is small where it stands for the mean as it is."""

    instrument: int
    label: str
    block: str
    difference: float
    spread: float
    index: float


class SpotStanding(Schema):
    """Probes from the driest to the wettest, by the water in ``depth_mm`` of soil on ``days`` days
    on which all of them were read."""

    depth_mm: float
    days: int
    probes: list[ProbeStanding]


class SpotRecord(Schema):
    """What became of a spot: its core, its instrument, checks, decisions. ``standing`` is null
    where fewer than three probes were read on enough days together."""

    core_on: date | None
    soil: SpotSoil | None
    instrument: str
    installed_at: datetime | None
    settled_at: datetime | None
    status: LifeStatus | None
    next_check: date | None
    depths_mm: list[float]
    checks: list[SpotCheckOut]
    decisions: list[SpotDecisionOut]
    standing: SpotStanding | None


class SpotLine(Schema):
    """A chosen spot and how far it is: core, probe, settling, checks by hand."""

    id: int
    name: str
    block: str
    core_on: date | None
    instrument: str
    status: LifeStatus | None
    settled_at: datetime | None
    next_check: date | None
