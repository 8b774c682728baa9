"""All that the answer for one block is made of."""

from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

from core.advice.assumptions import Assumptions
from core.advice.holds import Hold
from core.arrays import Floats
from core.estimate.checkpoint import Checkpoint
from core.instrument.site import Site
from core.leaf.round import LeafRound
from core.ponded.tube import Tube
from core.weather.years import WeatherRecord


@dataclass(frozen=True)
class PastWeather:
    """Recorded reference ET by day from ``first`` to yesterday [mm/day]; NaN is unknown."""

    first: date
    et0_mm: Floats


@dataclass(frozen=True)
class Watering:
    """Water that reached the root zone [mm net] at a moment [h from now, at most 0].

    Rain wets the whole surface, a set may not. ``begun_hours`` is when an irrigation that ended
    then had begun, where that is known.
    """

    hours: float
    net_mm: float
    is_rain: bool = False
    begun_hours: float | None = None


@dataclass(frozen=True)
class PlannedSet:
    """A set to come, or under way where ``start_hours`` lies before now: hours from now, and
    what it will bring to the root zone [mm net]."""

    start_hours: float
    end_hours: float
    net_mm: float


@dataclass(frozen=True)
class BlockInputs:
    """Everything known of one block at one instant: its record, its plans, and what is assumed.

    ``now`` is aware and in the farm's time zone, so that its date is the farm's date.

    past : recorded weather; without it there is no balance, and the sensors alone speak
    since : the block's first day; what was recorded before it tells nothing of its crop
    crossing : whether water moved over the block for long lately, and where on its way the
        sensors stand is not known: what they saw of it, and when, then tells nothing of the log
    tended : whether anybody logs what the block is given, also where no set lies within the
        waterings
    tubes : water tubes of a ponded field
    leaf_rounds : rounds of leaf readings, where the block is steered by them
    years : the weather of the years before, for what lies beyond the forecast; None is unknown
    checkpoint : the ensemble as of an earlier morning, to go on from; valid for as long as
        nothing that happened before it was told otherwise since
    seed : which draws the block gets; the same always gives the same
    """

    now: datetime
    assumed: Assumptions
    sites: tuple[Site, ...]
    waterings: tuple[Watering, ...]
    past: PastWeather | None = None
    planned: tuple[PlannedSet, ...] = ()
    holds: tuple[Hold, ...] = ()
    seed: int = 0
    since: date | None = None
    crossing: bool = False
    tended: bool = False
    tubes: tuple[Tube, ...] = ()
    leaf_rounds: tuple[LeafRound, ...] = ()
    years: WeatherRecord | None = None
    checkpoint: Checkpoint | None = None

    def assuming(self, **changes: Any) -> "BlockInputs":
        """The same block if other things were assumed of it; named as in `Assumptions`."""
        return replace(self, assumed=replace(self.assumed, **changes))
