"""Board and block on the wire. Water depths in mm, times as instants, null is unknown."""

from dataclasses import replace
from datetime import date, datetime
from typing import Annotated

from pydantic import AfterValidator

from core.advice.answer import Weighed
from core.advice.holds import HoldKind
from core.advice.questions import QuestionKind
from core.advice.vocabulary import Confidence, Reason, Regime, State
from core.advice.working import BalanceRow, DayRow, LayerRow, Step
from core.crop.season import Stage
from core.irrigation.system import SystemKind
from core.limits.refill_method import RefillMethod
from core.soil.texture import TextureClass
from core.state.estimate_from import EstimateFrom
from server.advice.models import Decision
from server.advice.regime_schemas import (
    DeficitOut,
    HarvestsOut,
    LeafPoint,
    LeafSaidOut,
    LevelPoint,
    PondedOut,
)
from server.advice.risk_schemas import AtRiskOut
from server.base.language import translated
from server.base.schema import Schema
from server.blocks.schemas import StageChoice
from server.instruments.schemas import InstrumentOut
from server.water.holds import HoldOut
from server.water.models import Irrigation


def _translated(row: LayerRow) -> LayerRow:
    """A layer with its doubt in the reader's language."""
    return replace(row, doubt=translated(row.doubt))


class PastPoint(Schema):
    hours: float
    usable_mm: float | None
    surplus_mm: float | None
    raw_mm: float


class AheadPoint(Schema):
    day: int
    dry_mm: float
    usable_mm: float
    wet_mm: float
    raw_mm: float
    chance_past: float


class DaysLeft(Schema):
    """Null where the block lasts beyond the outlook."""

    dry: float | None
    expected: float | None
    wet: float | None


class AmountOut(Schema):
    net_mm: float
    gross_mm: float
    volume_m3: float
    hours: float


class RunOut(Schema):
    """How the equipment gives it: turns of a machine and its speed, sets that a system too
    small for the block takes one after the other, pulses where the soil can't keep up, which
    ``runs_off`` says, or where water comes little and often."""

    turns: int
    turn_hours: float
    speed_percent: float | None
    sets: int
    pulses: int
    on_hours: float | None
    pause_hours: float | None
    total_hours: float
    runs_off: bool | None = None


class DecisionOut(Schema):
    """What a person did with today's advice."""

    id: int
    kind: Decision.Kind
    why: Decision.Why | None
    reason: str
    made_at: datetime
    made_by: str | None
    set_id: int | None


class GivenSet(Schema):
    """A set as it ran, as it runs, or as it is planned; by the clock, and by its hours from when
    it was drawn."""

    id: int
    status: Irrigation.Status
    starts_at: datetime
    ends_at: datetime
    start_hours: float
    end_hours: float
    gross_mm: float


class QuestionOut(Schema):
    """What only a person can tell: whether water came in a day, as the sensors or the log have
    it; ``set_id`` is the logged set that is doubted, where there is one."""

    kind: QuestionKind
    first_at: datetime
    last_at: datetime
    net_mm: float
    gross_mm: float
    set_id: int | None


class AnswerOut(Schema):
    """The answer for a block, without its working.

    ``taken_chance`` of passing refill is what the latest start takes; ``rain_chance``, that rain
    makes the set needless for three days, is null without a forecast.
    """

    state: State
    reasons: list[Reason]
    confidence: Confidence
    stage: Stage | None
    usable_mm: float | None
    deficit_mm: float | None
    surplus_mm: float | None
    sigma_mm: float | None
    used_share: float | None
    days_left: DaysLeft | None
    refill_at: datetime | None
    start_at: datetime | None
    earliest_at: datetime | None
    hold: HoldKind | None
    hold_until: datetime | None
    taken_chance: float | None
    rain_chance: float | None
    wait_mm: float | None
    drained_mm: float | None
    below_refill_hours: float | None
    last_reading_hours: float | None
    amount: AmountOut | None
    run: RunOut | None
    question: QuestionOut | None = None
    regime: Regime
    ponded: PondedOut | None = None
    leaf: LeafSaidOut | None = None
    deficit: DeficitOut | None = None
    cutting: HarvestsOut | None = None
    at_risk: AtRiskOut | None = None


class StatedEtOut(Schema):
    low: float
    expected: float
    high: float
    source: str


class LimitsOut(Schema):
    full_mm: float
    refill_mm: float
    wilt_mm: float
    taw_mm: float
    raw_mm: float


class RefillMethodOut(Schema):
    refill_method: RefillMethod
    in_force: bool
    p: float | None
    days_left: float | None
    net_mm: float | None


class EstimateOut(Schema):
    estimate_from: EstimateFrom
    in_force: bool
    deficit_mm: float | None
    sigma_mm: float | None
    days_left: float | None


class ProfileHorizon(Schema):
    top_mm: float
    bottom_mm: float
    texture: TextureClass
    theta_full: float
    theta_wilt: float
    full_tension_kpa: float
    source: str


class BlockOut(Schema):
    """A block with its working; ``is_cut``: its crop grows again after a cut or grazing."""

    id: int
    name: str
    area_m2: float
    crop: str | None
    planted_on: date | None
    system: SystemKind
    soil: str
    is_cut: bool
    time_zone: str
    now: datetime
    et: StatedEtOut | None
    answer: AnswerOut
    decision: DecisionOut | None
    holds: list[HoldOut]
    stages: list[StageChoice]
    root_mm: float | None
    etc_mm_day: float | None
    limits: LimitsOut | None
    horizons: list[ProfileHorizon]
    layers: list[Annotated[LayerRow, AfterValidator(_translated)]]
    steps: list[Step]
    days: list[DayRow]
    refill_methods: list[RefillMethodOut]
    weighed: Weighed | None
    estimates: list[EstimateOut]
    balance: list[BalanceRow]
    past: list[PastPoint]
    ahead: list[AheadPoint]
    levels: list[LevelPoint]
    leaves: list[LeafPoint]
    sets: list[GivenSet]
    instruments: list[InstrumentOut]
