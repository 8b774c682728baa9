"""Sensors held against what was found by hand beside them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

import numpy as np

from core.arrays import ArrayLike, Floats
from core.instrument.site import Site
from core.soil.profile import Profile

# A probe is checked twice a season of five months; common practice, no source.
CHECK_EVERY = timedelta(days=75)
# Readings so near to the check count [h].
NEAR_H = 3.0
# Depth within which a sensor and a sample tell of the same soil [mm].
SAME_DEPTH_MM = 75.0
# Two measurements of one soil differ by as much without either being wrong: cores a step apart by
# about 0.03, and the sensor's own error [m3/m3]; common practice, no source.
DIFFER_BY = 0.04


class HandWay(StrEnum):
    """How the water was found by hand."""

    OVEN_CORE = "oven-dried core"
    PORTABLE = "portable sensor"
    FEEL = "feel"


@dataclass(frozen=True)
class CheckedDepth:
    """One depth of a check; contents in m3/m3, the sensor's NaN where it said nothing."""

    depth_mm: float
    by_hand: float
    sensor: float

    @property
    def difference(self) -> float:
        """Sensor less hand [m3/m3]; NaN where the sensor said nothing."""
        return self.sensor - self.by_hand

    @property
    def differs(self) -> bool:
        """Whether they differ by more than two measurements of one soil may."""
        return bool(abs(self.difference) > DIFFER_BY)


def theta_by_hand(way: HandWay, depth_mm: ArrayLike, value: ArrayLike, profile: Profile) -> Floats:
    """What was found by hand as water content [m3/m3].

    Parameters
    ----------
    depth_mm : array, shape (n,) [mm]
    value : array, shape (n,) [m3/m3, or the fraction of the available water by feel]
    """
    found: Floats = np.asarray(value, float)
    if way is not HandWay.FEEL:
        return found
    horizon = profile.horizon_at(depth_mm)
    wilt, full = profile.theta_wilt[horizon], profile.theta_full[horizon]
    return wilt + found * (full - wilt)


def checked(
    site: Site | None, at_hours: float, depth_mm: Sequence[float], by_hand: Sequence[float]
) -> list[CheckedDepth]:
    """Each depth beside the nearest sensor's trusted reading nearest in time.

    Parameters
    ----------
    site : Site or None
        The probe, its hours counted from the same instant as ``at_hours`` [h].
    depth_mm : sequence of float [mm]
    by_hand : sequence of float [m3/m3]
    """
    return [
        CheckedDepth(depth, hand, _near(site, at_hours, depth))
        for depth, hand in zip(depth_mm, by_hand, strict=True)
    ]


def _near(site: Site | None, at_hours: float, depth_mm: float) -> float:
    if site is None:
        return float("nan")
    sensor = int(np.abs(site.depth_mm - depth_mm).argmin())
    if abs(site.depth_mm[sensor] - depth_mm) > SAME_DEPTH_MM:
        return float("nan")
    theta = site.theta[:, sensor]
    away = np.where(np.isfinite(theta), np.abs(site.hours - at_hours), np.inf)
    if not away.size or away.min() > NEAR_H:
        return float("nan")
    return float(theta[away.argmin()])


def next_check(settled_on: date | None, checks: Sequence[date]) -> date | None:
    """When a probe is to be checked by hand next: once it has settled, then every so often.

    None where it was not installed.
    """
    if checks:
        return max(checks) + CHECK_EVERY
    return settled_on
