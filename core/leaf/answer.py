"""What is said of a block that is steered by the leaf beside what is said of every block."""

from dataclasses import dataclass
from datetime import date

from core.arrays import Floats
from core.leaf.bands import LeafPhase
from core.leaf.round import RoundSays
from core.leaf.steering import Side, Strategy
from core.outlook.likely import Likely


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
    past_hours, past_mpa : arrays, shape (times,), of the past days, NaN where not known
    ahead_days, ahead_mpa, dry_mpa, wet_mpa : arrays, shape (days,), without more water
    lower_ahead, upper_ahead : arrays, shape (days,), of the bands to come
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
    past_hours: Floats | None = None
    past_mpa: Floats | None = None
    ahead_days: Floats | None = None
    ahead_mpa: Floats | None = None
    dry_mpa: Floats | None = None
    wet_mpa: Floats | None = None
    lower_ahead: Floats | None = None
    upper_ahead: Floats | None = None
    side: Side | None = None
    side_until: date | None = None
