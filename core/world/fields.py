"""Fields that are not what they are said to be: the truth of closed-loop trials.

The water of many columns is solved together in 50 mm nodes on quarter-hour steps, by laws that
the daily balance does not use: unsaturated flow at unit gradient [1]_, a wet top that
evaporates on its own, roots that take more from where more is. Soil, roots, water use, rain and
the sets themselves are drawn away from what the owner believes.

References
----------
.. [1] Campbell, G. S. (1974), A simple method for determining unsaturated conductivity from
   moisture retention data, Soil Sci. 117:311-314: K = Ksat (theta / theta_sat) ** (2b + 3).
.. [2] Allen, R. G. et al. (1998), FAO Irrigation and Drainage Paper 56, eq. 71: Ke of a wet
   surface is Kc max - Kcb.
"""

from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.crop.depletion import adjusted_p
from core.soil.profile import Profile
from core.soil.retention import WILTING_TENSION_KPA
from core.state.daylight import used_by

NODE_MM = 50.0
STEPS_PER_DAY = 96
STEPS_PER_HOUR = STEPS_PER_DAY // 24
RAIN_HOURS = range(14, 18)
SET_HOURS = range(7, 11)
# How far the truth lies from what is believed, beside the limits, which lie as far off as they are
# said to: spreads, working assumptions, no source.
USE_SIGMA = 0.10
ROOT_SIGMA = 0.10
RAIN_SIGMA = 0.15
SET_SIGMA = 0.05
# Of the sun on bare ground what a wet top takes: all of it [2]_, or as little as under straw
# (working assumption, no source).
SURFACE_SHARES = (0.4, 1.0)
LEAST_AVAILABLE = 0.03  # that any soil holds between full and wilting [m3/m3]


@dataclass(frozen=True)
class Believed:
    """What the owner thinks of one field: its soil, and by day basal Kcb, roots [mm] and p at
    5 mm/day."""

    profile: Profile
    kcb: Floats
    root_mm: Floats
    p_table: Floats


@dataclass(frozen=True)
class Day:
    """What happened in each field on a day, arrays (fields,) [mm].

    ``above_mm``: from full to where a layer loses 1 mm/day.
    ``depletion_mm``, ``raw_mm``, ``taw_mm``: of the true root zone in the morning; water above
    full in one part counts for another, since the crop drinks it.
    """

    depletion_mm: Floats
    raw_mm: Floats
    taw_mm: Floats
    above_mm: Floats


