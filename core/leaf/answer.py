"""What is said of a block that is steered by the leaf beside what is said of every block."""

from dataclasses import dataclass
from datetime import date

from core.arrays import Floats
from core.leaf.bands import LeafPhase
from core.leaf.round import RoundSays
from core.leaf.steering import Side, Strategy
from core.outlook.likely import Likely


@dataclass(frozen=True)
class LeafCourse:
    """The leaf by day; arrays, shape (days,), potentials [MPa].

    hours : from now, behind it below zero
    mpa : as the soil and the relation have it, NaN where the soil is not known
    dry_mpa, wet_mpa : the middle eight tenths ahead, without more water; NaN behind
    lower_mpa, upper_mpa : the band of the day
    """

    hours: Floats
    mpa: Floats
    dry_mpa: Floats
    wet_mpa: Floats
    lower_mpa: Floats
    upper_mpa: Floats


@dataclass(frozen=True)
class LeafAnswer:
    """Midday stem water potential, below zero [MPa].

    band_upper, band_lower : of the phase today; next_phase, next_on : the phase to come, None
        where there is none within the outlook
    now : as the soil and the relation have it today
    latest, latest_hours : the newest round that counts, and how long ago it was; None without one
    rounds : how many the relation was learned from
    apart_spreads : how far the newest round lies off what the soil made expected, in spreads,
        wetter above zero; None without enough rounds
    round_on : when the next round is due
    lower_share, upper_share : share of the available water gone at which the edges are reached [-]
    course : of the past days and those ahead, to be drawn
    side, side_until : which side is watered, and until when; None where they take no turns
    """

    strategy: Strategy
    phase: LeafPhase
    band_upper: float
    band_lower: float
    next_phase: LeafPhase | None
    next_on: date | None
    now: Likely
    rounds: int
    lower_share: float
    upper_share: float
    latest: RoundSays | None = None
    latest_hours: float | None = None
    apart_spreads: float | None = None
    leaves_wanted: int = 0
    round_on: date | None = None
    course: LeafCourse | None = None
    side: Side | None = None
    side_until: date | None = None
