"""Salt in the root zone: what it costs in yield, and the water that keeps it down.

References
----------
.. [1] Ayers, R. S., Westcot, D. W. (1985), Water quality for agriculture, FAO Irrigation and
   Drainage Paper 29 rev. 1, ch. 2.
.. [2] Allen, R. G. et al. (1998), FAO-56, ch. 8, eq. 89-91.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.catalogue import Crop

# Leaching is worked out for nine tenths of the yield [1]_, ch. 2.4; more than three tenths of the
# water is not practical (common practice, no source).
ACCEPTED_LOSS, MOST_LEACHING = 0.10, 0.30
# Where the yield response is not known [2]_; and the loss of yield up to which use follows it.
KY_UNKNOWN, MOST_SALT_LOSS = 1.0, 0.5


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


@dataclass(frozen=True)
class Leaching:
    """Water for leaching, and what it comes to.

    share : of the water that should pass below the roots [-]
    ece_ds_m : mean salinity of the root zone that it holds [dS/m]
    yield_left : at that salinity [fraction]
    falls_short : whether more would be needed to keep to the accepted loss
    """

    share: float
    ece_ds_m: float
    yield_left: float
    falls_short: bool


def leaching(threshold_ds_m: float, slope_percent: float, ecw: float) -> Leaching:
    """Leaching that keeps a crop to the accepted loss of yield, as far as that is practical.

    Parameters
    ----------
    threshold_ds_m : float
        ECe above which yield falls [dS/m].
    slope_percent : float
        Yield lost per dS/m above it [percent].
    ecw : float
        Salinity of the water [dS/m].
    """
    target = threshold_ds_m + 100 * ACCEPTED_LOSS / slope_percent
    wanted = float(leaching_requirement(ecw, target)) if ecw < 5 * target / 2 else np.inf
    share = min(wanted, MOST_LEACHING)
    # The same equation the other way round.
    ece = ecw * (1 + share) / (5 * share) if share > 0 else 0.0
    left = float(relative_yield(ece, threshold_ds_m, slope_percent))
    return Leaching(share, ece, left, wanted > MOST_LEACHING)


@dataclass(frozen=True)
class SaltStress:
    """Salt in the soil, which makes a crop use less water also where there is enough [2]_.

    ece_ds_m : mean salinity of the root zone as measured [dS/m]
    threshold_ds_m : ECe above which yield falls [dS/m]
    slope_percent : yield lost per dS/m above it [percent]
    ky : yield response factor of the season [-]
    """

    ece_ds_m: float
    threshold_ds_m: float
    slope_percent: float
    ky: float = KY_UNKNOWN

    @property
    def share(self) -> float:
        """Share of its use that is left, eq. 90 of [2]_ [-]; the yield counts as half lost at most,
        for beyond that the two are no longer in proportion."""
        over = max(self.ece_ds_m - self.threshold_ds_m, 0.0)
        lost = min(self.slope_percent / 100 * over, MOST_SALT_LOSS)
        return max(1 - lost / self.ky, 0.0)


def salt_stress(crop: Crop, ece_ds_m: float | None) -> SaltStress | None:
    """What measured salt does to a crop's use; None where it does nothing, or is not known."""
    if crop.salt is None or ece_ds_m is None:
        return None
    found = SaltStress(
        ece_ds_m,
        crop.salt.threshold_ds_m,
        crop.salt.slope_percent,
        crop.ky_season or KY_UNKNOWN,
    )
    return found if found.share < 1 else None
