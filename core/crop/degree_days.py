"""Growing degree-days: the warmth a day adds, by a named method.

References
----------
.. [1] McMaster, G. S., Wilhelm, W. W. (1997), Growing degree-days: one equation, two
   interpretations, Agric. For. Meteorol. 87:291-300, doi:10.1016/S0168-1923(97)00027-0.
.. [2] Baskerville, G. L., Emin, P. (1969), Rapid estimation of heat accumulation from
   maximum and minimum temperatures, Ecology 50:514-517, doi:10.2307/1933912.
"""

from enum import StrEnum

import numpy as np

from core.arrays import ArrayLike, Floats


class DegreeDayMethod(StrEnum):
    """How a day's warmth is counted."""

    AVERAGE = "average"
    CUT_OFF = "cut-off"
    SINE = "single sine"


def degree_days(
    t_min_c: ArrayLike,
    t_max_c: ArrayLike,
    base_c: float,
    upper_c: float | None = None,
    method: DegreeDayMethod = DegreeDayMethod.CUT_OFF,
) -> Floats:
    """Degree-days of each day.

    Parameters
    ----------
    t_min_c, t_max_c : array, shape (days,) [degrees C]
    base_c : float [degrees C]
    upper_c : float, optional [degrees C]
        Warmth above it counts no more; the single sine method takes none.
    method : DegreeDayMethod
        ``average``: the mean of the day, kept between base and upper, less the base
        (method 1 of [1]_). ``cut-off``: each extreme is kept between base and upper before
        the mean is taken (method 2 of [1]_; the "86/50" of maize). ``single sine``: the area
        of a sine through the extremes above the base [2]_.

    Returns
    -------
    array, shape (days,) [degrees C day]
        NaN where an extreme is unknown.

    Raises
    ------
    ValueError
        When a minimum lies above its maximum, the upper bound is not above the base, or the
        single sine method is asked for an upper bound.
    """
    low, high = np.broadcast_arrays(np.asarray(t_min_c, float), np.asarray(t_max_c, float))
    if np.any(low > high):
        raise ValueError("a day's minimum temperature lies above its maximum")
    if upper_c is not None and upper_c <= base_c:
        raise ValueError("the upper temperature must lie above the base")
    top = np.inf if upper_c is None else upper_c
    if method is DegreeDayMethod.AVERAGE:
        return np.clip((low + high) / 2, base_c, top) - base_c
    if method is DegreeDayMethod.CUT_OFF:
        return (np.clip(low, base_c, top) + np.clip(high, base_c, top)) / 2 - base_c
    if upper_c is not None:
        raise ValueError("the single sine method here takes no upper temperature")
    mean, swing = (low + high) / 2, (high - low) / 2
    with np.errstate(divide="ignore", invalid="ignore"):
        angle = np.arcsin(np.clip((base_c - mean) / swing, -1, 1))
    crossing = ((mean - base_c) * (np.pi / 2 - angle) + swing * np.cos(angle)) / np.pi
    return np.where(low >= base_c, mean - base_c, np.where(high <= base_c, low * 0.0, crossing))
