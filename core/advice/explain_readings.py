"""The deficit that the readings nearest to the rows of the balance table make, as read."""

from dataclasses import fields, replace

import numpy as np

from core.advice.gather import Gathered
from core.arrays import Floats
from core.estimate.forcing import STEP_H
from core.instrument.site import Site
from core.state.observe import SitesOfBlocks, SitesSeen, by_block, see
from core.state.water_given import WaterGiven


def _nearest(site: Site, hours: Floats) -> Floats:
    """When a site was read nearest to each moment, the moment itself where it never was; (times,)
    [h from now]."""
    if not site.hours.size:
        return hours
    off = np.abs(site.hours[None, :] - hours[:, None])
    near: Floats = site.hours[off.argmin(axis=1)]
    return near


def nearest_as_read(g: Gathered, hours: Floats, columns: slice, row: int = 0) -> Floats:
    """The deficit by the readings that the balance weighed at each row, sites by trust.

    Parameters
    ----------
    g : Gathered
    hours : array, shape (times,), rising [h from now]
    columns : slice
        The columns of the root depth that go with them.
    row : int
        Of the block.

    Returns
    -------
    array, shape (times,) [mm]
        Neither carried to the row's moment nor moved by water given since; NaN where nothing was
        read within half a step.
    """
    inputs = g.blocks[row]
    sites = [s for s in inputs.sites if s.depth_mm.size]
    if not sites or not hours.size:
        return np.full(hours.size, np.nan)
    nothing = np.zeros((1, hours.size))

    def read(site: Site) -> SitesSeen:
        at = _nearest(site, hours)
        seen = see(
            SitesOfBlocks.of([[site]], [inputs.assumed.profile]),
            at,
            g.limits.root_mm[row : row + 1, columns],
            g.limits.root_mm[row : row + 1].max(axis=1),
            nothing,
            g.hour_of_day,
            WaterGiven.of([]),
            np.array([inputs.assumed.wetted_share]),
            np.ones(1, bool),
        )
        near = np.abs(at - np.nan_to_num(seen.age_hours) - hours) <= 0.5 * STEP_H
        return replace(seen, value_mm=np.where(near, seen.value_mm, np.nan))

    each = [read(site) for site in sites]
    together = {
        f.name: np.concatenate([getattr(s, f.name) for s in each]) for f in fields(SitesSeen)
    }
    out: Floats = by_block(SitesSeen(**together), 1, np.zeros(1)).depletion_mm[0]
    return out
