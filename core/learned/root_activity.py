"""How deep roots feed, from what each depth loses by day beyond its nights.

References
----------
.. [1] USDA-SCS (1991), National Engineering Handbook, part 623, ch. 1: 40, 30, 20 and 10 percent of
   the water from the quarters of the root zone, from the top down; from memory.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.arrays import Floats
from core.events.event import WettingEvent
from core.events.record import SiteRecord
from core.events.stored import EIGHT_OF_TEN, EVEN_CHANCE
from core.instrument.sensor_layers import sensor_layers
from core.learned.daily_falls import daily_falls

# So many nights on either side of a day tell what drains: tried on simulated fields of two truths,
# see docs/events.md.
NIGHTS = 2
# Of the newest days this many tell of roots as they are now; fewer than the least are chance
# (working assumptions, no source).
MOST_DAYS, FEWEST_DAYS = 10, 3
# Roots feed down to the depth above which this share of the uptake lies (common practice, no
# source).
FEEDING_SHARE = 0.9
# Roots of a depth take that share above so much of it [1]_ [-].
FEEDS_TO = 0.75
# A day on which all layers together lose less tells nothing of roots [mm].
LEAST_UPTAKE_MM = 0.5
RESAMPLES = 100
# Spreads of a mean beyond which it is more than nothing: common practice.
SURE = 2.0
# Where the top has dried roots take more from below, and less where it is wet: how far the depth
# they feed to moves with it, tried on simulated fields of two truths, see docs/events.md [mm].
OWN_SIGMA_MM = 80.0
# Where so many of the resampled days have them feed below the deepest sensor, they may.
BEYOND_SHARE = 0.1


class RootsFit(StrEnum):
    """Where roots feed beside the depth that is used."""

    FITS = "fits"
    DEEPER = "deeper"
    SHALLOWER = "shallower"


@dataclass(frozen=True)
class RootActivity:
    """Uptake of the newest dry days.

    days : how many of them
    uptake_mm : array, shape (sensors,), of each layer a day [mm], below zero where it is noise; NaN
        where a sensor is silent
    low_mm, feeds_mm, high_mm : depth above which 90 percent of it lies, and its middle 80 percent;
        infinite where it lies below the deepest sensor's layer
    """

    days: int
    uptake_mm: Floats
    low_mm: float
    feeds_mm: float
    high_mm: float

    def beside(self, root_mm: float) -> RootsFit:
        """Whether roots of a depth would feed within the range [1]_."""
        feeds = FEEDS_TO * root_mm
        if feeds < self.low_mm:
            return RootsFit.DEEPER
        return RootsFit.SHALLOWER if feeds > self.high_mm else RootsFit.FITS


def root_activity(record: SiteRecord, events: Sequence[WettingEvent]) -> RootActivity | None:
    """How deep the roots at a site feed.

    Parameters
    ----------
    record : SiteRecord
    events : sequence of WettingEvent
        Of the site.

    Returns
    -------
    RootActivity or None
        None where fewer than three dry days were read.
    """
    falls = daily_falls(record, events, nights=NIGHTS)[1][-MOST_DAYS:]
    speaks = np.asarray(~np.isnan(falls).any(axis=0), bool)
    if falls.shape[0] < FEWEST_DAYS or not speaks.any():
        return None
    top, bottom = sensor_layers(record.site.depth_mm[speaks])
    days = falls[:, speaks] * (bottom - top)
    days = days[days.sum(axis=1) >= LEAST_UPTAKE_MM]
    if days.shape[0] < FEWEST_DAYS:
        return None
    # A layer that loses no more than its days differ by has no roots that can be told.
    sure = days.mean(axis=0) > SURE * days.std(axis=0) / np.sqrt(days.shape[0])
    if not sure.any():
        return None
    uptake = np.full(speaks.shape, np.nan)
    uptake[speaks] = days.mean(axis=0)
    days = np.where(sure, days, 0.0)
    feeds = _feeds(days.mean(axis=0), bottom)
    if np.isinf(feeds):
        # Down to the top of the deepest sensor's layer it is sure.
        return RootActivity(days.shape[0], uptake, float(top[-1]), feeds, feeds)
    rng = np.random.default_rng(days.shape[0])
    picks = rng.integers(0, days.shape[0], (RESAMPLES, days.shape[0]))
    drawn = np.array([_feeds(days[p].mean(axis=0), bottom) for p in picks])
    layer = int(np.clip(np.searchsorted(bottom, feeds), 0, bottom.size - 1))
    # Of a depth within a layer only the layer is known.
    within = EVEN_CHANCE * (bottom[layer] - top[layer])
    ended = np.append(drawn[np.isfinite(drawn)], feeds)
    spread = np.hypot(ended.std(), OWN_SIGMA_MM)
    off = EIGHT_OF_TEN * float(np.hypot(spread, within))
    beyond = float(np.mean(np.isinf(drawn))) > BEYOND_SHARE
    high = float("inf") if beyond else feeds + off
    return RootActivity(days.shape[0], uptake, max(feeds - off, 0.0), feeds, high)


def _feeds(uptake_mm: Floats, bottom_mm: Floats) -> float:
    """Depth above which 90 percent of the uptake lies, evenly spread within each layer; infinite
    below the deepest sensor, NaN where there is none."""
    taken = np.maximum(uptake_mm, 0.0)
    if not taken.any():
        return float("nan")
    share = np.concatenate([[0.0], np.cumsum(taken) / taken.sum()])
    # Where the deepest sensor still sees a tenth, more lies below it.
    if share[-2] < FEEDING_SHARE:
        return float("inf")
    return float(np.interp(FEEDING_SHARE, share, np.concatenate([[0.0], bottom_mm])))
