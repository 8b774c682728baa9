"""What the limits of a farm's blocks are made of, loaded in a few queries."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime

from core.advice.stated_et import StatedEt
from core.crop.climate import Climate
from core.crop.salinity import salt_stress
from core.crop.season import CropSeason as SeasonInput
from core.limits.by_day import BlockGround, DatedSoil
from core.limits.refill_method import LimitRule
from core.soil.profile import Profile
from core.soil.water_table import WaterTable
from server.blocks.crop import season_input, season_under_way
from server.blocks.limit_changes import limit_rules
from server.blocks.loading import Ground
from server.blocks.models import Block, CropSeason
from server.farms.models import Farm
from server.weather.recorded import FarmWeather


@dataclass(frozen=True)
class BlockFacts:
    """What a block's limits are made of, without its readings."""

    soils: tuple[DatedSoil, ...]
    season: SeasonInput | None
    rules: tuple[LimitRule, ...]
    et: StatedEt | None
    alfalfa_ratio: float | None
    water_table: WaterTable | None

    def ground(self, season: SeasonInput) -> BlockGround:
        """What the limits of the block are made of, with its crop on the ET's surface."""
        return BlockGround(self.soils, season, self.rules, self.water_table)

    def on_et_surface(self, season: SeasonInput, et: StatedEt) -> SeasonInput:
        """The season with its Kc on the ET's own surface.

        Raises
        ------
        SurfacesDiffer
        """
        return season.on(et.surface, self.alfalfa_ratio)


def _in_its_place(season: SeasonInput, profile: Profile, climate: Climate | None) -> SeasonInput:
    """The season with what measured salt of its roots' soil and the climate do to it."""
    ece = profile.mean_ece(season.crop.root_schedule_mm)
    return replace(season, salt=salt_stress(season.crop, ece), climate=climate)


def block_facts(
    farm: Farm,
    blocks: Sequence[Block],
    now: datetime,
    weather: FarmWeather,
    tables: Mapping[int, WaterTable],
) -> dict[int, BlockFacts]:
    """What the limits of each block are made of, by block id; ``tables`` are the water tables
    below those where one is known."""
    ground, today = Ground(), now.date()
    out = {}
    for block in blocks:
        season = season_under_way(block, today)
        soils = ground.under(block, today)
        grown = season_input(season, weather.days, now) if season else None
        out[block.pk] = BlockFacts(
            soils=soils,
            season=_in_its_place(grown, soils[-1].profile, weather.climate) if grown else None,
            rules=limit_rules(block.refill_rules.all()),
            et=weather.stated,
            alfalfa_ratio=farm.alfalfa_ratio,
            water_table=tables.get(block.pk),
        )
    return out


def warmth_since(blocks: Sequence[Block], today: date) -> date | None:
    """The planting from which temperatures are needed; None where no block counts warmth."""
    under_way = [season_under_way(b, today) for b in blocks]
    by_warmth = [s.planted_on for s in under_way if s and s.clock == CropSeason.Clock.DEGREE_DAYS]
    return min(by_warmth, default=None)
