"""What is said of a block: values only."""

from dataclasses import dataclass
from datetime import datetime

from core.advice.at_risk import AtRisk
from core.advice.history import History
from core.advice.holds import HoldKind
from core.advice.questions import Question
from core.advice.vocabulary import Confidence, Reason, State
from core.advice.working import BalanceRow, DayRow, LayerRow, Step
from core.arrays import Floats
from core.crop.cutting import CuttingAnswer
from core.crop.season import Stage
from core.deficit.answer import DeficitAnswer
from core.estimate.checkpoint import Checkpoint
from core.irrigation.amount import Amount
from core.leaf.answer import LeafAnswer
from core.limits.refill_method import RefillMethod
from core.limits.root_zone import RootZoneLimits
from core.ponded.answer import PondedAnswer
from core.state.estimate_from import EstimateFrom


@dataclass(frozen=True)
class RefillMethodAnswer:
    """What one method says: p [-], days left (infinity beyond the outlook), net water [mm].

    p is None where the method has no figure for the crop; then it says nothing.
    """

    refill_method: RefillMethod
    in_force: bool
    p: float | None
    days_left: float
    net_mm: float | None


@dataclass(frozen=True)
class EstimateAnswer:
    """The answer estimated from the sensors, from the water balance, or from both combined.

    deficit_mm is None where that method knows nothing; days left as in `RefillMethodAnswer`.
    """

    estimate_from: EstimateFrom
    in_force: bool
    deficit_mm: float | None
    sigma_mm: float | None
    days_left: float


@dataclass(frozen=True)
class Weighed:
    """How balance and sensors were brought together now [mm]; None where one has no word.

    forecast_mm : by the balance since the last weighing, with its spread
    observed_mm : by the sensors
    gain : weight of the readings: share of the state's variance that they took [-];
        correction_mm : what they moved
    offset_mm : estimated bias of the sensors as the limits read them, drier above zero
    use_factor : the crop's use over the book's, with its spread [-]
    """

    forecast_mm: float
    forecast_sigma_mm: float
    observed_mm: float | None
    gain: float
    correction_mm: float
    offset_mm: float | None
    use_factor: float
    use_sigma: float


@dataclass(frozen=True)
class Outlook:
    """Usable water at the start of each day, index 0 now [mm]; refill in days.

    ``usable_mm`` is the expected case over all its days; dry and wet bound the middle 80
    percent of the members over the days shown, and ``chance_past`` is the share of them that
    have passed refill by then [-].
    """

    usable_dry_mm: Floats
    usable_mm: Floats
    usable_wet_mm: Floats
    raw_mm: Floats
    days_left_dry: float
    days_left: float
    days_left_wet: float
    chance_past: Floats
    drained_mm: float


@dataclass(frozen=True)
class Assessment:
    """Answer for a block; parts that can't be known are None, with the reason listed.

    earliest_at : from when a set is worth giving; start_at : the latest start
    hold, hold_until : the stretch without water that moved the start, where one did
    taken_chance : of passing refill before the water comes, that the latest start takes [-]
    rain_chance : that rain makes the set needless for three days [-]; wait_mm : short on
        average after three days of waiting in vain or not [mm]; None without a forecast
    question : what a person should settle first, where sensors and log contradict each other
    ponded : the water of a ponded field; its store is then the water above its lowest level
    leaf : its leaves, where it is steered by them
    deficit : what the plan of less water leaves of the yield
    cutting : the calendar of cuts or grazings, and the holds that it makes
    at_risk : what lack of water would cost the crop; None of a ponded field
    checkpoint : the block's ensemble as of yesterday's morning, for tomorrow to go on from
    """

    state: State
    reasons: tuple[Reason, ...]
    confidence: Confidence
    stage: Stage | None = None
    root_mm: float | None = None
    limits: RootZoneLimits | None = None
    deficit_mm: float | None = None
    surplus_mm: float | None = None
    sigma_mm: float | None = None
    used_share: float | None = None
    etc_mm_day: float | None = None
    weighed: Weighed | None = None
    outlook: Outlook | None = None
    past: History | None = None
    below_refill_hours: float | None = None
    refill_at: datetime | None = None
    start_at: datetime | None = None
    earliest_at: datetime | None = None
    hold: HoldKind | None = None
    hold_until: datetime | None = None
    taken_chance: float | None = None
    rain_chance: float | None = None
    wait_mm: float | None = None
    amount: Amount | None = None
    refill_methods: tuple[RefillMethodAnswer, ...] = ()
    estimates: tuple[EstimateAnswer, ...] = ()
    layers: tuple[LayerRow, ...] = ()
    steps: tuple[Step, ...] = ()
    balance: tuple[BalanceRow, ...] = ()
    days: tuple[DayRow, ...] = ()
    question: Question | None = None
    ponded: PondedAnswer | None = None
    leaf: LeafAnswer | None = None
    deficit: DeficitAnswer | None = None
    cutting: CuttingAnswer | None = None
    at_risk: AtRisk | None = None
    checkpoint: Checkpoint | None = None
