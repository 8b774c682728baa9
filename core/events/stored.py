"""Water that a wetting left in the soil: by layer and over a depth, between two moments."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from core.arrays import Floats
from core.instrument.sensor_layers import sensor_layers

# How far what a sensor tells of a change may be off, as a share of it: slopes of calibrations, or
# of a retention curve through which a tension was turned into water (working assumptions).
THETA_SLOPE, TENSION_SLOPE = 0.05, 0.25
# A front may stand anywhere between two sensors: spread of an even chance [-].
EVEN_CHANCE = 1 / np.sqrt(12)
# The middle 80 percent of a normal spread reach so many spreads to either side [-].
EIGHT_OF_TEN = 1.28
# Above the first sensor soil dries most and so takes most: what is said of it may be off by this
# share (tried on both simulated truths).
TOP_SIGMA = 0.45


@dataclass(frozen=True)
class Stored:
    """What was added between two moments, at the sensors' own place.

    added : array, shape (sensors,) [m3/m3], NaN where a sensor said nothing then
    top_mm, bottom_mm : array, shape (sensors,), of the layer each stands for [mm]; NaN as above
    slope_sigma : spread of what the sensors tell of a change, as a share of it [-]
    """

    added: Floats
    top_mm: Floats
    bottom_mm: Floats
    depth_mm: Floats
    slope_sigma: float

    @property
    def layer_mm(self) -> Floats:
        """By layer, shape (sensors,) [mm]; NaN where not known."""
        out: Floats = self.added * (self.bottom_mm - self.top_mm)
        return out

    @property
    def reaches_mm(self) -> float:
        """The bottom of the lowest layer that is known of [mm]; NaN where none is."""
        known = ~np.isnan(self.bottom_mm)
        return float(self.bottom_mm[known][-1]) if known.any() else float("nan")

    def between(self, top_mm: float, bottom_mm: float) -> float:
        """Within a range of depth [mm]; NaN where nothing is known at all."""
        if np.isnan(self.added).all():
            return float("nan")
        low = np.maximum(self.top_mm, top_mm)
        high = np.minimum(self.bottom_mm, bottom_mm)
        return float(np.nansum(self.added * np.maximum(high - low, 0.0)))

    @property
    def total_mm(self) -> float:
        """In all layers [mm]; NaN where nothing is known."""
        return self.between(0.0, float("inf"))

    @cached_property
    def sigma_mm(self) -> float:
        """Spread of the total: where between two sensors the water ends, what each tells of a
        change, and what is above the first one."""
        known = ~np.isnan(self.added)
        if not known.any():
            return float("nan")
        change, depth = self.added[known], self.depth_mm[known]
        below, way = change.copy(), depth.copy()
        below[:-1] -= change[1:]
        way[:-1] = depth[1:] - depth[:-1]
        way[-1] = 2 * (self.bottom_mm[known][-1] - depth[-1])
        front = EVEN_CHANCE * below * way
        slope = self.slope_sigma * self.layer_mm[known]
        top = TOP_SIGMA * change[0] * depth[0]
        return float(np.sqrt((front**2).sum() + (slope**2).sum() + top**2))


def stored(
    depth_mm: Floats, theta_before: Floats, theta_after: Floats, slope_sigma: float
) -> Stored:
    """What was added between two sets of readings of a site.

    Parameters
    ----------
    depth_mm, theta_before, theta_after : array, shape (sensors,) [mm, m3/m3]
        Contents are NaN where a sensor is not trusted; its layer goes to its neighbours.
    slope_sigma : float [-]
    """
    added = theta_after - theta_before
    known = ~np.isnan(added)
    top = np.full(depth_mm.shape, np.nan)
    bottom = top.copy()
    if known.any():
        top[known], bottom[known] = sensor_layers(depth_mm[known])
    return Stored(added, top, bottom, depth_mm, slope_sigma)
