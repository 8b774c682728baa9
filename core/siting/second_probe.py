"""What a second probe would add: how much nearer the block's cells come to what a probe says.

Soil water follows the soil: layers of the soil tell the gain where there are any, and yields where
there are none. On simulated blocks the soil's layers predict it within a tenth on average, yields
less well.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Bools, Floats, Ints
from core.siting.zones import Feature


@dataclass(frozen=True)
class PairGain:
    """What two probes know of a block beside one.

    Parameters
    ----------
    error_one, error_two : float [-]
        Root mean square of what cells differ by from the probe that stands for them, in spreads of
        the block.
    gain : float [-]
        Share of that error which the second takes away.
    """

    error_one: float
    error_two: float
    gain: float


def pair_gain(
    features: Sequence[Feature], first: int, second: int, label: Ints, target: Bools | None = None
) -> PairGain:
    """How much a second probe adds, by the layers.

    With one probe all cells are taken to be as the first. With two, a zone that holds one goes by
    it, and any other zone by the one its middle is nearer to.

    Parameters
    ----------
    first, second : int
        Cells.
    label : array of int, shape (cells,)
        Zones.
    target : array of bool, shape (cells,), optional
        Cells that count; all where none are given.
    """
    of_soil = [f for f in features if f.of_soil] or list(features)
    values = np.stack([f.value * f.trust() ** 0.5 for f in of_soil])
    counts = np.isfinite(values).all(axis=0) & (label >= 0)
    if target is not None:
        counts &= target
    square = {at: ((values - values[:, at][:, None]) ** 2).sum(axis=0) for at in (first, second)}
    use_second = np.zeros(len(label), bool)
    for zone in np.unique(label[counts]):
        cells = counts & (label == zone)
        if label[first] == label[second] or zone not in (label[first], label[second]):
            use_second |= cells & (_middle(values, cells, second) < _middle(values, cells, first))
        elif zone == label[second]:
            use_second |= cells
    one = _root_mean(square[first], counts)
    two = _root_mean(np.where(use_second, square[second], square[first]), counts)
    return PairGain(one, two, 1 - two / one if one > 0 else 0.0)


def _middle(values: Floats, cells: Bools, at: int) -> float:
    return float(((values[:, cells].mean(axis=1) - values[:, at]) ** 2).sum())


def _root_mean(square: Floats, counts: Bools) -> float:
    return float(np.sqrt(square[counts].mean())) if counts.any() else 0.0
