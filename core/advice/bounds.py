"""Bounds and warnings that hold whatever the estimate says: so much water can't be right."""

from collections.abc import Sequence

import numpy as np

from core.advice.gather import AHEAD_DAYS, Gathered
from core.advice.inputs import BlockInputs
from core.arrays import Bools, Floats
from core.estimate.readings import MATRIX_DRIEST_KPA
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.outlook.ahead import Ahead
from core.state.track import Track

WEEK, FORTNIGHT = 7, 14
# Where sensors and log can't be brought together, water for so many days is given at a time.
SAFE_DAYS = 2
# Drainage of a fortnight that is too much: as a share of the sets given in it, and at least
# [mm]. Working assumptions, no source.
DRAINED_SHARE, DRAINED_MM = 0.4, 30.0


def _given_mm(block: BlockInputs, days: int) -> float:
    """Sets of the past days [mm net]."""
    return sum(w.net_mm for w in block.waterings if not w.is_rain and w.hours > -24.0 * days)


def most_net_mm(g: Gathered, found: Track, expected: Ahead) -> Floats:
    """The most that a block may be told to give; (blocks,) [mm net].

    What the roots hold and the crop used in a week, less what was given in it: water beyond that
    went somewhere else. For the crop's sake never less than the use of the next two days.
    """
    given = np.array([_given_mm(b, WEEK) for b in g.blocks])
    used = np.nan_to_num(found.et_mm[:, -WEEK:]).sum(axis=1)
    days = min(SAFE_DAYS, AHEAD_DAYS)
    coming = expected.et_mm[:, 0, :days].sum(axis=1)
    return np.maximum(found.taw_mm[:, -1] + used - given, coming)


def drains_on(g: Gathered, found: Track) -> Bools:
    """Whether much of what was given in the past fortnight left the roots downwards."""
    given = np.array([_given_mm(b, FORTNIGHT) for b in g.blocks])
    left = np.nan_to_num(found.drained_mm[:, -FORTNIGHT:]).sum(axis=1)
    return left > np.maximum(DRAINED_SHARE * given, DRAINED_MM)


def refill_kpa(block: BlockInputs, share: float) -> list[tuple[float, float]]:
    """Tension at the refill point beside each tension sensor, and the driest that it reads.

    Parameters
    ----------
    block : BlockInputs
    share : float
        Of the available water that may be used [-].

    Returns
    -------
    list of (float, float) [kPa]
        Empty where a sensor of another quantity tells of the soil too.
    """
    out = []
    profile = block.assumed.profile
    for site in block.sites:
        facts = kinds()[site.kind]
        if not facts.in_soil or not site.depth_mm.size:
            continue
        if facts.quantity is not Quantity.TENSION:
            return []
        for h in site.horizon.tolist():
            limit = profile.limits[h]
            fine = 1 - limit.gravel
            theta = limit.theta_full - share * (limit.theta_full - limit.theta_wilt)
            out.append((float(limit.curve.tension_at(theta / fine)), facts.high))
    return out


def drier_than_read(blocks: Sequence[BlockInputs]) -> Bools:
    """Whether a believed granular-matrix sensor of each block stands at the end of its range now:
    how much drier the soil is, it can't tell."""
    out = np.zeros(len(blocks), bool)
    for i, block in enumerate(blocks):
        for site in block.sites:
            if site.kind is not InstrumentKind.GRANULAR_MATRIX or not site.hours.size:
                continue
            newest = site.value[site.newest, np.arange(site.depth_mm.size)]
            out[i] = out[i] or bool((site.believed & (newest >= MATRIX_DRIEST_KPA)).any())
    return out


def refill_out_of_reach(g: Gathered, share: Floats) -> Bools:
    """Whether the refill point lies drier than any of a block's tension sensors can read;
    ``share`` is of the available water that may be used, (blocks,)."""
    out = np.zeros(len(g.blocks), bool)
    for i, block in enumerate(g.blocks):
        beside = refill_kpa(block, float(share[i]))
        out[i] = bool(beside) and all(at > most for at, most in beside)
    return out
