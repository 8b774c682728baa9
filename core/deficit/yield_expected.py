"""What a plan of less water leaves of the yield.

References
----------
.. [1] Doorenbos, J. & Kassam, A. H. (1979), FAO Irrigation and Drainage Paper 33: the share of the
   yield lost is Ky times the share of evapotranspiration lacking, by growth period.
.. [2] Steduto, P. et al. (2012), FAO Irrigation and Drainage Paper 66, ch. 2: the periods' shares
   multiply.
"""

from collections.abc import Mapping

import numpy as np

from core.arrays import Floats
from core.crop.catalogue import STAGES, Crop
from core.crop.season import Stage
from core.deficit.plan import StageWater

STAGE_OF = dict(zip(STAGES, (Stage.INITIAL, Stage.DEVELOPMENT, Stage.MID, Stage.LATE), strict=True))


def mean_ks(p: float, allowed: float) -> float:
    """Mean of Ks while the store is drawn from full to a refill point [-], by FAO-56 eq. 84.

    Parameters
    ----------
    p, allowed : float [-]
        Shares of the available water: what the crop bears without stress, and what is used.

    Notes
    -----
    By the water used, not by the days: Ks is 1 down to p and falls straight to 0 at wilting.
    """
    if allowed <= p:
        return 1.0
    # Use falls with what is left, so the time below p grows by the logarithm.
    time = p + (1.0 - p) * np.log((1.0 - p) / (1.0 - allowed))
    return float(allowed / time)


def relative_use(crop: Crop, stages: Mapping[Stage, StageWater]) -> Floats:
    """Share of its use that the crop has on each day of its calendar under a plan; (days,) [-]."""
    ends = crop.stage_ends
    out = np.ones(int(ends[-1]))
    for k, name in enumerate(STAGES):
        water = stages.get(STAGE_OF[name])
        if water is None:
            continue
        share = water.use_share
        if share is None:
            share = mean_ks(crop.p, water.allowed or 0.0)
        out[int(ends[k]) : int(ends[k + 1])] = share
    return out


def yield_expected(crop: Crop, stages: Mapping[Stage, StageWater]) -> float | None:
    """Share of the full yield that a plan leaves [-] [1]_ [2]_; None without a Ky of the crop.

    Notes
    -----
    As if the soil held nothing beyond what is given: what it holds at the beginning of the stage
    leaves more. Where the crop has sensitive windows, theirs multiply; else the season's own Ky.
    """
    if crop.ky_season is None:
        return None
    ends = crop.stage_ends
    share = relative_use(crop, stages)
    day = np.arange(share.size) + 0.5
    use = crop.kc_on(day)
    if not crop.windows:
        lacking = 1.0 - float((share * use).sum() / use.sum())
        return max(1.0 - crop.ky_season * lacking, 0.0)
    out = 1.0
    for window in crop.windows:
        first, last = (float(np.interp(x, np.arange(5), ends)) for x in (window.start, window.end))
        here = (day >= first) & (day < last)
        if here.any():
            lacking = 1.0 - float((share * use)[here].sum() / use[here].sum())
            out *= max(1.0 - window.ky * lacking, 0.0)
    return out
