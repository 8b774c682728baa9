"""Salt in the root zone: what it costs in yield, and the water that keeps it down.

References
----------
.. [1] Ayers, R. S., Westcot, D. W. (1985), Water quality for agriculture, FAO Irrigation and
   Drainage Paper 29 rev. 1, ch. 2.
"""

import numpy as np

from core.arrays import ArrayLike, Floats


def relative_yield(ece: ArrayLike, threshold: ArrayLike, slope_percent: ArrayLike) -> Floats:
    """Yield potential left at a soil salinity [1]_.

    Parameters
    ----------
    ece : array, broadcastable [dS/m of the saturation extract, mean of the root zone]
    threshold : array, broadcastable [dS/m]
    slope_percent : array, broadcastable [percent of yield lost per dS/m above it]

    Returns
    -------
    array, broadcast shape [fraction]
        ``1 - slope (ECe - threshold) / 100``, within 0-1; NaN where ECe is unknown.
    """
    over = np.maximum(np.asarray(ece, float) - threshold, 0)
    return np.clip(1 - np.asarray(slope_percent, float) / 100 * over, 0, 1)


def leaching_requirement(ecw: ArrayLike, ece: ArrayLike) -> Floats:
    """Share of the water that must pass below the roots [1]_.

    Parameters
    ----------
    ecw : array, broadcastable [dS/m of the irrigation water]
    ece : array, broadcastable [dS/m that the crop may stand]

    Returns
    -------
    array, broadcast shape [fraction]
        ``ECw / (5 ECe - ECw)``.

    Raises
    ------
    ValueError
        When the water is so salty that no leaching keeps the soil at that ECe.
    """
    water, soil = np.asarray(ecw, float), np.asarray(ece, float)
    if np.any(water < 0) or np.any(water >= 5 * soil / 2):
        raise ValueError(
            "water this salty needs more than all of itself for leaching; choose a crop that "
            "stands more salt, or other water"
        )
    return water / (5 * soil - water)


def leaching_share(threshold_ds_m: float | None, ecw: float | None) -> float | None:
    """Share of the water that keeps the soil at a crop's threshold [-].

    Parameters
    ----------
    threshold_ds_m : float or None
        ECe above which yield falls [dS/m].
    ecw : float or None
        Of the water [dS/m].

    Returns
    -------
    float or None
        None where either is unknown; 1 where no leaching is enough.
    """
    if threshold_ds_m is None or ecw is None:
        return None
    try:
        return float(leaching_requirement(ecw, threshold_ds_m))
    except ValueError:
        return 1.0
