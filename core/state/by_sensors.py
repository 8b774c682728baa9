"""The state of blocks where the sensors lead: their word is taken as it is, and carried on by use
until the next."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.balance.root_zone import drain_into, drained_of, grow, use_water
from core.state.track import Track
from core.state.zones import RootZones

# How far a day's use may stray from the book's, as a share of it (working assumption, no source).
USE_SIGMA = 0.2
# A start of which nothing is known: the middle of what may be, and its spread [share of TAW].
UNKNOWN_START = 0.5, 0.29
Z_90 = 1.2816  # a normal spread's tenth and ninetieth percentile


@dataclass(frozen=True)
class Heard:
    """What was heard of blocks day by day; arrays (blocks, days) unless said otherwise [mm].

    water_in_mm : rain that entered, water given and capillary rise
    etc_mm, bare_mm : use without stress, and evaporation that stress does not slow [mm/day]
    observed_mm, observed_sigma_mm : depletion by the sensors at the start of each day and its
        scatter, (blocks, days + 1); NaN where they are silent
    offset_sigma_mm : array (blocks,), how far their spots may lie off the block
    below_mm : deficit below the roots by the sensors, (blocks, days + 1); NaN out of their reach
    """

    water_in_mm: Floats
    etc_mm: Floats
    bare_mm: Floats
    observed_mm: Floats
    observed_sigma_mm: Floats
    offset_sigma_mm: Floats
    below_mm: Floats


def by_sensors(zones: RootZones, heard: Heard) -> Track:
    """Follow root zones by their sensors alone.

    Parameters
    ----------
    zones : RootZones, (blocks, days + 1)
    heard : Heard
    """
    blocks, days = heard.water_in_mm.shape
    mean, spread = UNKNOWN_START
    depletion: Floats = mean * zones.taw_mm[:, 0]
    sigma: Floats = spread * zones.taw_mm[:, 0]
    below: Floats = np.zeros(blocks)
    known = np.zeros(blocks, bool)
    at_start = {
        name: np.zeros((blocks, days + 1))
        for name in ("forecast_mm", "forecast_sigma_mm", "depletion_mm", "sigma_mm")
    }
    by_day = {
        name: np.zeros((blocks, days))
        for name in ("et_mm", "ks", "drained_mm", "runoff_mm", "grew_mm")
    }
    since = np.zeros((blocks, days + 1), bool)
    for d in range(days + 1):
        zone = zones.day(d)
        was = depletion
        depletion, below = grow(depletion, below, zone.grown_share)
        if d:
            by_day["grew_mm"][:, d - 1] = depletion - was
        at_start["forecast_mm"][:, d], at_start["forecast_sigma_mm"][:, d] = depletion, sigma
        seen = heard.observed_mm[:, d]
        spoke = ~np.isnan(seen)
        noise = np.hypot(np.nan_to_num(heard.observed_sigma_mm[:, d]), heard.offset_sigma_mm)
        depletion = np.where(spoke, np.minimum(seen, zone.taw_mm), depletion)
        sigma = np.where(spoke, noise, sigma)
        below = np.where(np.isnan(heard.below_mm[:, d]), below, heard.below_mm[:, d])
        known = known | spoke
        since[:, d] = known
        at_start["depletion_mm"][:, d], at_start["sigma_mm"][:, d] = depletion, sigma
        if d == days:
            break
        depletion, et, ks, runoff = use_water(
            depletion, zone, heard.water_in_mm[:, d], heard.etc_mm[:, d], heard.bare_mm[:, d]
        )
        sigma = np.hypot(sigma, USE_SIGMA * et)
        drained = drained_of(depletion, zone)
        depletion = np.minimum(depletion + drained, zone.taw_mm)
        below, _ = drain_into(drained, below)
        for name, value in zip(
            ("et_mm", "ks", "drained_mm", "runoff_mm"), (et, ks, drained, runoff), strict=True
        ):
            by_day[name][:, d] = value
    middle, half = at_start["depletion_mm"], Z_90 * at_start["sigma_mm"]
    none, ones = np.zeros((blocks, days + 1)), np.ones((blocks, days + 1))
    return Track(
        **at_start,
        **by_day,
        low_mm=middle - half,
        high_mm=middle + half,
        correction_mm=at_start["depletion_mm"] - at_start["forecast_mm"],
        taw_mm=zones.taw_mm,
        raw_mm=zones.raw_mm,
        taw_sigma_mm=none,
        raw_sigma_mm=none,
        usable_sigma_mm=at_start["sigma_mm"],
        use_factor=ones,
        use_sigma=none,
        water_in_mm=heard.water_in_mm,
        unlogged_mm=np.zeros((blocks, days)),
        missing_mm=np.zeros((blocks, days)),
        below_mm=below,
        season_given_mm=np.full(blocks, np.nan),
        season_leached_mm=np.full(blocks, np.nan),
        surprise=np.full(blocks, np.nan),
        known=since,
    )
