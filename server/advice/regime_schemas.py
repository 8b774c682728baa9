"""What an answer has beside the usual, by the rule a block is watered by."""

from datetime import date

from core.crop.cutting import Harvested
from core.crop.season import Stage
from core.leaf.bands import LeafPhase
from core.leaf.steering import Side, Strategy
from core.ponded.cycles import NotDeeper
from core.ponded.phases import Phase
from server.base.schema import Schema


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
