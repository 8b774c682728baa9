"""A simulated vine with a hydraulic model of its own, that shares nothing with the advice's.

Water moves from layers of soil through the rhizosphere, root and stem to the leaf along falls of
potential; stomata close as the stem's potential falls. Three-hour steps.
"""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from core.arrays import Floats

LAYERS = 8
STEP_H = 3.0
# Share of a day's demand by three-hour step, midnight first, and the pull at noon over the step's.
DAYLIGHT = np.array([0.0, 0.0, 0.06, 0.22, 0.31, 0.27, 0.13, 0.01])
NOON_STEP, NOON_PEAK = 4, 1.05
DRIEST_MPA = -4.0


@dataclass(frozen=True)
class VineGround:
    """What a vineyard is in truth.

    root_mm : depth of the roots; shape : how fast they thin out with depth [-]
    theta_full, theta_wilt : at 33 kPa and 1500 kPa [m3/m3]
    root_resistance : of all roots and the stem, fall of potential for each mm/day [MPa]
    soil_resistance : of the soil about the roots at full [MPa], growing as it dries
    closes_mpa, closes_slope : stem potential at which stomata are half closed, and how sharply
    use_factor : transpiration over Kc and ET0 [-]
    bare_mm_day : from the soil's surface when wet
    gives_factor : water that comes over what is believed [-]
    """

    root_mm: float
    shape: float
    theta_full: float
    theta_wilt: float
    root_resistance: float
    soil_resistance: float
    closes_mpa: float
    closes_slope: float
    use_factor: float
    gives_factor: float


def drawn_vineyard(rng: np.random.Generator) -> VineGround:
    """A vineyard, from sandy loam to clay loam."""
    wilt = float(rng.uniform(0.08, 0.20))
    return VineGround(
        root_mm=float(rng.uniform(1000, 1700)),
        shape=float(rng.uniform(1.0, 2.0)),
        theta_full=wilt + float(rng.uniform(0.11, 0.16)),
        theta_wilt=wilt,
        root_resistance=float(rng.uniform(0.02, 0.045)),
        soil_resistance=float(rng.uniform(0.0005, 0.003)),
        closes_mpa=float(rng.uniform(-1.8, -1.3)),
        closes_slope=float(rng.uniform(3.0, 6.0)),
        use_factor=float(rng.normal(1.0, 0.1)),
        gives_factor=float(rng.normal(1.0, 0.05)),
    )


class Vine:
    """One vineyard's soil and vines.

    theta : array, shape (LAYERS,), water content now [m3/m3]
    noon_mpa : stem potential at the last noon
    """

    def __init__(self, ground: VineGround) -> None:
        self.ground = ground
        self.thick_mm = ground.root_mm / LAYERS
        depth = (np.arange(LAYERS) + 1) / LAYERS
        below = 1 - (1 - depth) ** ground.shape
        self.roots = np.diff(np.concatenate([[0.0], below]))
        # Campbell's retention through the two known points.
        self.power = np.log(1500 / 33) / np.log(ground.theta_full / ground.theta_wilt)
        self.theta = np.full(LAYERS, ground.theta_full)
        self.noon_mpa = 0.0
        self.used_mm = 0.0

    @property
    def store_mm(self) -> float:
        """Water above wilting [mm]."""
        return float((self.theta - self.ground.theta_wilt).sum() * self.thick_mm)

    def _soil_mpa(self) -> Floats:
        out: Floats = -0.033 * (self.theta / self.ground.theta_full) ** -self.power
        return np.maximum(out, DRIEST_MPA)

    def _open(self, mpa: float) -> float:
        """Share of the demand that passes the stomata at a stem potential."""
        g = self.ground
        return 1.0 / (1.0 + (mpa / g.closes_mpa) ** g.closes_slope)

    def _conductance(self) -> Floats:
        """Of each layer, from the soil to the stem [mm/day/MPa]."""
        g = self.ground
        dry = np.clip(self.theta / g.theta_full, 0.05, 1.2) ** (2 * self.power + 3)
        each = g.root_resistance / self.roots
        about = g.soil_resistance / self.roots / np.maximum(dry, 1e-6)
        return np.asarray(1.0 / (each + about))

    def _stem(self, demand_mm_day: float) -> float:
        """Stem potential at which supply and demand are the same [MPa]."""
        soil, conductance = self._soil_mpa(), self._conductance()

        def lacking(mpa: float) -> float:
            supply = float((conductance * np.maximum(soil - mpa, 0.0)).sum())
            return supply - demand_mm_day * self._open(mpa)

        return float(brentq(lacking, DRIEST_MPA * 1.5, -1e-6))

    def day(self, demand_mm: float, rain_mm: float, given_mm: float) -> None:
        """A day goes by: water comes at its beginning, then the sun pulls.

        Parameters
        ----------
        demand_mm : float
            Use without stress [mm/day].
        rain_mm, given_mm : float
            That enter the soil [mm].
        """
        self._wet(rain_mm + given_mm)
        for step, share in enumerate(DAYLIGHT):
            rate = demand_mm * share * 24 / STEP_H
            if step == NOON_STEP:
                self.noon_mpa = self._stem(rate * NOON_PEAK)
            if rate <= 0:
                continue
            mpa = self._stem(rate)
            pull = self._conductance() * np.maximum(self._soil_mpa() - mpa, 0.0)
            taken = pull * STEP_H / 24
            self.used_mm += float(taken.sum())
            self.theta = np.maximum(self.theta - taken / self.thick_mm, 0.02)

    def _wet(self, water_mm: float) -> None:
        """Layers fill from the top to full; what is over leaves the roots."""
        for k in range(LAYERS):
            room = (self.ground.theta_full - self.theta[k]) * self.thick_mm
            taken = min(max(room, 0.0), water_mm)
            self.theta[k] += taken / self.thick_mm
            water_mm -= taken
