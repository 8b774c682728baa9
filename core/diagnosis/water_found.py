"""How much of each irrigation's water the sensors of a block found again."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock
from core.diagnosis.responses import Responses

# What sensors tell of it may be off as a whole by so much [-]. Tried on both simulated truths.
OWN_SIGMA = 0.08
# What each is off by, since water may end anywhere between two sensors, is much the same each time:
# of it so much stays in their middle [-].
OF_EACH = 0.7


@dataclass(frozen=True)
class WaterFound:
    """Irrigations of which it is known how much was found again, oldest first.

    rows : array of int, shape (irrigations,), their places among all of the block
    share, sigma : arrays, shape (irrigations,) [-], found over what is on record, and its spread
    given_mm : array, shape (irrigations,), on the wetted ground, as on record
    sites : how many sites tell it
    """

    rows: np.ndarray
    share: Floats
    sigma: Floats
    given_mm: Floats
    sites: int

    @property
    def typical(self) -> float:
        """Of the middle irrigation [-]; there has to be one."""
        return float(np.median(self.share))

    @property
    def spread(self) -> float:
        """Standard error of `typical` [-]: of the irrigations among each other, and of what is off
        alike in all of them."""
        off = np.abs(self.share - self.typical)
        spread = 1.4826 * float(np.median(off)) * 1.2533 / np.sqrt(self.share.size)
        own = max(OWN_SIGMA, OF_EACH * float(np.median(self.sigma)))
        return float(np.hypot(spread, own / np.sqrt(self.sites)))


def water_found(block: SeenBlock, r: Responses, since_hours: float, odd: set[int]) -> WaterFound:
    """What the sites of a block found, those of content alone.

    Parameters
    ----------
    since_hours : float [h from now]
        Older irrigations are left out, and those from before the block's rate was last changed.
    odd : set of int
        Sites that get another share than the rest; they are left out.
    """
    # A tension's change of water hangs on the curve, which may be off by as much.
    sites = [s for s, x in enumerate(block.sites) if s not in odd and not x.record.is_tension]
    if not sites:
        return WaterFound(np.empty(0, int), np.empty(0), np.empty(0), np.empty(0), 0)
    fair = r.fair[sites]
    since = max(since_hours, block.rate_since_hours)
    rows = np.flatnonzero((~np.isnan(fair)).any(axis=0) & (r.start >= since))
    share = np.array([float(np.nanmedian(fair[:, n])) for n in rows])
    sigma = np.array([float(np.nanmean(r.sigma[sites, n])) for n in rows])
    given = np.array([float(np.nanmean(r.given_mm[sites, n])) for n in rows])
    told = int((~np.isnan(fair[:, rows])).any(axis=1).sum()) if rows.size else 0
    return WaterFound(rows, share, sigma, given, told)
