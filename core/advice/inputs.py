"""All that the answer for one block is made of."""

from dataclasses import dataclass
from datetime import date, datetime
from math import inf

from core.advice.holds import Hold
from core.arrays import Floats
from core.crop.reference import Surface
from core.crop.season import CropSeason
from core.estimate.checkpoint import Checkpoint
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem
from core.limits.by_day import BlockGround, DatedSoil
from core.limits.school import LimitRule
from core.outlook.forecast import Forecast
from core.soil.profile import Profile
from core.state.weighing import Weighing


@dataclass(frozen=True)
class StatedEt:
    """Reference ET expected for the days ahead [mm/day], low < expected < high."""

    low: float
    expected: float
    high: float
    source: str
    surface: Surface = Surface.GRASS


@dataclass(frozen=True)
class PastWeather:
    """Recorded reference ET by day from ``first`` to yesterday [mm/day]; NaN is unknown."""

    first: date
    et0_mm: Floats


@dataclass(frozen=True)
class Watering:
    """Water that reached the root zone [mm net] at a moment [h from now, at most 0].

    Rain wets the whole surface, a set may not.
    """

    hours: float
    net_mm: float
    is_rain: bool = False


@dataclass(frozen=True)
class PlannedSet:
    """A set to come, or under way where ``start_hours`` lies before now: hours from now, and
    what it will bring to the root zone [mm net]."""

    start_hours: float
    end_hours: float
    net_mm: float


@dataclass(frozen=True)
class BlockInputs:
    """Everything known of one block at one instant.

    ``now`` is aware and in the farm's time zone, so that its date is the farm's date.
    ``profile`` is the soil now; ``soils`` are all its descriptions with the dates they hold
    from, that one last; empty when there was never another. ``alfalfa_ratio`` is the farm's
    alfalfa-reference ET over grass-reference ET.

    past : recorded weather; without it there is no balance, and the sensors alone speak
    forecast : members of the weather ahead; without it the stated ET and no rain
    root_share : share of the ground under which roots are watered [-]
    since : the block's first day; what was recorded before it tells nothing of its crop
    tended : whether anybody logs what the block is given, also where no set lies within the
        waterings
    checkpoint : the ensemble as of an earlier morning, to go on from; valid for as long as
        nothing that happened before it was told otherwise since
    seed : which draws the block gets; the same always gives the same
    dual : soil evaporation apart from the crop's use (dual coefficient), where the crop has
        a basal one; ``height_m`` of the crop and ``wetted`` share of the ground go into it
    """

    now: datetime
    profile: Profile
    season: CropSeason | None
    sites: tuple[Site, ...]
    waterings: tuple[Watering, ...]
    et: StatedEt | None
    system: IrrigationSystem
    rules: tuple[LimitRule, ...] = ()
    rain_room_mm: float = 0.0
    soils: tuple[DatedSoil, ...] = ()
    alfalfa_ratio: float | None = None
    past: PastWeather | None = None
    forecast: Forecast | None = None
    weighing: Weighing = Weighing.BLEND
    root_share: float = 1.0
    intake_mm_h: float = inf
    capillary_mm_day: float = 0.0
    leaching_share: float = 0.0
    dual: bool = False
    height_m: float = 0.5
    wetted: float = 1.0
    planned: tuple[PlannedSet, ...] = ()
    holds: tuple[Hold, ...] = ()
    seed: int = 0
    since: date | None = None
    tended: bool = False
    checkpoint: Checkpoint | None = None

    @property
    def dated_soils(self) -> tuple[DatedSoil, ...]:
        """The soil's descriptions, the one now last."""
        return self.soils or (DatedSoil(None, self.profile),)

    @property
    def stated_et(self) -> StatedEt:
        """The stated ET, where there is one.

        Raises
        ------
        ValueError
        """
        if self.et is None:
            raise ValueError("no ET is stated for the block")
        return self.et

    def season_for_et(self) -> CropSeason | None:
        """The crop with its Kc on the surface of the ET at hand; None without crop or ET.

        Raises
        ------
        SurfacesDiffer
            When it is another and the farm states no ratio.
        """
        if self.season is None or self.et is None:
            return None
        return self.season.on(self.et.surface, self.alfalfa_ratio)

    def ground(self, season: CropSeason) -> BlockGround:
        """What the limits of the block are made of."""
        return BlockGround(self.dated_soils, season, self.rules)
