"""One day of a root zone's water balance, for any number of root zones at once.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 8, eq. 84 (Ks) and eq. 85 (balance).
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats


@dataclass(frozen=True)
class RootZoneDay:
    """A root zone on a day; arrays that broadcast together, water depths [mm].

    taw_mm, raw_mm : available water of today's roots, and the part that may be used
    below_mm : available water between today's roots and the deepest they will reach
    grown_share : share of the soil below yesterday's roots that they grew into; negative
        where they became shallower: the share of yesterday's root zone that they left
    saturated_mm : what the root zone holds between full and saturation
    drain_share : share of the surplus that drains in a day where nothing holds it up [-]
    most_drained_mm : what the layers below let through in a day
    held_mm : of the surplus, what a water table never lets drain
    """

    taw_mm: Floats
    raw_mm: Floats
    below_mm: Floats
    grown_share: Floats
    saturated_mm: Floats
    drain_share: Floats
    most_drained_mm: ArrayLike = np.inf
    held_mm: ArrayLike = 0.0


@dataclass(frozen=True)
class Water:
    """What the balance of a day moved, arrays of one shape [mm].

    depletion_mm : of the root zone after the day; below zero is surplus above full
    below_mm : deficit of the soil below the roots after the day
    et_mm : used; ks : stress coefficient [-]
    drained_mm : left the root zone downwards; percolated_mm : left the soil below it too
    runoff_mm : more than the pores hold
    """

    depletion_mm: Floats
    below_mm: Floats
    et_mm: Floats
    ks: Floats
    drained_mm: Floats
    percolated_mm: Floats
    runoff_mm: Floats


def stress_coefficient(deficit_mm: ArrayLike, taw_mm: ArrayLike, raw_mm: ArrayLike) -> Floats:
    """Ks: 1 until RAW is used, then straight to 0 at wilting [1]_; broadcasts [-]."""
    taw, raw = np.asarray(taw_mm, float), np.asarray(raw_mm, float)
    span = np.maximum(taw - raw, 1e-9)
    return np.clip((taw - np.asarray(deficit_mm, float)) / span, 0.0, 1.0)


def grow(
    depletion_mm: ArrayLike, below_mm: ArrayLike, grown_share: ArrayLike
) -> tuple[Floats, Floats]:
    """Root zone and the soil below after the roots moved: new soil brings the water it holds.

    Parameters
    ----------
    depletion_mm, below_mm : array [mm]
    grown_share : array [-]
        As in `RootZoneDay`.

    Returns
    -------
    tuple of arrays [mm]
        Together they hold what they held before.
    """
    inside, below = np.asarray(depletion_mm, float), np.asarray(below_mm, float)
    share = np.asarray(grown_share, float)
    # A surplus belongs to the soil above and leaves by draining, not by roots that move.
    moved = np.where(share >= 0, share * below, share * np.maximum(inside, 0))
    return inside + moved, below - moved


def use_water(
    depletion_mm: ArrayLike,
    zone: RootZoneDay,
    water_in_mm: ArrayLike,
    etc_mm: ArrayLike,
    bare_mm: ArrayLike = 0.0,
) -> tuple[Floats, Floats, Floats, Floats]:
    """Water comes in, what exceeds saturation runs off, the crop uses what it can reach.

    Parameters
    ----------
    As `balance_day`.

    Returns
    -------
    tuple of arrays
        Depletion after it [mm], ET [mm], Ks [-], runoff [mm].
    """
    depletion = np.asarray(depletion_mm, float) - np.asarray(water_in_mm, float)
    runoff = np.maximum(-depletion - zone.saturated_mm, 0.0)
    depletion = depletion + runoff
    ks = stress_coefficient(depletion, zone.taw_mm, zone.raw_mm)
    wanted = ks * np.asarray(etc_mm, float) + np.asarray(bare_mm, float)
    et = np.minimum(wanted, np.maximum(zone.taw_mm - depletion, 0.0))
    return depletion + et, et, ks, runoff


def drained_of(depletion_mm: ArrayLike, zone: RootZoneDay) -> Floats:
    """What leaves root zones downwards in a day: a share of the surplus that can drain, and no
    more than the slowest layer lets through [mm]."""
    surplus = np.maximum(-np.asarray(depletion_mm, float) - zone.held_mm, 0.0)
    return np.minimum(surplus * zone.drain_share, zone.most_drained_mm)


def drain_into(drained_mm: Floats, below_mm: Floats) -> tuple[Floats, Floats]:
    """Deficit of the soil below after it took what drained, and what went through it [mm]."""
    taken = np.minimum(drained_mm, np.maximum(below_mm, 0.0))
    return below_mm - taken, drained_mm - taken


def balance_day(
    depletion_mm: ArrayLike,
    below_mm: ArrayLike,
    zone: RootZoneDay,
    water_in_mm: ArrayLike,
    etc_mm: ArrayLike,
    bare_mm: ArrayLike = 0.0,
) -> Water:
    """Carry root zones over one day [1]_.

    Parameters
    ----------
    depletion_mm : array [mm]
        At the start of the day, in yesterday's roots; below zero is surplus.
    below_mm : array [mm]
        Deficit of the soil below the roots.
    zone : RootZoneDay
    water_in_mm : array [mm]
        Rain that entered, net irrigation and capillary rise.
    etc_mm : array [mm/day]
        Water use without stress.
    bare_mm : array [mm/day]
        Evaporation from the soil surface, which stress does not slow (dual coefficient).

    Returns
    -------
    Water

    Notes
    -----
    Roots move first; water comes in; what exceeds saturation runs off; the crop uses water,
    slowed by Ks at the depletion after the water came; a share of what then stands above full
    drains, first into the deficit of the soil below, as fast as the layers there let it. For
    every root zone

        depletion + below rises by ET + percolation + runoff - water in,

    with ET never more than what is left above wilting.
    """
    depletion, below = grow(depletion_mm, below_mm, zone.grown_share)
    depletion, et, ks, runoff = use_water(depletion, zone, water_in_mm, etc_mm, bare_mm)
    drained = drained_of(depletion, zone)
    below, percolated = drain_into(drained, below)
    return Water(
        depletion_mm=depletion + drained,
        below_mm=below,
        et_mm=et,
        ks=ks,
        drained_mm=drained,
        percolated_mm=percolated,
        runoff_mm=runoff,
    )
