"""Usable water of a block over the past days, as its sites saw it."""

from dataclasses import dataclass
from datetime import date, datetime, time

import numpy as np

from core.advice.inputs import BlockInputs
from core.arrays import Floats
from core.instrument.kinds import kinds
from core.instrument.site import Site
from core.limits.in_force import LimitsInForce
from core.store.combine import combine_sites
from core.store.deficit import root_zone_deficit

GRID_HOURS = 4.0
# A reading this young is taken as of now; an older one is carried forward by water use.
FRESH_HOURS = 3.0
# Between two readings further apart than this the ribbon is broken, not drawn through.
MAX_GAP_HOURS = 120.0


@dataclass(frozen=True)
class History:
    """Arrays of shape (times,); NaN where no trusted reading stands behind a time.

    hours [h from now], deficit_mm, surplus_mm, raw_mm, taw_mm, usable_mm [mm], root_mm [mm]
    """

    hours: Floats
    deficit_mm: Floats
    surplus_mm: Floats
    raw_mm: Floats
    taw_mm: Floats
    usable_mm: Floats
    root_mm: Floats


def between_readings(hours: Floats, value: Floats, grid: Floats, max_gap_hours: float) -> Floats:
    """Straight line between readings, NaN in gaps longer than allowed and outside them.

    The last reading is held for as long as it counts as fresh.

    Parameters
    ----------
    hours, value : array, shape (readings,); NaN values are no readings
    grid : array, shape (times,)
    """
    known = ~np.isnan(value)
    t, v = hours[known], value[known]
    if t.size == 0:
        return np.full(grid.shape, np.nan)
    out = np.interp(grid, t, v, left=np.nan, right=np.nan)
    fresh = (grid > t[-1]) & (grid - t[-1] <= FRESH_HOURS)
    out = np.where(fresh, v[-1], out)
    after = np.clip(np.searchsorted(t, grid), 0, t.size - 1)
    before = np.clip(np.searchsorted(t, grid, side="right") - 1, 0, t.size - 1)
    return np.where(t[after] - t[before] > max_gap_hours, np.nan, out)


def _hours_to(on: date | None, now: datetime) -> float:
    """Hours from now to the start of a date on the farm; minus infinity for the beginning."""
    if on is None:
        return -np.inf
    midnight = datetime.combine(on, time(), tzinfo=now.tzinfo)
    return (midnight.timestamp() - now.timestamp()) / 3600


def _site_series(
    site: Site, inputs: BlockInputs, limits: LimitsInForce, grid: Floats
) -> tuple[Floats, Floats]:
    """Deficit and surplus on the grid, each moment by the soil description then in force."""
    gap = min(kinds()[site.kind].max_age_hours, MAX_GAP_HOURS)
    roots = limits.root_mm_at(site.hours)
    deficit, surplus = np.full(grid.shape, np.nan), np.full(grid.shape, np.nan)
    soils = inputs.assumed.dated_soils
    for soil in soils:
        holds = grid >= _hours_to(soil.from_on, inputs.now)
        here = site if soil is soils[-1] else site.under(soil.profile)
        seen = root_zone_deficit(soil.profile, here.depth_mm, here.theta, roots)
        along = between_readings(site.hours, seen.deficit_mm, grid, gap)
        over = between_readings(site.hours, seen.surplus_mm, grid, gap)
        deficit = np.where(holds, along, deficit)
        surplus = np.where(holds, over, surplus)
    return deficit, surplus


@dataclass(frozen=True)
class Known:
    """The estimated state at regular moments, arrays (times,): hours from now, depletion, and
    the available and allowable water in force [mm]."""

    hours: Floats
    depletion_mm: Floats
    taw_mm: Floats
    raw_mm: Floats


def _through(known: Known, hours: Floats, deficit: Floats, surplus: Floats) -> Floats:
    """Depletion between the weighed moments, with the shape that the sensors saw; NaN before."""
    seen = np.where(deficit > 0, deficit, -surplus)
    at = np.interp(known.hours, hours, np.nan_to_num(seen))
    heard = np.interp(known.hours, hours, np.isnan(seen).astype(float)) == 0
    weighed: Floats = np.interp(hours, known.hours, known.depletion_mm, left=np.nan)
    if not heard.any():
        return weighed
    off = np.interp(hours, known.hours[heard], (known.depletion_mm - at)[heard])
    return np.where(np.isnan(seen) | np.isnan(weighed), weighed, seen + off)


def history(
    inputs: BlockInputs, limits: LimitsInForce, days: float = 7.0, known: Known | None = None
) -> History:
    """The past days on a regular grid that ends now.

    Parameters
    ----------
    inputs : BlockInputs
    limits : LimitsInForce
    days : float [days]
    known : Known, optional
        Where the balance had a part in the state: the sensors then give the shape between the
        weighed moments, and the balance the days without a word.
    """
    grid = np.arange(-days * 24, GRID_HOURS / 2, GRID_HOURS)
    at = limits.at(grid)
    if inputs.sites:
        series = np.array([_site_series(s, inputs, limits, grid) for s in inputs.sites])
        sigma = np.array([[s.theta_sigma] for s in inputs.sites], float)
        alike = np.zeros(len(inputs.sites), int)
        both = combine_sites(series[:, 0], np.broadcast_to(sigma, series[:, 0].shape), alike, 1)
        deficit = both.value[0] * inputs.assumed.wetted_share
        surplus = both.mean(series[:, 1])[0] * inputs.assumed.wetted_share
    else:
        deficit = surplus = np.full(grid.shape, np.nan)
    if known is not None:
        depletion = _through(known, grid, deficit, surplus)
        deficit = np.maximum(depletion, 0)
        surplus = np.where(np.isnan(surplus), np.maximum(-depletion, 0), surplus)
    raw, taw = at.raw_mm * inputs.assumed.wetted_share, at.taw_mm * inputs.assumed.wetted_share
    if known is not None:
        raw, taw = (np.interp(grid, known.hours, x) for x in (known.raw_mm, known.taw_mm))
    return History(
        hours=grid,
        deficit_mm=deficit,
        surplus_mm=surplus,
        raw_mm=raw,
        taw_mm=taw,
        usable_mm=raw - deficit,
        root_mm=limits.root_mm_at(grid),
    )
