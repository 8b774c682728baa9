"""From sensors to the deficit of the root zone, layer by layer."""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.instrument.sensor_layers import sensor_layers
from core.soil.profile import Profile, overlap_mm


@dataclass(frozen=True)
class LayerParts:
    """The root zone cut at sensor layers and horizons, for one moment.

    Every array has shape (sensors, horizons); a part that does not exist has thickness 0.

    thick_mm, available_mm, deficit_mm, surplus_mm [mm]
    top_mm, bottom_mm [mm]
    fraction : array, shape (sensors,) [-], share of available water left, not clipped
    """

    top_mm: Floats
    bottom_mm: Floats
    thick_mm: Floats
    available_mm: Floats
    fraction: Floats
    deficit_mm: Floats
    surplus_mm: Floats


@dataclass(frozen=True)
class Deficit:
    """Deficit and surplus of the root zone; arrays of shape (times,), NaN where unknown.

    deficit_mm, surplus_mm [mm]; unseen_mm, root zone below the deepest sensor's layer [mm].
    """

    deficit_mm: Floats
    surplus_mm: Floats
    unseen_mm: Floats


def available_fraction(theta: ArrayLike, horizon: np.ndarray, profile: Profile) -> Floats:
    """Share of the available water left at each sensor; 1 at full, 0 at wilting, not clipped.

    Parameters
    ----------
    theta : array, shape (..., sensors) [m3/m3]
    horizon : array of int, shape (sensors,)
    """
    wilt = profile.theta_wilt[horizon]
    return (np.asarray(theta, float) - wilt) / (profile.theta_full[horizon] - wilt)


def _rooted_layers(profile: Profile, depth_mm: Floats, root_mm: ArrayLike) -> tuple[Floats, Floats]:
    """Sensor layers within the roots, the deepest carried to the root depth.

    Returns
    -------
    top_mm : array, shape (sensors,) [mm]
    bottom_mm : array, shape (..., sensors) [mm]
        At or above the top where a layer lies wholly below the roots.
    """
    limit = np.minimum(np.asarray(root_mm, float), profile.root_limit_mm)[..., None]
    top, bottom = sensor_layers(depth_mm)
    deepest = np.arange(depth_mm.size) == depth_mm.size - 1
    return top, np.where(deepest, limit, np.minimum(bottom, limit))


def layer_parts(
    profile: Profile, depth_mm: ArrayLike, theta: ArrayLike, root_mm: ArrayLike
) -> LayerParts:
    """Available water, deficit and surplus of each part of the root zone.

    Parameters
    ----------
    profile : Profile
    depth_mm : array, shape (sensors,), rising [mm]
        Trusted sensors only.
    theta : array, shape (..., sensors) [m3/m3]
    root_mm : array, shape (...) [mm]

    Returns
    -------
    LayerParts
        Arrays of shape (..., sensors, horizons).

    Notes
    -----
    A sensor speaks for its layer by the *share* of available water left, so that a layer
    that crosses into another horizon takes that horizon's limits. The deepest sensor's
    layer is carried to the root depth. Deficit = available x (1 - share), the share kept
    within 0-1; water above full is counted as surplus and never offsets a dry layer.
    """
    depth = np.asarray(depth_mm, float)
    content = np.asarray(theta, float)
    fraction = available_fraction(content, profile.horizon_at(depth), profile)
    top, low = _rooted_layers(profile, depth, root_mm)
    part_top = np.maximum(top[:, None], profile.top_mm) + 0 * low[..., None]
    part_bottom = np.minimum(low[..., None], profile.bottom_mm)
    thick = overlap_mm(top[:, None], low[..., None], profile.top_mm, profile.bottom_mm)
    available = profile.available_between(top, low)
    share = fraction[..., None]
    return LayerParts(
        top_mm=part_top,
        bottom_mm=part_bottom,
        thick_mm=thick,
        available_mm=available,
        fraction=fraction,
        deficit_mm=available * (1 - np.clip(share, 0, 1)),
        surplus_mm=available * np.maximum(share - 1, 0),
    )


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
    depth = np.asarray(depth_mm, float)
    content = np.asarray(theta, float)
    root = np.broadcast_to(np.asarray(root_mm, float), content.shape[:1])
    deficit = np.full(content.shape[0], np.nan)
    surplus = np.full(content.shape[0], np.nan)
    unseen = np.full(content.shape[0], np.nan)
    # Sensors drop out in few patterns, so one vectorised pass per pattern is cheap.
    known = ~np.isnan(content)
    pattern = known @ (1 << np.arange(depth.size))
    for code in np.unique(pattern):
        rows = np.flatnonzero(pattern == code)
        present = known[rows[0]]
        if not present.any():
            continue
        # Roots stand still for many readings: the layers are cut once for each depth of them.
        roots, at = np.unique(root[rows], return_inverse=True)
        top, low = _rooted_layers(profile, depth[present], roots)
        available = profile.available_between(top, low).sum(axis=-1)
        horizon = profile.horizon_at(depth[present])
        share = available_fraction(content[np.ix_(rows, present)], horizon, profile)
        deficit[rows] = (available[at] * (1 - np.clip(share, 0, 1))).sum(axis=-1)
        surplus[rows] = (available[at] * np.maximum(share - 1, 0)).sum(axis=-1)
        _, bottom = sensor_layers(depth[present])
        unseen[rows] = np.maximum(np.minimum(root[rows], profile.root_limit_mm) - bottom[-1], 0)
    return Deficit(deficit_mm=deficit, surplus_mm=surplus, unseen_mm=unseen)
