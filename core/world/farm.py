"""The fields of one climate and season, as their owner knows them, and the truth beside it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from core.arrays import Floats
from core.crop.catalogue import crop
from core.crop.season import CropSeason, season_days
from core.soil.profile import Profile
from core.world.climates import Climate, Season, simulate_season
from core.world.equipment import SPRINKLERS, Equipment
from core.world.fields import Believed
from core.world.layerings import Layering
from core.world.truths import LayeredTruth, RichardsTruth, Truth, TruthKind

FIRST = date(2026, 4, 15)
DEEPEST_MM = 1500.0


@dataclass(frozen=True)
class Farm:
    """The fields of one climate and season, as their owner knows them."""

    climate: Climate
    soils: tuple[Layering, ...]
    crops: tuple[str, ...]
    profiles: tuple[Profile, ...]
    seasons: tuple[CropSeason, ...]
    believed: tuple[Believed, ...]
    kcb: Floats
    weather: Season
    equipment: Equipment = SPRINKLERS

    @property
    def days(self) -> int:
        """Length of the season [days]."""
        return self.weather.et0_mm.size

    @property
    def count(self) -> int:
        """How many fields there are."""
        return len(self.profiles)

    def truth(self, kind: TruthKind, seed: int) -> Truth:
        """The fields as they are."""
        if kind is TruthKind.LAYERED:
            if self.equipment.strip < 1:
                raise ValueError("layered columns are watered all over")
            return LayeredTruth(self.believed, seed)
        root = np.array([b.root_mm for b in self.believed])
        return RichardsTruth(self.soils, self.crops, self.kcb, root, seed, self.equipment.strip)


def _basal(season: CropSeason) -> CropSeason:
    """The season with what goes through the crop alone."""
    first, mid, end = season.crop.kc
    kcb = season.crop.kcb or (first - 0.1, mid - 0.1, end - 0.1)
    return replace(season, crop=replace(season.crop, kc=kcb))


def make_farm(
    climate: Climate,
    soils: Sequence[Layering],
    crops: Sequence[str],
    days: int,
    seed: int,
    equipment: Equipment = SPRINKLERS,
) -> Farm:
    """One field for every soil and crop, and a season's weather."""
    rng = np.random.default_rng(seed)
    pairs = [(s, c) for s in soils for c in crops]
    profiles = tuple(s.told for s, _ in pairs)
    seasons = tuple(CropSeason(crop(c), FIRST) for _, c in pairs)
    basal = [_basal(s) for s in seasons]
    grown = season_days(basal, FIRST, days)
    believed = tuple(
        Believed(p, grown.kc[i], np.minimum(grown.root_mm[i], DEEPEST_MM), np.full(days, s.crop.p))
        for i, (p, s) in enumerate(zip(profiles, seasons, strict=True))
    )
    return Farm(
        climate,
        tuple(s for s, _ in pairs),
        tuple(c for _, c in pairs),
        profiles,
        seasons,
        believed,
        grown.kc,
        simulate_season(climate, days, rng),
        equipment,
    )
