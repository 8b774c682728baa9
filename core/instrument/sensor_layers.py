"""The slice of soil that each sensor of a site stands for."""

import numpy as np

from core.arrays import ArrayLike, Floats


def sensor_layers(depth_mm: ArrayLike) -> tuple[Floats, Floats]:
    """Top and bottom of each sensor's layer.

    Parameters
    ----------
    depth_mm : array, shape (sensors,), rising [mm]

    Returns
    -------
    top_mm, bottom_mm : array, shape (sensors,) [mm]

    Raises
    ------
    ValueError
        When there is no sensor, or depths don't rise from above zero.

    Notes
    -----
    Half-way to the neighbours, the top one up to the surface, the bottom one as far again
    as half its spacing; a lone sensor's spacing is its own depth (common practice, no source).
    """
    depth = np.asarray(depth_mm, float)
    if depth.size == 0:
        raise ValueError("a site needs at least one sensor")
    if np.any(np.diff(depth, prepend=0.0) <= 0):
        raise ValueError("sensor depths must rise from the surface down, each once")
    middle = (depth[:-1] + depth[1:]) / 2
    last_spacing = depth[-1] - (depth[-2] if depth.size > 1 else 0.0)
    top = np.concatenate([[0.0], middle])
    bottom = np.concatenate([middle, [depth[-1] + last_spacing / 2]])
    return top, bottom
