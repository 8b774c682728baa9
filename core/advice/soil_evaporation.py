"""What the bare wet ground of blocks gives off by day, where their coefficient is dual."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from core.advice.inputs import BlockInputs
from core.arrays import Floats
from core.balance.coefficients import REW_MM, total_evaporable_mm
from core.balance.surface_layer import SurfaceDay, SurfaceLayer, surface_day
from core.crop.basal import basal_crop, heights_m
from core.crop.climate import USUAL_RH_MIN, USUAL_WIND_M_S
from core.crop.season import CropDays, CropSeason


def is_dual(block: BlockInputs, season: CropSeason) -> bool:
    """Whether evaporation of the soil is counted apart: where that is wanted and the crop has a
    basal coefficient."""
    return block.assumed.dual and season.crop.kcb is not None


def by_basal(block: BlockInputs, season: CropSeason) -> CropSeason:
    """The season with its basal coefficient in the place of Kc, where evaporation is apart."""
    return replace(season, crop=basal_crop(season.crop)) if is_dual(block, season) else season


@dataclass(frozen=True)
class SoilEvaporation:
    """By block and day, columns as the balance has them.

    dual : array (blocks,) of bool
    bare_mm : array (blocks, columns) [mm/day]; 0 where evaporation is not apart
    layer, days : what does not change, and by column, arrays (blocks,); none without a dual block
    past_days : columns before today's
    """

    dual: np.ndarray
    bare_mm: Floats
    layer: SurfaceLayer | None
    days: tuple[SurfaceDay, ...]
    past_days: int

    @property
    def today(self) -> SurfaceDay:
        """The day that begins now; only where a block is dual."""
        return self.days[self.past_days]


def _layer(blocks: Sequence[BlockInputs], height_m: Floats) -> SurfaceLayer:
    top = [b.assumed.profile.limits[0] for b in blocks]
    return SurfaceLayer(
        tew_mm=np.array([float(total_evaporable_mm(h.theta_full, h.theta_wilt)) for h in top]),
        rew_mm=np.array([REW_MM[h.texture] for h in top]),
        wetted=np.array([b.assumed.wetted_share for b in blocks]),
        height_m=height_m,
        under_canopy=np.array([b.assumed.system.under_canopy for b in blocks]),
    )


def _climate(season: CropSeason, first: date, days: int) -> tuple[Floats, Floats]:
    """Wind and lowest humidity by day; those of the tables where they are not known."""
    if season.climate is None:
        return np.full(days, USUAL_WIND_M_S), np.full(days, USUAL_RH_MIN)
    return season.climate.on(first, days)


def soil_evaporation(
    blocks: Sequence[BlockInputs],
    seasons: Sequence[CropSeason],
    crop: CropDays,
    first: date,
    et0_mm: Floats,
    rain_mm: Floats,
    given_mm: Floats,
) -> SoilEvaporation:
    """Evaporation that the basal coefficient does not hold.

    Parameters
    ----------
    blocks, seasons : sequences, (blocks,)
    crop : CropDays, arrays (blocks, columns)
        By `by_basal`.
    first : date
        Of the first column.
    et0_mm : array, shape (blocks, columns) [mm/day]
    rain_mm, given_mm : arrays, shape (blocks, past columns) [mm/day]
        That entered; in the columns after them the surface is taken to dry.
    """
    dual = np.array([is_dual(b, s) for b, s in zip(blocks, seasons, strict=True)])
    bare = np.zeros(crop.kc.shape)
    if not dual.any():
        return SoilEvaporation(dual, bare, None, (), rain_mm.shape[1])
    began = np.array([(first - s.planted_on).days for s in seasons], float)
    height = heights_m(seasons, crop, began[:, None] + np.arange(crop.kc.shape[1]))
    climates = [_climate(s, first, crop.kc.shape[1]) for s in seasons]
    wind, humidity = (np.array([c[k] for c in climates]) for k in (0, 1))
    layer, days = _layer(blocks, height[:, 0]), []
    depleted, by_rain = layer.tew_mm, np.zeros(dual.shape, bool)
    past, none = rain_mm.shape[1], np.zeros(dual.shape)
    for d in range(crop.kc.shape[1]):
        wet, given = (rain_mm[:, d], given_mm[:, d]) if d < past else (none, none)
        by_rain = np.where(wet > given, True, np.where(given > 0, False, by_rain))
        here = replace(layer, height_m=height[:, d], wind_m_s=wind[:, d], rh_min=humidity[:, d])
        day = surface_day(depleted, here, crop.kc[:, d], et0_mm[:, d], wet, given, by_rain)
        depleted = day.depleted_mm
        bare[:, d] = np.where(dual, day.ke * et0_mm[:, d], 0.0)
        days.append(day)
    return SoilEvaporation(dual, bare, layer, tuple(days), past)
