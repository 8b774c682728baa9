"""The deficit of a root zone by the sensors of one site."""

import numpy as np

from core.arrays import ArrayLike, Floats
from core.soil.profile import Profile
from core.soil.profiles import Profiles
from core.store.layers import Deficit, LayerParts, Layers


def available_fraction(theta: ArrayLike, horizon: np.ndarray, profile: Profile) -> Floats:
    """Share of the available water left at each sensor; 1 at full, 0 at wilting, not clipped.

    Parameters
    ----------
    theta : array, shape (..., sensors) [m3/m3]
    horizon : array of int, shape (sensors,)
    """
    wilt = profile.theta_wilt[horizon]
    return (np.asarray(theta, float) - wilt) / (profile.theta_full[horizon] - wilt)


def layer_parts(
    profile: Profile, depth_mm: ArrayLike, theta: ArrayLike, root_mm: float
) -> LayerParts:
    """Available water, deficit and surplus of each part of the root zone at one moment.

    Parameters
    ----------
    profile : Profile
    depth_mm : array, shape (sensors,), rising [mm]
        Trusted sensors only.
    theta : array, shape (sensors,) [m3/m3]
    root_mm : float [mm]

    Returns
    -------
    LayerParts
        Arrays of shape (sensors, horizons).
    """
    content = np.asarray(theta, float)[None, None, :]
    found = Layers(Profiles.of([profile]), np.asarray(depth_mm, float)[None, :], content)
    parts = found.parts(np.array([[root_mm]], float))
    shape = parts.thick_mm.shape
    return LayerParts(**{k: np.broadcast_to(v, shape)[0, 0] for k, v in vars(parts).items()})


def root_zone_deficit(
    profile: Profile, depth_mm: ArrayLike, theta: ArrayLike, root_mm: ArrayLike
) -> Deficit:
    """Deficit of the root zone over time from one site.

    Parameters
    ----------
    profile : Profile
    depth_mm : array, shape (sensors,), rising [mm]
    theta : array, shape (times, sensors) [m3/m3]
        NaN where a sensor is missing or not trusted; its neighbours take over its layer.
    root_mm : array, shape (times,) [mm]

    Returns
    -------
    Deficit
        Shape (times,); NaN when no sensor is trusted at that time.
    """
    content = np.asarray(theta, float)
    root = np.broadcast_to(np.asarray(root_mm, float), content.shape[:1])
    found = Layers(Profiles.of([profile]), np.asarray(depth_mm, float)[None, :], content[None])
    site = found.down_to(root[None, :])
    return Deficit(**{k: v[0] for k, v in vars(site).items()})
