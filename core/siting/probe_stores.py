"""Water that probes found in the same depth of soil, day by day."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.instrument.sensor_layers import sensor_layers
from core.instrument.site import Site
from core.soil.profile import overlap_mm

HOURS_A_DAY = 24.0
# Less soil than this is not compared: the uppermost layer follows each shower [mm]; common
# practice, no source.
LEAST_DEPTH_MM = 150.0


@dataclass(frozen=True)
class ProbeStores:
    """Stores of several probes over the same depth.

    Parameters
    ----------
    depth_mm : float [mm]
        The depth that all of them see.
    store_mm : array, shape (sites, days) [mm]
        By days back from now, the newest last; NaN where a sensor within the depth said nothing
        that is trusted.
    """

    depth_mm: float
    store_mm: Floats


def probe_stores(sites: Sequence[Site], days: int) -> ProbeStores | None:
    """Stores of probes by the day, each sensor's water counted for its layer.

    Parameters
    ----------
    sites : sequence of Site
        With one reading a day at most; of more the last counts.
    days : int
        How many days back from now.

    Returns
    -------
    ProbeStores or None
        None where the probes share no depth worth comparing.
    """
    layers = [sensor_layers(s.depth_mm) for s in sites]
    depth = min((float(bottom[-1]) for _, bottom in layers), default=0.0)
    if depth < LEAST_DEPTH_MM:
        return None
    store = np.full((len(sites), days), np.nan)
    for row, (site, (top, bottom)) in enumerate(zip(sites, layers, strict=True)):
        shared = overlap_mm(top, bottom, 0.0, depth)
        within = shared > 0
        mm = (site.theta[:, within] * shared[within]).sum(axis=1)
        back = np.floor(-site.hours / HOURS_A_DAY).astype(int)
        seen = (back >= 0) & (back < days) & np.isfinite(mm)
        store[row, days - 1 - back[seen]] = mm[seen]
    return ProbeStores(depth, store)
