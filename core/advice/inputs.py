"""All that the answer for one block is made of."""

from dataclasses import dataclass
from datetime import datetime

from core.crop.reference import Surface
from core.crop.season import CropSeason
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem
from core.limits.by_day import BlockGround, DatedSoil
from core.limits.school import LimitRule
from core.soil.profile import Profile


@dataclass(frozen=True)
class StatedEt:
    """Reference ET expected for the days ahead [mm/day], low < expected < high."""

    low: float
    expected: float
    high: float
    source: str
    surface: Surface = Surface.GRASS


@dataclass(frozen=True)
class Watering:
    """Water that reached the root zone [mm net] at a moment [h from now, at most 0]."""

    hours: float
    net_mm: float


@dataclass(frozen=True)
class BlockInputs:
    """Everything known of one block at one instant.

    ``now`` is aware and in the farm's time zone, so that its date is the farm's date.
    ``profile`` is the soil now; ``soils`` are all its descriptions with the dates they hold
    from, that one last; empty when there was never another. ``alfalfa_ratio`` is the farm's
    alfalfa-reference ET over grass-reference ET.
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

    @property
    def dated_soils(self) -> tuple[DatedSoil, ...]:
        """The soil's descriptions, the one now last."""
        return self.soils or (DatedSoil(None, self.profile),)

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
