"""Full, refill and wilting points of a root zone as water depths, and layer by layer."""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.soil.profile import Profile


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
        Roots stop at the bottom of the described profile, or at a horizon that stops them.
    p : array, broadcastable with ``root_mm`` [-]

    Returns
    -------
    RootZoneLimits
        refill = full - p x TAW.
    """
    root = np.minimum(np.asarray(root_mm, float), profile.root_limit_mm)
    thick = profile.thick_between(0.0, root)
    full = (thick * profile.theta_full).sum(axis=-1)
    wilt = (thick * profile.theta_wilt).sum(axis=-1)
    taw = full - wilt
    raw = np.asarray(p, float) * taw
    return RootZoneLimits(full_mm=full, refill_mm=full - raw, wilt_mm=wilt, taw_mm=taw, raw_mm=raw)


def missing_depth_mm(profile: Profile, root_mm: float) -> float:
    """How much deeper than described the soil must be known for roots of a depth [mm].

    0 where the description reaches as deep, or says what stops the roots above its bottom.
    """
    if profile.root_limit_mm < profile.depth_mm:
        return 0.0
    return max(root_mm - profile.depth_mm, 0.0)


@dataclass(frozen=True)
class LayerLimits:
    """The part of one horizon within the roots: its limits as depth, content and tension.

    theta [m3/m3, whole soil], tension [kPa], water [mm] between top and bottom [mm];
    ``available_sigma_mm`` carries the uncertainty of the limits.
    """

    horizon: int
    top_mm: float
    bottom_mm: float
    theta_full: float
    theta_refill: float
    theta_wilt: float
    full_kpa: float
    refill_kpa: float
    full_mm: float
    refill_mm: float
    wilt_mm: float
    available_mm: float
    available_sigma_mm: float


def layer_limits(
    profile: Profile, root_mm: float, p: float, tension_kpa: float | None = None
) -> tuple[LayerLimits, ...]:
    """Limits of each horizon within the roots.

    Parameters
    ----------
    profile : Profile
    root_mm : float [mm]
    p : float [-]
        Share that is used of every layer alike.
    tension_kpa : float, optional [kPa]
        Where a tension limit is in force each layer stands at it instead.
    """
    out = []
    root = min(root_mm, profile.root_limit_mm)
    for h, limit in enumerate(profile.limits):
        top, bottom = float(profile.top_mm[h]), min(float(profile.bottom_mm[h]), root)
        if bottom <= top:
            break
        thick = bottom - top
        refill = limit.theta_full - p * limit.available
        if tension_kpa is not None:
            at_limit = float(limit.curve.theta_at(tension_kpa)) * (1 - limit.gravel)
            refill = min(max(at_limit, limit.theta_wilt), limit.theta_full)
        out.append(
            LayerLimits(
                horizon=h,
                top_mm=top,
                bottom_mm=bottom,
                theta_full=limit.theta_full,
                theta_refill=refill,
                theta_wilt=limit.theta_wilt,
                full_kpa=limit.full_tension_kpa,
                refill_kpa=float(limit.curve.tension_at(refill / (1 - limit.gravel))),
                full_mm=thick * limit.theta_full,
                refill_mm=thick * refill,
                wilt_mm=thick * limit.theta_wilt,
                available_mm=thick * limit.available,
                available_sigma_mm=thick * limit.sigma_available,
            )
        )
    return tuple(out)
