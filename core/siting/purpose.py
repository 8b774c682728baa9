"""What a probe is to stand for, and the zone that follows from it."""

from enum import StrEnum

import numpy as np

from core.arrays import Ints
from core.siting.stability import Stability, YearsSeen


class Purpose(StrEnum):
    BLOCK = "block"
    LIMITING = "limiting"
    DECISIONS = "decisions"
    PAIR = "pair"


def zone_for(purpose: Purpose, label: Ints, years: YearsSeen | None) -> int:
    """The zone that a probe of a purpose stands in.

    Most of the block, and the first of a pair: the largest zone. The zone that limits: the one that
    yields least, in dry years where they are known. The zone that decisions are about: the one
    with most flip-flop cells, or else the one that limits.

    Parameters
    ----------
    label : array of int, shape (cells,)
        Zones from 0, -1 where unknown.

    Returns
    -------
    int
        The largest zone where no yield is known.
    """
    zones = [int(z) for z in np.unique(label[label >= 0])]
    largest = int(np.bincount(label[label >= 0]).argmax())
    if years is None or purpose in (Purpose.BLOCK, Purpose.PAIR):
        return largest
    if purpose is Purpose.DECISIONS:
        share = [float((years.classes[label == z] == Stability.FLIP_FLOP).mean()) for z in zones]
        if max(share) > 0.5:
            return zones[int(np.argmax(share))]
    yields = years.dry if years.dry is not None else years.mean
    return zones[int(np.argmin([np.nanmean(yields[label == z]) for z in zones]))]
