"""How fast a soil drains, and what holds it up.

References
----------
.. [1] Hillel, D. (1998), Environmental Soil Physics, ch. 16: redistribution slows as the
   conductivity falls; a slow layer below lets through no more than it conducts.
"""

import numpy as np

from core.arrays import Floats
from core.soil.profile import Profile

# Days in which nine tenths of a surplus have drained where nothing holds it up, by the saturated
# conductivity of the slowest horizon [mm/h]: full is reached after one day on sands to three on
# clays (common practice, no source).
KSAT_MM_H, DRAIN_DAYS = (2.0, 50.0), (3.0, 1.0)
# Tension at which a soil loses about 1 mm/day, by its saturated conductivity [mm/h, kPa].
DRAINED_KSAT, DRAINED_KPA = (2.0, 15.0, 60.0), (12.0, 8.0, 5.0)
# A layer that begins this far below the roots still holds their water up (common practice, no
# source).
HOLDS_UP_MM = 300.0
# A layer that lets this much through in a day holds nothing up: more seldom comes [mm/day].
LETS_ALL_THROUGH_MM = 100.0


def drained_tension(ksat_mm_h: float) -> float:
    """Tension at which a soil still loses about 1 mm/day [kPa]."""
    return float(np.interp(np.log(ksat_mm_h), np.log(DRAINED_KSAT), DRAINED_KPA))


def drain_share(profile: Profile) -> float:
    """Share of a surplus that leaves in a day where no layer holds it up [-]."""
    slowest = min(h.ksat_mm_h for h in profile.limits)
    days = np.interp(np.log(max(slowest, 1e-3)), np.log(KSAT_MM_H), DRAIN_DAYS)
    return float(1 - 0.1 ** (1 / days))


def most_drained_mm(profile: Profile, root_mm: float) -> float:
    """What the slowest layer in and just below the roots lets through in a day [mm] [1]_.

    Under unit gradient, so much as its saturated conductivity.
    """
    near = profile.top_mm <= root_mm + HOLDS_UP_MM
    return 24 * min(h.ksat_mm_h for h, here in zip(profile.limits, near, strict=True) if here)


def held_up(profile: Profile, edge_mm: Floats) -> Floats:
    """What may leave each of some layers in a day, where a slower one follows.

    Parameters
    ----------
    edge_mm : array, shape (layers + 1,) [mm]

    Returns
    -------
    array, shape (layers,) [mm/day]
        Infinity where the soil below takes what comes; the last layer lets its own conductivity
        out.
    """
    ksat = np.array([h.ksat_mm_h for h in profile.limits])
    layers = edge_mm.size - 1
    out = np.full(layers, np.inf)
    for j in range(layers):
        upper = ksat[profile.horizon_at(edge_mm[j : j + 1])[0]]
        last = edge_mm[min(j + 2, layers)]
        inside = (profile.top_mm > edge_mm[j]) & (profile.top_mm < last)
        slowest = ksat[inside].min(initial=np.inf)
        if slowest < upper:
            out[j] = 24 * slowest
    out[-1] = min(out[-1], 24 * ksat[profile.horizon_at(edge_mm[-2:-1])[0] :].min())
    return np.where(out < LETS_ALL_THROUGH_MM, out, np.inf)
