"""How even an irrigation is, from cans set out in the block.

References
----------
.. [1] Christiansen, J. E. (1942), Irrigation by sprinkling, Univ. California Agric. Exp. Stn.
   Bull. 670.
.. [2] Merriam, J. L., Keller, J. (1978), Farm irrigation system evaluation, Utah State Univ.
.. [3] Heermann, D. F., Hein, P. R. (1968), Performance characteristics of self-propelled
   center-pivot sprinkler irrigation systems, Trans. ASAE 11:11-15.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike
from core.sentence import Sentence, sentence

MIN_CANS = 8


class CatchProblem(ValueError):
    """Cans that can't be worked out; the message says what is wrong."""

    def __init__(self, message: Sentence) -> None:
        super().__init__(message)
        self.message = message


@dataclass(frozen=True)
class Uniformity:
    """mean [units of the catch]; du_lq and cu [fraction]; cans counted."""

    cans: int
    mean: float
    low_quarter: float
    du_lq: float
    cu: float


def uniformity(catch: ArrayLike, weight: ArrayLike | None = None) -> Uniformity:
    """Low-quarter distribution uniformity [2]_ and Christiansen's coefficient [1]_.

    Parameters
    ----------
    catch : array, shape (cans,) [mm or ml, all alike]
    weight : array, shape (cans,), optional
        Ground each can stands for; on a pivot its distance from the point [3]_.

    Returns
    -------
    Uniformity
        DUlq = mean of the driest quarter of the ground / mean; CU = 1 - mean absolute
        deviation / mean. The quarter's last can counts with the part that falls into it.

    Raises
    ------
    CatchProblem
        With fewer than eight cans, a negative catch, a weight not above zero, or no water.
    """
    x = np.asarray(catch, float)
    w = np.ones(x.shape) if weight is None else np.asarray(weight, float)
    if x.size < MIN_CANS:
        raise CatchProblem(
            sentence(
                "A test needs at least {min_cans} cans; there are {size}.",
                min_cans=MIN_CANS,
                size=x.size,
            )
        )
    if w.shape != x.shape:
        raise CatchProblem(sentence("Every can needs its distance."))
    if np.any(~np.isfinite(x)) or np.any(x < 0):
        raise CatchProblem(sentence("A catch can't be negative."))
    if np.any(~np.isfinite(w)) or np.any(w <= 0):
        raise CatchProblem(sentence("A distance must lie above zero."))
    mean = float(np.average(x, weights=w))
    if mean <= 0:
        raise CatchProblem(sentence("No can caught anything."))
    order = np.argsort(x)
    dry, ground = x[order], w[order]
    quarter = ground.sum() / 4
    used = np.clip(quarter - (np.cumsum(ground) - ground), 0, ground)
    low = float((dry * used).sum() / quarter)
    deviation = float(np.average(np.abs(x - mean), weights=w))
    return Uniformity(int(x.size), mean, low, low / mean, 1 - deviation / mean)
