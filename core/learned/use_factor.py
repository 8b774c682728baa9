"""The crop's use over the stated one, from dry days on which it lacked nothing."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.events.stored import EIGHT_OF_TEN
from core.learned.uptake import UptakeDays

# Fewer days are chance (working assumption, no source).
FEWEST_DAYS, RESAMPLES = 8, 400
# What the way of telling it is off by itself, whatever the count [-]: set on simulated fields of
# two truths, see docs/events.md.
OWN_SIGMA = 0.06
# A single Kc holds a tenth or so of evaporation that a dry surface lacks (Allen et al. 1998, FAO
# Irrigation and Drainage Paper 56, ch. 7: Kcb is Kc less 0.05 to 0.1): less than it says nothing.
LACKS_EVAPORATION = 0.1
# The estimate keeps a crop's use within these of its Kc, too (working assumption, no source).
LEAST_USE, MOST_USE = 0.6, 1.6


class UseFit(StrEnum):
    """What was seen beside the stated use."""

    FITS = "fits"
    DIFFERS = "differs"
    NOT_THE_CROP = "not the crop"


@dataclass(frozen=True)
class UseFactor:
    """Use over the stated one [-]: best figure, its middle 80 percent; how many days tell it."""

    days: int
    share: float
    low: float
    high: float

    @property
    def fit(self) -> UseFit:
        """Whether the stated use lies within the range, evaporation apart; and, where it does not,
        whether a crop can be the cause: further off it is the wetted share of the ground, or where
        the sensors stand."""
        if self.low <= 1.0 and self.high >= 1.0 - LACKS_EVAPORATION:
            return UseFit.FITS
        return UseFit.DIFFERS if LEAST_USE <= self.share <= MOST_USE else UseFit.NOT_THE_CROP


def use_factor(sites: Sequence[UptakeDays], enough: float) -> UseFactor | None:
    """What the crop of a block took of its stated use.

    Parameters
    ----------
    sites : sequence of UptakeDays
        Of the stage that is asked for.
    enough : float [-]
        Share of the available water that may be gone without the crop lacking any.

    Returns
    -------
    UseFactor or None
        None with fewer than eight days at every site. Sites count alike.
    """
    own = [d.share[d.gone <= enough] for d in sites]
    told = [share for share in own if share.size >= FEWEST_DAYS]
    if not told:
        return None
    spread = []
    for share in told:
        rng = np.random.default_rng(share.size)
        drawn = share[rng.integers(0, share.size, (RESAMPLES, share.size))]
        spread.append(float(np.median(drawn, axis=1).std()))
    middle = float(np.mean([np.median(share) for share in told]))
    sigma = float(np.sqrt(np.mean(np.square(spread)) + OWN_SIGMA**2) / np.sqrt(len(told)))
    off = EIGHT_OF_TEN * sigma
    return UseFactor(
        min(share.size for share in told), middle, max(middle - off, 0.0), middle + off
    )
