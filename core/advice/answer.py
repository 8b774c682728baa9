"""What is said of a block: values only."""

from dataclasses import dataclass
from datetime import datetime

from core.advice.history import History
from core.advice.vocabulary import Confidence, Reason, State
from core.advice.working import DayRow, LayerRow, Step
from core.arrays import Floats
from core.crop.season import Stage
from core.irrigation.amount import Amount
from core.limits.root_zone import RootZoneLimits
from core.limits.school import School


@dataclass(frozen=True)
class SchoolAnswer:
    """What one school says: p [-], days left (infinity beyond the outlook), net water [mm].

    p is None where the school has no figure for the crop; then it says nothing.
    """

    school: School
    in_force: bool
    p: float | None
    days_left: float
    net_mm: float | None


@dataclass(frozen=True)
class Outlook:
    """Usable water at the start of each day, index 0 now [mm]; refill in days."""

    usable_dry_mm: Floats
    usable_mm: Floats
    usable_wet_mm: Floats
    raw_mm: Floats
    days_left_dry: float
    days_left: float
    days_left_wet: float


@dataclass(frozen=True)
class Assessment:
    """Answer for a block; parts that can't be known are None, with the reason listed."""

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
    outlook: Outlook | None = None
    past: History | None = None
    past_refill_hours: float | None = None
    refill_at: datetime | None = None
    start_at: datetime | None = None
    amount: Amount | None = None
    schools: tuple[SchoolAnswer, ...] = ()
    layers: tuple[LayerRow, ...] = ()
    steps: tuple[Step, ...] = ()
    days: tuple[DayRow, ...] = ()
