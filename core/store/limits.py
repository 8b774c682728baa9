"""Full, refill and wilting points of a root zone as water depths."""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.soil.profile import Profile, overlap_mm


@dataclass(frozen=True)
class RootZoneLimits:
    """Arrays of the broadcast shape of root depth and p; water depths [mm].

    full_mm, refill_mm, wilt_mm : all the water held at that point
    taw_mm, raw_mm : total and readily available water
    """

    full_mm: Floats
    refill_mm: Floats
    wilt_mm: Floats
    taw_mm: Floats
    raw_mm: Floats


def root_zone_limits(profile: Profile, root_mm: ArrayLike, p: ArrayLike) -> RootZoneLimits:
    """Limits of the soil between the surface and the root depth.

    Parameters
    ----------
    profile : Profile
    root_mm : array [mm]
        Roots deeper than the described profile stop at its bottom.
    p : array, broadcastable with ``root_mm`` [-]

    Returns
    -------
    RootZoneLimits
        refill = full - p x TAW.
    """
    root = np.minimum(np.asarray(root_mm, float), profile.depth_mm)[..., None]
    thick = overlap_mm(0.0, root, profile.top_mm, profile.bottom_mm)
    full = (thick * profile.theta_full).sum(axis=-1)
    wilt = (thick * profile.theta_wilt).sum(axis=-1)
    taw = full - wilt
    raw = np.asarray(p, float) * taw
    return RootZoneLimits(full_mm=full, refill_mm=full - raw, wilt_mm=wilt, taw_mm=taw, raw_mm=raw)
