"""Which of several probes stands for all of them, from what they read together.

References
----------
.. [1] Vachaud, G., Passerat de Silans, A., Balabanis, P., Vauclin, M. (1985), Temporal stability of
   spatially measured soil water probability density function, Soil Sci. Soc. Am. J. 49:822-828,
   doi:10.2136/sssaj1985.03615995004900040006x.
.. [2] Jacobs, J. M., Mohanty, B. P., Hsu, E.-C., Miller, D. (2004), SMEX02: field scale
   variability, time stability and similarity of soil moisture, Remote Sens. Environ. 92:436-446,
   doi:10.1016/j.rse.2004.02.017.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import Bools, Floats, Ints

# Times at which probes were read together, and probes, below which nothing is told.
FEWEST_TIMES, FEWEST_SITES = 10, 3


@dataclass(frozen=True)
class TemporalStability:
    """How each site lies to the mean of all, each array of shape (sites,).

    Parameters
    ----------
    difference : array [-]
        Mean relative difference: above zero where a site is wetter than the mean [1]_.
    spread : array [-]
        Its standard deviation over time: how faithfully it does so.
    index : array [-]
        sqrt(difference^2 + spread^2); the least stands for the mean best [2]_.
    order : array of int
        Sites from the driest to the wettest.
    times : int
    """

    difference: Floats
    spread: Floats
    index: Floats
    order: Ints
    times: int

    @property
    def stands_for_mean(self) -> int:
        """The site that stands for the mean of all as it is."""
        return int(self.index.argmin())

    @property
    def most_faithful(self) -> int:
        """The site whose distance from the mean changes least: right once that is taken off."""
        return int(self.spread.argmin())


def read_together(store: Floats) -> Bools:
    """Sites that were read on the same days, shape (sites,): of all together no day might be left.

    The one read most comes first; others join, the most read before the rest, as long as half of
    its days are left and no fewer than `FEWEST_TIMES`.

    Parameters
    ----------
    store : array, shape (sites, times)
        NaN where a site was not read.
    """
    there = np.isfinite(store)
    chosen = np.zeros(len(store), bool)
    if not there.any():
        return chosen
    order = np.argsort(-there.sum(axis=1), kind="stable")
    common = there[order[0]]
    least = max(FEWEST_TIMES, common.sum() / 2)
    for site in order:
        left = common & there[site]
        if left.sum() >= least:
            common, chosen[site] = left, True
    return chosen


def temporal_stability(store: Floats) -> TemporalStability | None:
    """Compare sites that were read at the same times.

    Parameters
    ----------
    store : array, shape (sites, times)
        Water content or store above zero, in one unit; NaN where a site was not read. Only times
        at which all were read count.

    Returns
    -------
    TemporalStability or None
        None where fewer than `FEWEST_SITES` or `FEWEST_TIMES` are left.
    """
    together = store[:, np.isfinite(store).all(axis=0)]
    sites, times = together.shape
    if sites < FEWEST_SITES or times < FEWEST_TIMES:
        return None
    mean = together.mean(axis=0)
    relative = (together - mean) / mean
    difference, spread = relative.mean(axis=1), relative.std(axis=1, ddof=1)
    return TemporalStability(
        difference,
        spread,
        np.hypot(difference, spread),
        np.argsort(difference, kind="stable"),
        times,
    )