class Fields:
    """Columns of one climate, moved on a day at a time; ``theta`` (fields, nodes) is the truth."""

    def __init__(self, believed: Sequence[Believed], rng: np.random.Generator) -> None:
        count, nodes = len(believed), 28
        self.believed = believed
        self.node_mm = (np.arange(nodes) + 0.5) * NODE_MM
        index = [b.profile.horizon_at(self.node_mm) for b in believed]

        def of(name: str) -> Floats:
            pairs = zip(believed, index, strict=True)
            return np.array([getattr(b.profile, name)[i] for b, i in pairs])

        limits = [[b.profile.limits[h] for h in i] for b, i in zip(believed, index, strict=True)]

        def by_limit(name: str) -> Floats:
            return np.array([[getattr(h, name) for h in row] for row in limits])

        # One draw for a whole field: its owner took it for another soil than it is.
        shift = rng.normal(0, 1, (2, count, 1))
        self.sat = of("theta_sat")
        full = of("theta_full") + by_limit("sigma_full") * shift[0]
        wilt = of("theta_wilt") + by_limit("sigma_wilt") * shift[1]
        self.full = np.clip(full, 2 * LEAST_AVAILABLE, self.sat - 0.03)
        self.wilt = np.clip(wilt, 0.02, self.full - LEAST_AVAILABLE)
        # Tension by a power of the content through both limits.
        self.full_kpa = by_limit("full_tension_kpa")
        self.b = np.log(WILTING_TENSION_KPA / self.full_kpa) / np.log(self.full / self.wilt)
        ksat = by_limit("ksat_mm_h")
        # The exponent that leaves half a millimetre a day at the true full point: what full means.
        slow = 0.5 / 24 / np.maximum(ksat, 0.05)
        self.power = np.log(slow) / np.log(self.full / self.sat)
        self.ksat = ksat
        self.use = np.clip(rng.normal(1, USE_SIGMA, count), 0.75, 1.25)
        self.roots = np.clip(rng.normal(1, ROOT_SIGMA, count), 0.75, 1.25)
        self.rain_share = np.clip(rng.normal(1, RAIN_SIGMA, count), 0.6, 1.4)
        self.set_share = np.clip(rng.normal(1, SET_SIGMA, count), 0.85, 1.15)
        self.surface_share = rng.uniform(*SURFACE_SHARES, count)
        self.theta = self.full.copy()
        hours = np.arange(STEPS_PER_DAY + 1) * 24 / STEPS_PER_DAY
        self.light = np.diff(used_by(hours))
        self.drained_mm = np.zeros(count)
        self.used_mm = np.zeros(count)

    def root_mm(self, day: int) -> Floats:
        """True root depth of each field on a day."""
        deep = NODE_MM * self.node_mm.size
        return np.minimum([b.root_mm[day] for b in self.believed] * self.roots, deep)

    def _inside(self, day: int) -> Floats:
        top = self.node_mm - NODE_MM / 2
        return np.clip((self.root_mm(day)[:, None] - top) / NODE_MM, 0, 1)

    def morning(self, day: int, et0_mm: float) -> Day:
        """How each field stands before the day's work."""
        inside = self._inside(day)
        taw = ((self.full - self.wilt) * inside).sum(axis=1) * NODE_MM
        depletion = ((self.full - self.theta) * inside).sum(axis=1) * NODE_MM
        kcb = np.array([b.kcb[day] for b in self.believed]) * self.use
        p = adjusted_p([b.p_table[day] for b in self.believed], kcb * et0_mm)
        # The true full point loses half a millimetre a day; one loses a whole one a little above.
        above = ((2 ** (1 / self.power) - 1) * self.full * inside).sum(axis=1) * NODE_MM
        return Day(depletion, p * taw, taw, above)

    def copy(self) -> "Fields":
        """The same columns, to be carried on apart."""
        other = copy(self)
        for name in ("theta", "drained_mm", "used_mm"):
            setattr(other, name, getattr(self, name).copy())
        return other

    def pass_day(self, day: int, et0_mm: float, rain_mm: float, net_mm: Floats) -> Floats:
        """Let a day pass: rain in the afternoon, sets in the morning, use by light.

        Returns
        -------
        array, shape (fields,) [-]
            What the crop got of the transpiration that it wanted.
        """
        supply = np.zeros((24, net_mm.size))
        supply[list(RAIN_HOURS)] += rain_mm * self.rain_share / len(RAIN_HOURS)
        supply[list(SET_HOURS)] += net_mm * self.set_share / len(SET_HOURS)
        demand = np.array([b.kcb[day] for b in self.believed]) * self.use * et0_mm
        before = self.used_mm.copy()
        self.pass_hours(day, et0_mm, supply)
        share: Floats = (self.used_mm - before) / np.maximum(demand, 1e-9)
        return share

    def root_weights(self, day: int) -> Floats:
        """Roots in each node on a day, thinning out downwards; array (fields, nodes) [-]."""
        root = self.root_mm(day)[:, None]
        weights: Floats = self._inside(day) * np.exp(-1.5 * self.node_mm / root)
        return weights

    def pass_hours(
        self, day: int, et0_mm: float, supply_mm: Floats, first: int = 0, last: int = 24
    ) -> None:
        """Let hours of a day pass.

        Parameters
        ----------
        supply_mm : array, shape (24, fields) [mm]
            Rain and water given that reach each field in each hour of the day.
        first, last : int
            Hours of the clock.
        """
        weight = self.root_weights(day)
        demand = np.array([b.kcb[day] for b in self.believed]) * self.use * et0_mm
        cover = np.clip(demand / max(et0_mm, 1e-9), 0, 1)
        p = adjusted_p([b.p_table[day] for b in self.believed], demand)[:, None]
        for step in range(first * STEPS_PER_HOUR, last * STEPS_PER_HOUR):
            self._flow(supply_mm[step // STEPS_PER_HOUR] / STEPS_PER_HOUR)
            if self.light[step] > 0:
                self._evaporate((1 - cover) * et0_mm * self.light[step])
                self._drink(weight, p, demand * self.light[step])

    def _flow(self, inflow_mm: Floats) -> None:
        """Water in at the top; every node gives what its conductivity lets go down."""
        self.theta[:, 0] += inflow_mm / NODE_MM
        for k in range(self.node_mm.size - 1):
            excess = np.maximum(self.theta[:, k] - self.sat[:, k], 0)
            if not excess.any():
                break
            self.theta[:, k] -= excess
            self.theta[:, k + 1] += excess
        share = np.clip(self.theta / self.sat, 1e-3, 1)
        rate = self.ksat * share**self.power * 24 / STEPS_PER_DAY / NODE_MM
        flow = np.minimum(rate, np.maximum(self.theta - self.wilt, 0) * 0.3)
        self.theta -= flow
        self.theta[:, 1:] += flow[:, :-1]
        self.drained_mm += flow[:, -1] * NODE_MM

    def _drink(self, weight: Floats, p: Floats, demand_mm: Floats) -> None:
        """Roots take by their density and the wetness of each node; a dry part is made up for."""
        wet = np.clip((self.theta - self.wilt) / ((1 - p) * (self.full - self.wilt)), 0, 1)
        pull = weight * wet
        total = pull.sum(axis=1)
        reach = np.minimum(1.0, 1.6 * total / np.maximum(weight.sum(axis=1), 1e-9))
        taken = (demand_mm * reach / np.maximum(total, 1e-9))[:, None] * pull
        taken = np.minimum(taken, np.maximum(self.theta - self.wilt, 0) * NODE_MM)
        self.theta -= taken / NODE_MM
        self.used_mm += taken.sum(axis=1)

    def tension_kpa(self, theta: Floats, node: int) -> Floats:
        """Tension of a content around a node; arrays (fields,)."""
        out: Floats = self.full_kpa[:, node] * (theta / self.full[:, node]) ** -self.b[:, node]
        return out

    def _evaporate(self, energy_mm: Floats) -> None:
        """What the sun draws from a wet bare top [mm]; it stops at half the wilting point."""
        dry = 0.5 * self.wilt[:, 0]
        wet = np.clip((self.theta[:, 0] - dry) / (self.full[:, 0] - dry), 0, 1)
        risen = self.surface_share * energy_mm * wet**2
        self.theta[:, 0] -= risen / NODE_MM
