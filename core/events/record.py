"""The record of one site over a time: readings, water that came, roots and use by day."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from core.arrays import Bools, Floats
from core.events.noise import is_night
from core.events.stored import TENSION_SLOPE, THETA_SLOPE
from core.events.supply import Supply
from core.instrument.kinds import Quantity, kinds
from core.instrument.sensor_layers import sensor_layers
from core.instrument.site import Site
from core.quality.climbs import DAY_HOURS
from core.state.daylight import used_by

# A reading stands for the time after it as long as this, or one and a half usual steps [h].
HOLDS_H = 6.0


@dataclass(frozen=True)
class SiteRecord:
    """Readings of a site and what happened there.

    clock_hour : float [h], of now by the farm's clock
    supplies : irrigations and rain, hours from now
    day_hours : array, shape (days,), rising [h from now], when each day begins
    root_mm, use_mm : array, shape (days,) [mm], roots and what the crop used of the strip's ground;
        NaN where not known
    wetted_share : share of the ground that an irrigation wets [-]
    noise : array, shape (sensors,), of `core.events.noise.night_noise`; None: found from these
        readings
    """

    site: Site
    clock_hour: float
    supplies: tuple[Supply, ...]
    day_hours: Floats
    root_mm: Floats
    use_mm: Floats
    wetted_share: float = 1.0
    noise: Floats | None = None

    @property
    def is_tension(self) -> bool:
        """Whether its instrument tells a tension."""
        return kinds()[self.site.kind].quantity is Quantity.TENSION

    @property
    def slope_sigma(self) -> float:
        """Spread of what its sensors tell of a change of content, as a share of it [-]."""
        return TENSION_SLOPE if self.is_tension else THETA_SLOPE

    @cached_property
    def night(self) -> Bools:
        """Whether each reading was taken at night."""
        return is_night((self.site.hours + self.clock_hour) % DAY_HOURS)

    @cached_property
    def theta(self) -> Floats:
        """Trusted content, the last one held on for six hours; shape (times, sensors)."""
        site = self.site
        known = ~np.isnan(site.theta)
        rows = np.arange(site.hours.size)[:, None]
        last = np.maximum.accumulate(np.where(known, rows, -1), axis=0)
        step = float(np.median(np.diff(site.hours))) if site.hours.size > 1 else 0.0
        age = site.hours[:, None] - site.hours[np.maximum(last, 0)]
        held = np.take_along_axis(site.theta, np.maximum(last, 0), axis=0)
        out: Floats = np.where((last >= 0) & (age <= max(HOLDS_H, 1.5 * step)), held, np.nan)
        return out

    def row_at(self, hours: float) -> int:
        """The last row of readings not after a moment; -1 before the first one."""
        return int(np.searchsorted(self.site.hours, hours + 1e-6, "right")) - 1

    def root_at(self, hours: float) -> float:
        """Root depth on the day of a moment [mm]."""
        if not self.day_hours.size:
            return float("nan")
        return float(self.root_mm[max(self._day_at(hours), 0)])

    def used_between(self, start_hours: float, end_hours: float) -> float:
        """What the crop used between two moments [mm]; NaN beyond the days that are known of."""
        if not self.day_hours.size:
            return float("nan")
        first, last = self._day_at(start_hours), self._day_at(end_hours)
        if first < 0 or end_hours > self.day_hours[-1] + DAY_HOURS:
            return float("nan")
        days = np.arange(first, last + 1)
        begins = self.day_hours[days]
        light = used_by(np.clip(end_hours - begins, 0, DAY_HOURS))
        light -= used_by(np.clip(start_hours - begins, 0, DAY_HOURS))
        return float((self.use_mm[days] * light).sum())

    def _day_at(self, hours: float) -> int:
        return int(np.searchsorted(self.day_hours, hours, "right")) - 1

    def store_mm(self, root_mm: float, rows: slice) -> Floats:
        """Water within a depth by the layers of all sensors, shape (rows,) [mm]; NaN where one
        that counts is not known."""
        top, bottom = self._layers
        thick = np.maximum(np.minimum(bottom, root_mm) - top, 0.0)
        counts = (thick > 0) & self.speaks
        out: Floats = self.theta[rows][:, counts] @ thick[counts]
        return out

    def above(self, sensors: list[int]) -> Floats:
        """Thickness of each sensor's layer above others' depths, shape (sensors, others) [mm]:
        with it contents become the water above those."""
        top, bottom = self._layers
        depth = self.site.depth_mm[sensors]
        out: Floats = np.clip(np.minimum(bottom[:, None], depth) - top[:, None], 0.0, None)
        return out

    @cached_property
    def _layers(self) -> tuple[Floats, Floats]:
        return sensor_layers(self.site.depth_mm)

    @cached_property
    def speaks(self) -> Bools:
        """Sensors that said anything at all."""
        return np.asarray(~np.isnan(self.theta).all(axis=0), bool)
