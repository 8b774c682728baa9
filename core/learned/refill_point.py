"""The refill point that a crop has shown: where it began to take less than it would.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO Irrigation and Drainage Paper 56, eq. 84 and fig. 42: use is
   free down to RAW and falls in a straight line from there.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.events.stored import EIGHT_OF_TEN
from core.learned.broken_stick import BrokenStick, broken_stick
from core.learned.uptake import UptakeDays

# Fewer days tell nothing, nor fewer on either side of a break; beyond it lie those whose roots have
# lost so much more of their available water (working assumptions, no source).
FEWEST_DAYS, FEWEST_SIDE, BEYOND = 12, 7, 0.08
# So much better than a straight line for its one figure more: F(1, many) at 0.002.
BETTER = 10.0
# Where less than this of the free use was taken, the fall is one [-].
FALLEN_TO = 0.8
# What the way of telling it is off by itself, as a share of the available water; and how much wider
# than stated the estimate's own figure lies: set on simulated fields, see docs/events.md.
OWN_SHARE, ESTIMATE_WIDER = 0.15, 1.6
# The newest days say what the roots hold now.
NEWEST = 20


class NoBreak(StrEnum):
    """Why a site shows no refill point: too few days, or so far as it has dried use did not fall,
    or it falls and no break can be told."""

    FEW_DAYS = "few days"
    NEVER_DRY = "never dry"
    NO_FALL = "no fall"


@dataclass(frozen=True)
class SiteRefill:
    """What one site shows.

    days : its dry days
    stick : use against the water gone; None with ``why_not``
    depletion_mm, sigma_mm : water gone from full at the break, of the roots as they are [mm];
        NaN with ``why_not``
    """

    days: UptakeDays
    stick: BrokenStick | None
    depletion_mm: float
    sigma_mm: float
    why_not: NoBreak | None


def site_refill(days: UptakeDays) -> SiteRefill:
    """Where the use of a site's crop breaks, if it does [1]_."""

    def silent(why: NoBreak) -> SiteRefill:
        return SiteRefill(days, None, float("nan"), float("nan"), why)

    if days.gone.size < FEWEST_DAYS or np.ptp(days.gone) == 0:
        return silent(NoBreak.FEW_DAYS)
    stick = broken_stick(days.gone, days.share, days.stated_mm**2)
    beyond = days.gone > stick.at + BEYOND
    before = days.gone <= stick.at
    if beyond.sum() < FEWEST_SIDE:
        return silent(NoBreak.NEVER_DRY)
    if float(np.median(days.share[beyond])) >= FALLEN_TO * stick.level:
        return silent(NoBreak.NEVER_DRY)
    if stick.f_value <= BETTER or before.sum() < FEWEST_SIDE:
        return silent(NoBreak.NO_FALL)
    available = float(np.median(days.available_mm[-NEWEST:]))
    spread = float(np.hypot(stick.spread, OWN_SHARE)) * available
    return SiteRefill(days, stick, stick.at * available, spread, None)


@dataclass(frozen=True)
class RefillPoint:
    """Water gone from full when the crop begins to suffer: best figure, its middle 80 percent [mm];
    ``sites`` that show it."""

    depletion_mm: float
    low_mm: float
    high_mm: float
    sites: int


def refill_point(
    sites: Sequence[SiteRefill], estimated_mm: float, estimated_sigma_mm: float
) -> RefillPoint | None:
    """What the sites show together with what the estimate of the block has come to.

    Parameters
    ----------
    sites : sequence of SiteRefill
    estimated_mm, estimated_sigma_mm : float [mm]
        Readily available water of the same ground as estimated, and its spread; NaN where a person
        has set it, and the estimate says nothing of it.

    Returns
    -------
    RefillPoint or None
        None where no site shows a break: the estimate alone is no evidence.
    """
    seen = [s for s in sites if s.stick is not None]
    if not seen:
        return None
    told = [(s.depletion_mm, s.sigma_mm) for s in seen]
    if np.isfinite(estimated_mm) and estimated_sigma_mm > 0:
        told.append((estimated_mm, ESTIMATE_WIDER * estimated_sigma_mm))
    mm, sigma = np.array(told).T
    sure = sigma**-2
    middle = float((sure @ mm) / sure.sum())
    off = EIGHT_OF_TEN * float(sure.sum() ** -0.5)
    return RefillPoint(middle, max(middle - off, 0.0), middle + off, len(seen))
