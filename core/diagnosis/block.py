"""What diagnoses are made from: a block's sites, their events and what was logged."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from core.arrays import Floats
from core.events.event import WettingEvent, wetting_events
from core.events.record import SiteRecord

RAIN = -1


@dataclass(frozen=True)
class SeenSite:
    """One site.

    events : of its record, oldest first
    irrigation : array of int, shape (supplies,), number of the irrigation that each supply of the
        record stands for; `RAIN` for rain
    full_theta, refill_theta, sat_theta : array, shape (sensors,) [m3/m3], limits in use, and
        saturation
    installed_hours : when it was put in [h from now]; NaN where not known
    """

    record: SiteRecord
    events: tuple[WettingEvent, ...]
    irrigation: np.ndarray
    full_theta: Floats
    refill_theta: Floats
    sat_theta: Floats
    installed_hours: float = float("nan")

    def without(self, sensors: set[int]) -> "SeenSite":
        """The site as the other sensors alone see it."""
        if not sensors:
            return self
        site = self.record.site
        theta = site.theta.copy()
        theta[:, sorted(sensors)] = np.nan
        record = replace(self.record, site=replace(site, theta=theta))
        (events,) = wetting_events([record])
        return replace(self, record=record, events=events)

    @cached_property
    def unseen(self) -> list[int]:
        """Places of the supplies that no event came from."""
        explained = {k for e in self.events for k in e.supplies}
        return [k for k in range(len(self.record.supplies)) if k not in explained]

    @cached_property
    def deepest_root_mm(self) -> float:
        """Roots on the newest day that is known of [mm]; NaN where none is."""
        known = self.record.root_mm[~np.isnan(self.record.root_mm)]
        return float(known[-1]) if known.size else float("nan")


@dataclass(frozen=True)
class SeenBlock:
    """A block.

    rate_mm_h : at which water is applied to the wetted ground, as stated; NaN where not known
    intake_mm_h : what its soil takes in for hours, by texture
    rate_since_hours : since when it has been stated so [h from now]
    """

    sites: tuple[SeenSite, ...]
    rate_mm_h: float = float("nan")
    intake_mm_h: float = float("nan")
    rate_since_hours: float = float("-inf")

    @cached_property
    def irrigations(self) -> list[int]:
        """Numbers of all irrigations, by their beginning."""
        first: dict[int, float] = {}
        for site in self.sites:
            for k, supply in zip(site.irrigation.tolist(), site.record.supplies, strict=True):
                if k != RAIN:
                    first[k] = min(first.get(k, np.inf), supply.start_hours)
        return sorted(first, key=lambda k: (first[k], k))
