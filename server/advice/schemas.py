"""Board and block on the wire. Water depths in mm, times as instants, null is unknown."""

from dataclasses import replace
from datetime import date, datetime
from typing import Annotated

from ninja import Field
from pydantic import AfterValidator

from core.advice.answer import Weighed
from core.advice.at_risk import WindowName
from core.advice.holds import HoldKind
from core.advice.questions import QuestionKind
from core.advice.vocabulary import Confidence, Reason, Regime, State
from core.advice.working import BalanceRow, DayRow, LayerRow, Step
from core.crop.cutting import Harvested
from core.crop.season import Stage
from core.irrigation.system import SystemKind
from core.leaf.bands import LeafPhase
from core.leaf.steering import Side, Strategy
from core.limits.refill_method import RefillMethod
from core.ponded.cycles import NotDeeper
from core.ponded.phases import Phase
from core.soil.texture import TextureClass
from core.state.estimate_from import EstimateFrom
from server.advice.models import Decision
from server.base.language import Translated, translated
from server.base.schema import Body, Schema
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


class LikelyOut(Schema):
    """A figure with its middle eight tenths."""

    low: float
    middle: float
    high: float


class LevelPoint(Schema):
    """A field's level at hours from now, above the ground [mm]; ``lower_mm`` is the lowest level of
    the phase, null where there is none. Behind now ``dry_mm`` and ``wet_mm`` are null."""

    hours: float
    level_mm: float | None
    dry_mm: float | None
    wet_mm: float | None
    lower_mm: float | None


class PondedOut(Schema):
    """The water of a ponded field, see `core.ponded.answer.PondedAnswer`; levels [mm]."""

    phase: Phase
    level: LikelyOut | None
    lower_mm: float | None
    upper_mm: float
    threshold_mm: float
    cycles: int
    deeper_mm: float | None
    not_deeper: NotDeeper | None
    flowering_on: date
    drain_on: date
    harvest_on: date
    percolation_mm_day: LikelyOut | None
    seepage_mm_day: LikelyOut | None
    porosity: LikelyOut | None
    loss_mm_day: float | None
    falls: int
    nitrogen_on: date | None


class LeafPoint(Schema):
    """Midday stem water potential by day at hours from now [MPa], as the soil and the relation have
    it, and the band of the day; behind now ``dry_mpa`` and ``wet_mpa`` are null."""

    hours: float
    mpa: float | None
    dry_mpa: float | None
    wet_mpa: float | None
    lower_mpa: float
    upper_mpa: float


class LeafSaidOut(Schema):
    """The leaves of a block, see `core.leaf.answer.LeafAnswer`; potentials [MPa]."""

    strategy: Strategy
    phase: LeafPhase
    band_upper: float
    band_lower: float
    next_phase: LeafPhase | None
    next_on: date | None
    now: LikelyOut
    rounds: int
    lower_share: float
    upper_share: float
    latest_mpa: float | None
    latest_hours: float | None
    apart_spreads: float | None
    leaves_wanted: int
    round_on: date | None
    side: Side | None
    side_until: date | None


class DeficitOut(Schema):
    """A plan of less water today, see `core.deficit.answer.DeficitAnswer`."""

    stage: Stage | None
    use_share: float | None
    allowed: float | None
    next_stage: Stage | None
    due_mm: float | None
    application_mm: float | None
    yield_share: float | None


class HarvestOut(Schema):
    """A cut or grazing ahead: no water from ``dry_from`` on, water again from ``water_from``."""

    on: date
    dry_from: date
    water_from: date
    water_from_early: date


class HarvestsOut(Schema):
    """The cuts or grazings ahead, the next one first."""

    harvested: Harvested
    ahead: list[HarvestOut]


class SensitiveWindowOut(Schema):
    """A sensitive window of the season; it ends before ``ends_on``."""

    name: WindowName
    ky: float
    starts_on: date
    ends_on: date


class AtRiskOut(Schema):
    """What lack of water would cost the crop, see `core.advice.at_risk.AtRisk`: shares of the full
    yield [-], depths over the block [mm]."""

    window: SensitiveWindowOut | None
    next_window: SensitiveWindowOut | None
    stress_day_share: float | None
    practice_share: float | None
    delay_mm: float | None
    delay_share: float | None
    rest_days: int
    rest_use_mm: float
    rest_need_mm: float


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


class StatedEtOut(Schema):
    low: float
    expected: float
    high: float
    source: str


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


class SiteSeries(Schema):
    """One instrument over time: rows are times, columns are depths.

    ``value`` in m3/m3 or kPa as read; ``fraction`` is the share of available water left,
    null where the reading is not trusted; ``doubt`` says why, by column, of the newest.
    """

    label: str
    is_tension: bool
    depth_mm: list[float]
    hours: list[float]
    value: list[list[float | None]]
    fraction: list[list[float | None]]
    doubt: list[Translated]


class StorePoint(Schema):
    """Water in the root zone between the surface and the root depth [mm]."""

    hours: float
    store_mm: float | None
    full_mm: float
    refill_mm: float
    wilt_mm: float
    root_mm: float


class UsePoint(Schema):
    date: date
    etc_mm: float | None
    rain_mm: float | None


# What a block's page opens with.
USUAL_DAYS = 21


class Stretch(Body):
    """How far back to look."""

    days: int = Field(USUAL_DAYS, ge=2, le=200)


class SeriesOut(Schema):
    now: datetime
    days: int
    sites: list[SiteSeries]
    store: list[StorePoint]
    use: list[UsePoint]
    sets: list[GivenSet]
    root_ahead_mm: list[float]
    profile_depth_mm: float
