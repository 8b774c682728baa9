"""How well the texture classes conduct water that is held under tension.

References
----------
.. [1] van Genuchten, M. Th. (1980), doi:10.2136/sssaj1980.03615995004400050002x, eq. 9, after
   Mualem, Y. (1976), Water Resour. Res. 12:513-522.
.. [2] Carsel, R. F., Parrish, R. S. (1988), doi:10.1029/WR024i005p00755, class means.
"""

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np

from core.arrays import ArrayLike, Floats
from core.soil.retention import CM_PER_KPA
from core.soil.texture import TextureClass

PORES = 0.5  # Mualem's exponent for how pores are joined [1]_


@dataclass(frozen=True)
class Conductivity:
    """Of one soil: saturated [mm/day]; alpha [1/kPa] and n [-] of its retention."""

    saturated_mm_day: float
    alpha: float
    n: float

    def at(self, tension_kpa: ArrayLike) -> Floats:
        """Conductivity at tensions [1]_ [mm/day]."""
        m = 1 - 1 / self.n
        wet = (1 + (self.alpha * np.asarray(tension_kpa, float)) ** self.n) ** -m
        out: Floats = self.saturated_mm_day * wet**PORES * (1 - (1 - wet ** (1 / m)) ** m) ** 2
        return out


@cache
def class_conductivity() -> dict[TextureClass, Conductivity]:
    """Of each texture class by its mean parameters [2]_; read once from the data file."""
    text = resources.files("core.soil").joinpath("class_means.json").read_text("utf-8")
    return {
        TextureClass(name): Conductivity(10 * ksat, alpha * CM_PER_KPA, n)
        for name, (_r, _s, alpha, n, ksat) in json.loads(text)["classes"].items()
    }
