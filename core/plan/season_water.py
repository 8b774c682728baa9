"""A season's water shared over blocks and weeks, where each millimetre does most.

References
----------
.. [1] Doorenbos, J. & Kassam, A.H. (1979), FAO Irrigation and Drainage Paper 33: the yield lost is
   Ky times the share of evapotranspiration that is lacking, by growth stage.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats

# Water is shared out in such steps [mm net].
STEP_MM = 5.0


@dataclass(frozen=True)
class SeasonNeed:
    """What blocks need up to the season's end.

    need_mm : array, shape (members, blocks, weeks) [mm net], use less rain of each week
    value_mm : array, shape (blocks, weeks), money for each mm that is not lacking: Ky of the stage
        times the value of the yield, over the season's use [1]_, of all the block
    m3_mm : array, shape (blocks,) [m3], water drawn for each mm net
    """

    need_mm: Floats
    value_mm: Floats
    m3_mm: Floats


@dataclass(frozen=True)
class SeasonShares:
    """How the water is best shared.

    net_mm : array, shape (blocks, weeks) [mm]
    price_m3 : float, money that one more m3 would be worth; 0 where there is enough
    left_m3 : array, shape (members,) [m3], what is not used, since a week needs less
    lacking_mm : array, shape (blocks,) [mm], what each block lacks, the mean of the members
    """

    net_mm: Floats
    price_m3: float
    left_m3: Floats
    lacking_mm: Floats


def share_season(need: SeasonNeed, water_m3: float) -> SeasonShares:
    """Share out what is left of a season's water.

    Notes
    -----
    The next step of water goes where it is worth most by the m3: its value times the share of the
    members in which it is needed. That share never rises with what a week has, so no other way of
    sharing is worth more, steps apart.
    """
    _, blocks, weeks = need.need_mm.shape
    most = float(need.need_mm.max(initial=0.0))
    steps = int(np.ceil(most / STEP_MM)) if most > 0 else 0
    # Of each step the mean part that is needed; array (steps, blocks, weeks).
    bottom = np.arange(steps)[:, None, None, None] * STEP_MM
    needed = np.clip(need.need_mm[None] - bottom, 0.0, STEP_MM).mean(axis=1) / STEP_MM
    worth = needed * need.value_mm / need.m3_mm[:, None]
    order = np.argsort(-worth, axis=None, kind="stable")
    worth_in_order = worth.ravel()[order]
    order = order[worth_in_order > 0]
    block = np.unravel_index(order, worth.shape)[1]
    volumes = np.cumsum(need.m3_mm[block] * STEP_MM)
    count = int(np.searchsorted(volumes, water_m3 + 1e-9, "right"))
    net = np.zeros((blocks, weeks))
    for k in order[:count]:
        _, b, w = np.unravel_index(k, worth.shape)
        net[b, w] += STEP_MM
    used = np.minimum(need.need_mm, net)
    drawn = (used * need.m3_mm[:, None]).sum(axis=(1, 2))
    next_one = float(worth.ravel()[order[count]]) if count < order.size else 0.0
    return SeasonShares(
        net,
        next_one,
        water_m3 - drawn,
        (need.need_mm - used).sum(axis=2).mean(axis=0),
    )
