"""A simulated paddy, hour by hour, with a model of its own that shares nothing with the advice's.

Water stands over a puddled soil whose pores that drain grow fewer with depth; it leaves through a
pan by Darcy's law, through cracks once the soil has dried, through the bund's body by the height of
the water, and through a burrow above the height at which that lies.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats


@dataclass(frozen=True)
class PaddyGround:
    """What a field is in truth; depths and heights [mm].

    pan_top_mm, pan_mm : depth and thickness of the pan; pan_mm_day : its conductivity [mm/day]
    top_porosity, deep_porosity : drainable, at the surface and at the pan [-]
    crack_mm_day : lost more, with the water at the surface, once it was 10 cm below it
    leak_per_day : through the bund, share of the ponded depth [1/day]
    burrow_mm, burrow_mm_day : height of a burrow in the bund; lost by it where water stands 10 cm
        above
    use_factor : crop use over Kc and ET0 [-]; inlet_factor : inflow over what is believed [-]
    tube_off_mm : of the tube's place, by which it reads the field's mean level too high
    """

    bund_mm: float
    pan_top_mm: float
    pan_mm: float
    pan_mm_day: float
    top_porosity: float
    deep_porosity: float
    crack_mm_day: float
    leak_per_day: float
    burrow_mm: float
    burrow_mm_day: float
    use_factor: float
    inlet_factor: float
    tube_off_mm: float


def drawn_ground(rng: np.random.Generator) -> PaddyGround:
    """A field, from heavy clay to silt loam."""
    return PaddyGround(
        bund_mm=float(rng.uniform(130, 250)),
        pan_top_mm=float(rng.uniform(220, 330)),
        pan_mm=float(rng.uniform(60, 120)),
        pan_mm_day=float(rng.lognormal(np.log(0.8), 0.6)),
        top_porosity=float(rng.uniform(0.10, 0.22)),
        deep_porosity=float(rng.uniform(0.05, 0.10)),
        crack_mm_day=float(rng.uniform(0.0, 1.0)),
        leak_per_day=float(rng.uniform(0.0, 0.03)),
        burrow_mm=float(rng.uniform(60, 200)),
        burrow_mm_day=float(rng.choice([0.0, 0.0, rng.uniform(1, 6)])),
        use_factor=float(rng.normal(1.0, 0.07)),
        inlet_factor=float(rng.normal(1.0, 0.07)),
        tube_off_mm=float(rng.normal(0.0, 4.0)),
    )


class Paddy:
    """A field whose water is followed from hour to hour."""

    def __init__(self, ground: PaddyGround, level_mm: float = 30.0) -> None:
        self.ground = ground
        depth = np.arange(0.0, ground.pan_top_mm + 1.0)
        share = depth / ground.pan_top_mm
        pores = ground.top_porosity + (ground.deep_porosity - ground.top_porosity) * share
        self._depth = depth
        self._missing = np.concatenate([[0.0], np.cumsum((pores[1:] + pores[:-1]) / 2)])
        self.store_mm = (
            level_mm if level_mm > 0 else -float(np.interp(-level_mm, depth, self._missing))
        )
        self._cracked = False

    @property
    def level_mm(self) -> float:
        """Above the ground, below zero under it [mm]."""
        if self.store_mm >= 0:
            return self.store_mm
        return -float(np.interp(-self.store_mm, self._missing, self._depth))

    def hour(self, use_mm: float, rain_mm: float, inflow_mm: float) -> None:
        """An hour with crop use, rain and inflow [mm]."""
        g, level = self.ground, self.level_mm
        head = max(level + g.pan_top_mm + g.pan_mm, 0.0)
        down = g.pan_mm_day * head / g.pan_mm
        if level < -100.0:
            self._cracked = True
        elif level > 0 and inflow_mm == 0:
            self._cracked = False
        if self._cracked:
            down += g.crack_mm_day
        out = g.leak_per_day * max(level, 0.0)
        out += g.burrow_mm_day * np.sqrt(max(level - g.burrow_mm, 0.0) / 100.0)
        self.store_mm += rain_mm + inflow_mm - use_mm * g.use_factor - (down + out) / 24
        self.store_mm = float(np.clip(self.store_mm, -self._missing[-1], g.bund_mm))

    def continuous_mm(self, use_mm: Floats, rain_mm: Floats, low_mm: float, to_mm: float) -> float:
        """Water that keeps the field ponded through hours of use and rain: filled to a level
        whenever it is down to a low one; less what stands in it at the end [mm]."""
        given, before = 0.0, self.store_mm
        for use, rain in zip(use_mm.tolist(), rain_mm.tolist(), strict=True):
            inflow = max(to_mm - self.level_mm, 0.0) if self.level_mm <= low_mm else 0.0
            given += inflow
            self.hour(use, rain, inflow)
        return given - (self.store_mm - before)
