"""Deficit day by day from now, for several assumptions at once.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 8, eq. 84 (Ks) and eq. 85 (balance).
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats


@dataclass(frozen=True)
class Forward:
    """State at the start of each day; index 0 is now.

    deficit_mm, raw_mm, usable_mm : array, shape (cases, days + 1) [mm]
        usable = RAW - deficit, below zero past refill.
    etc_mm : array, shape (cases, days) [mm/day], before stress
    ks : array, shape (cases, days) [-]
    """

    deficit_mm: Floats
    raw_mm: Floats
    usable_mm: Floats
    etc_mm: Floats
    ks: Floats


def stress_coefficient(deficit_mm: ArrayLike, taw_mm: ArrayLike, raw_mm: ArrayLike) -> Floats:
    """Ks: 1 until RAW is used, then straight to 0 at wilting [1]_; broadcasts [-]."""
    taw, raw = np.asarray(taw_mm, float), np.asarray(raw_mm, float)
    span = np.maximum(taw - raw, 1e-9)
    return np.clip((taw - np.asarray(deficit_mm, float)) / span, 0.0, 1.0)


def run_forward(
    start_deficit_mm: ArrayLike,
    new_soil_deficit_mm: ArrayLike,
    taw_mm: ArrayLike,
    p: ArrayLike,
    etc_mm: ArrayLike,
) -> Forward:
    """Deficit ahead, without rain or irrigation.

    Parameters
    ----------
    start_deficit_mm : array, shape (cases,) [mm]
    new_soil_deficit_mm : array, shape (days,) [mm]
        Deficit of the soil that roots grow into during each day.
    taw_mm : array, shape (days + 1,) [mm]
    p : array, shape (cases, days + 1) [-]
    etc_mm : array, shape (cases, days) [mm/day]

    Returns
    -------
    Forward
    """
    etc = np.asarray(etc_mm, float)
    taw = np.asarray(taw_mm, float)
    raw = np.asarray(p, float) * taw
    growth = np.asarray(new_soil_deficit_mm, float)
    cases, days = etc.shape
    deficit = np.empty((cases, days + 1))
    ks = np.empty((cases, days))
    deficit[:, 0] = start_deficit_mm
    for day in range(days):
        ks[:, day] = stress_coefficient(deficit[:, day], taw[day], raw[:, day])
        deficit[:, day + 1] = deficit[:, day] + etc[:, day] * ks[:, day] + growth[day]
    return Forward(deficit_mm=deficit, raw_mm=raw, usable_mm=raw - deficit, etc_mm=etc, ks=ks)


def days_until_refill(usable_mm: ArrayLike) -> Floats:
    """Days until usable water runs out.

    Parameters
    ----------
    usable_mm : array, shape (cases, days + 1) [mm]

    Returns
    -------
    array, shape (cases,) [days]
        0 when it has run out already, infinity when it lasts beyond the last day; straight
        line within the day of crossing.
    """
    usable = np.asarray(usable_mm, float)
    out = usable <= 0
    first = out.argmax(axis=1)
    rows = np.arange(usable.shape[0])
    before = usable[rows, np.maximum(first - 1, 0)]
    after = usable[rows, first]
    with np.errstate(invalid="ignore", divide="ignore"):
        within = np.where(first > 0, first - 1 + before / (before - after), 0.0)
    return np.where(out.any(axis=1), within, np.inf)
