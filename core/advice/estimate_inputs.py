"""What the ensembles of blocks are told: days of the crop and the weather, water, readings."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property

import numpy as np

from core.advice.inputs import BlockInputs
from core.advice.rise import rise_by_day
from core.arrays import Bools, Floats
from core.crop.basal import basal_crop
from core.crop.depletion import adjusted_p
from core.crop.season import CropDays, CropSeason, season_days, season_starts
from core.estimate.ahead import DaysAhead
from core.estimate.blocks import Grounds
from core.estimate.forcing import Below, Daily, Steps
from core.estimate.readings import readings_of
from core.instrument.kinds import kinds
from core.instrument.site import Site
from core.soil.water_table import root_bound_mm
from core.state.estimate_from import EstimateFrom

# How far a day's use strays from Kc and ET0 where that was recorded and where it was not, as a
# share of it; working assumptions, no source.
USE_SIGMA, UNRECORDED_USE_SIGMA = 0.12, 0.3
SAME_HOURS = 1e-6  # moments no further apart are the same [h]
# So far ahead roots are asked for, to know what soil they will still reach [days].
AHEAD = 60


@dataclass(frozen=True)
class WeatherAhead:
    """Weather and water of the days from now on, each of 24 h.

    et0_mm : array (courses, days) [mm/day]
    rain_mm : array (blocks, courses, days), that enters the soil; given_mm : (blocks, days)
        Over the whole block [mm].
    """

    et0_mm: Floats
    rain_mm: Floats
    given_mm: Floats

    def of(self, rows: Sequence[int] | np.ndarray) -> "WeatherAhead":
        """Some of the blocks."""
        at = np.asarray(rows)
        return WeatherAhead(self.et0_mm, self.rain_mm[at], self.given_mm[at])


def soil_sites(block: BlockInputs) -> list[Site]:
    """Sites that tell of the soil, none where the balance leads."""
    if block.assumed.estimate_from is EstimateFrom.BALANCE:
        return []
    return [s for s in block.sites if s.depth_mm.size and kinds()[s.kind].in_soil]


def same_ensemble(block: BlockInputs, season: CropSeason) -> Hashable:
    """What an ensemble depends on: another rule or amount beside a block needs no other."""
    return (
        id(block.assumed.profile),
        id(season),
        id(block.sites),
        block.assumed.estimate_from is EstimateFrom.BALANCE,
        id(block.waterings),
        id(block.planned),
        id(block.past),
        id(block.assumed.et),
        block.assumed.wetted_share,
        block.assumed.capillary_mm_day,
        id(block.assumed.water_table),
        block.seed,
    )


def has_readings(block: BlockInputs) -> bool:
    """Whether any sensor of the block has sent anything yet, reliable or not."""
    return any(site.hours.size > 0 for site in block.sites)


def is_tended(block: BlockInputs) -> bool:
    """Whether anybody tells what the block is given."""
    return block.tended or any(not w.is_rain for w in block.waterings)


@dataclass(frozen=True)
class EstimateInputs:
    """Blocks that begin at the same morning; arrays by calendar day from there, today at ``days``.

    crop : with its basal coefficient, to `AHEAD` days beyond today
    et0_mm, recorded : arrays (blocks, days + 1)
    strip : array (blocks,), share of the ground that is irrigated [-]
    begins : array (blocks, days + 1) of bool, whether a season of the crop begins on the day
    """

    blocks: tuple[BlockInputs, ...]
    grounds: Grounds
    begin: date
    days: int
    crop: CropDays
    p: Floats
    et0_mm: Floats
    recorded: np.ndarray
    strip: Floats
    begins: Bools

    @classmethod
    def of(
        cls,
        blocks: Sequence[BlockInputs],
        seasons: Sequence[CropSeason],
        grounds: Grounds,
        begin: date,
        et0_mm: Floats,
        recorded: np.ndarray,
    ) -> "EstimateInputs":
        """From blocks and the weather of their days."""
        days = et0_mm.shape[1] - 1
        crops = {id(s.crop): basal_crop(s.crop) for s in seasons}
        basal = [replace(s, crop=crops[id(s.crop)]) for s in seasons]
        return cls(
            blocks=tuple(blocks),
            grounds=grounds,
            begin=begin,
            days=days,
            crop=season_days(basal, begin, days + 1 + AHEAD),
            p=np.array([s.crop.p for s in seasons])[:, None],
            et0_mm=et0_mm,
            recorded=recorded,
            strip=np.array([b.assumed.wetted_share for b in blocks]),
            begins=np.array([_begins(s, begin, days + 1) for s in seasons]),
        )

    @cached_property
    def table_mm(self) -> Floats:
        """Depth of the water table by day, infinity without one; (blocks, days + 1 + AHEAD)."""
        tables = [b.assumed.water_table for b in self.blocks]
        return root_bound_mm(tables, self.begin, self.days + 1 + AHEAD)

    @cached_property
    def root_bound_mm(self) -> Floats:
        """What roots can't pass: hard ground, or water; (blocks, days + 1 + AHEAD)."""
        return np.minimum(self.table_mm, self.grounds.root_limit_mm[:, None])

    @cached_property
    def root_mm(self) -> Floats:
        """Depth of the roots by day; (blocks, days + 1 + AHEAD)."""
        return np.minimum(self.crop.root_mm, self.root_bound_mm)

    @cached_property
    def rise_mm(self) -> Floats:
        """Capillary rise over the watered strip by day; (blocks, days + 1 + AHEAD) [mm]."""
        et0 = np.pad(self.et0_mm, ((0, 0), (0, AHEAD)), mode="edge")
        over = rise_by_day(self.blocks, self.root_mm, self.begin, self.crop.kc * et0)
        return over / self.strip[:, None]

    def _p_factor(self, kcb: Floats, et0_mm: Floats) -> Floats:
        return adjusted_p(self.p, kcb * et0_mm) / self.p

    def force(self, steps: Steps) -> Floats:
        """The forcing of steps, (blocks, steps, FORCES)."""
        kcb = self.crop.kc[:, : self.days + 1]
        daily = Daily(
            kcb=kcb,
            et0_mm=self.et0_mm,
            root_mm=self.root_mm[:, : self.days + 1],
            p_factor=self._p_factor(kcb, self.et0_mm),
            wetted=np.ones(self.et0_mm.shape),
            strip=self.strip,
            use_sigma=np.where(self.recorded, USE_SIGMA, UNRECORDED_USE_SIGMA),
            begins=self.begins[:, : self.days + 1],
        )
        past = slice(0, self.days + 1)
        below = Below(self.rise_mm[:, past], self.root_bound_mm[:, past], self.table_mm[:, past])
        return daily.force(steps, below)

    def water(self, steps: Steps) -> Floats:
        """Rain and water given by step, over the watered strip; (blocks, steps, 2) [mm]."""
        out = np.zeros((len(self.blocks), steps.count, 2))
        for row, block in enumerate(self.blocks):
            for w in block.waterings:
                # What came just as a step ended came in it, also where the next begins anew.
                at = int(np.searchsorted(steps.end, w.hours - SAME_HOURS))
                if steps.start[0] < w.hours - SAME_HOURS and at < steps.count:
                    out[row, at, 0 if w.is_rain else 1] += w.net_mm / block.assumed.wetted_share
        return out

    def readings(self, steps: Steps) -> Floats:
        """Readings, their errors and the contents that bound what they can't tell, at the steps,
        see `readings_of`; (4, blocks, steps, sensors) [m3/m3]."""
        out = np.full((4, len(self.blocks), steps.count, self.grounds.depth.shape[1]), np.nan)
        for i, (block, ground) in enumerate(zip(self.blocks, self.grounds.blocks, strict=True)):
            out[:, i, :, : ground.sensors] = readings_of(
                ground, soil_sites(block), block.assumed.profile, steps
            )
        return out

    def ahead(self, weather: WeatherAhead) -> DaysAhead:
        """The days from now on."""
        count = weather.et0_mm.shape[1]
        days = slice(self.days, self.days + count)
        kcb = self.crop.kc[:, days]
        return DaysAhead(
            kcb=kcb,
            root_mm=self.root_mm[:, days],
            p_factor=self._p_factor(kcb, weather.et0_mm.mean(axis=0)),
            given_mm=weather.given_mm / self.strip[:, None],
            et0_mm=weather.et0_mm,
            rain_mm=weather.rain_mm,
            rise_mm_day=self.rise_mm[:, days],
            root_bound_mm=self.root_bound_mm[:, days],
            table_mm=self.table_mm[:, days],
            strip=self.strip,
            use_sigma=np.full(self.strip.shape, USE_SIGMA),
        )


def _begins(season: CropSeason, first: date, days: int) -> Bools:
    """Days on which a season begins: a perennial's with its bud break, each year."""
    starts = season_starts(season, first + timedelta(days=days))
    at = np.arange(days) + (first - season.planted_on).days
    return np.isin(at, starts)


def begin_of(block: BlockInputs, first: date, today: date) -> date:
    """The morning from which a block's ensemble is carried on: its own first day, or the first
    of its record."""
    own = first if block.since is None else max(block.since, first)
    return min(own, today - timedelta(days=1))
