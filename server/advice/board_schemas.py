"""The board of all blocks."""

from datetime import date, datetime

from core.irrigation.system import SystemKind
from server.advice.schemas import (
    AheadPoint,
    AnswerOut,
    DecisionOut,
    GivenSet,
    PastPoint,
    StatedEtOut,
)
from server.base.schema import Schema


class BoardRow(Schema):
    id: int
    name: str
    area_m2: float
    crop: str | None
    system: SystemKind
    supply: str
    irrigator: str | None
    decision: DecisionOut | None
    answer: AnswerOut
    past: list[PastPoint]
    ahead: list[AheadPoint]
    sets: list[GivenSet]


class RainDay(Schema):
    date: date
    rain_mm: float


class RainAhead(Schema):
    """What the forecast holds of a day: the share of its members with at least 1 mm, and what
    most of them bring [mm]."""

    date: date
    chance: float
    likely_mm: float


class BoardOut(Schema):
    farm: str
    time_zone: str
    now: datetime
    simulated: bool
    et: StatedEtOut | None
    alfalfa_ratio: float | None
    rain: list[RainDay]
    rain_ahead: list[RainAhead]
    rows: list[BoardRow]
