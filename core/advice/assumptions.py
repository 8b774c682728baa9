"""What is held to be true of a block on a morning, apart from what was measured and given.

One value: what-if, other methods, past advice and trials put another in its place, and advice on
record keeps it.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import inf

from core.advice.stated_et import StatedEt
from core.advice.vocabulary import Regime
from core.crop.cutting import CutCalendar
from core.crop.salinity import Leaching
from core.crop.season import CropSeason
from core.deficit.plan import DeficitPlan
from core.irrigation.design import Design
from core.irrigation.system import IrrigationSystem
from core.leaf.steering import LeafSteering
from core.limits.by_day import BlockGround, DatedSoil
from core.limits.refill_method import LimitRule
from core.outlook.forecast import Forecast
from core.ponded.field import RICE, PondedField
from core.soil.profile import Profile
from core.soil.water_table import WaterTable
from core.state.estimate_from import EstimateFrom


@dataclass(frozen=True)
class Assumptions:
    """Soil, crop, refill point, weather ahead, equipment and how the state is estimated.

    ``profile`` is the soil now; ``soils`` are all its descriptions with the dates they hold
    from, that one last; empty when there was never another. ``alfalfa_ratio`` is the farm's
    alfalfa-reference ET over grass-reference ET.

    forecast : members of the weather ahead; without it the stated ET and no rain
    wetted_share : share of the ground that is wetted, and under which roots are watered [-]
    capillary_mm_day : what rises from below, as stated; it counts where no water table is known
    water_table : where its depth is known; what rises follows from it
    leaching : where the salts of water and crop are known
    intake_mm_h : what the top of the soil takes in [mm/h]
    design, slope_percent : of the equipment, where its figures are known, and of the ground
    little_and_often : water each day what was used, rather than when as much as may be is gone
    ponded : the field within its bunds, where rice is grown on ponded ground
    leaf : where the block is steered by its leaves
    deficit : where it gets less than it could use, by plan
    cutting : where a calendar of cuts or grazings makes its holds
    dual : soil evaporation apart from the crop's use (dual coefficient), where the crop has
        a basal one
    """

    profile: Profile
    season: CropSeason | None
    et: StatedEt | None
    system: IrrigationSystem
    rules: tuple[LimitRule, ...] = ()
    rain_room_mm: float = 0.0
    soils: tuple[DatedSoil, ...] = ()
    alfalfa_ratio: float | None = None
    forecast: Forecast | None = None
    estimate_from: EstimateFrom = EstimateFrom.COMBINED
    wetted_share: float = 1.0
    intake_mm_h: float = inf
    capillary_mm_day: float = 0.0
    water_table: WaterTable | None = None
    leaching: Leaching | None = None
    design: Design | None = None
    slope_percent: float = 1.0
    little_and_often: bool = False
    dual: bool = False
    ponded: PondedField | None = None
    leaf: LeafSteering | None = None
    deficit: DeficitPlan | None = None
    cutting: CutCalendar | None = None

    @property
    def regime(self) -> Regime:
        """By what rule the block is watered; within bunds, too, another crop than rice is kept
        above refill."""
        rice = self.season is not None and self.season.crop.group == RICE
        of: Mapping[Regime, bool] = {
            Regime.PONDED: bool(self.ponded and rice),
            Regime.LEAF_GUIDED: self.leaf is not None,
            Regime.CUT_OR_GRAZED: self.cutting is not None,
            Regime.DEFICIT: self.deficit is not None,
        }
        return next((regime for regime, holds in of.items() if holds), Regime.ABOVE_REFILL)

    @property
    def leaching_share(self) -> float:
        """Share of the water that should pass below the roots [-]."""
        return self.leaching.share if self.leaching else 0.0

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
        return BlockGround(self.dated_soils, season, self.rules, self.water_table)
