"""Why a reading is not used, in words; empty when it is trusted."""

from enum import StrEnum

import numpy as np

from core.arrays import ArrayLike
from core.quality.flags import Flag, doubting, reasons


class Doubt(StrEnum):
    """Doubts that no rule of quality gives; the rules have names of their own."""

    NONE = ""
    MISSING = "missing"
    STALE = "too old"


def doubts(value: ArrayLike, flag: ArrayLike, suspect: ArrayLike) -> np.ndarray:
    """The gravest reason not to use each reading.

    Parameters
    ----------
    value : array, shape (times, sensors)
        NaN where there is no reading.
    flag : array of int, shape (times, sensors)
        Sums of `core.quality.flags.Flag`; those that are only noted give no doubt.
    suspect : array of bool, broadcastable
        What a person has marked.

    Returns
    -------
    array of str, shape (times, sensors)
        Values of `Doubt` or names of rules; empty where trusted.
    """
    v = np.asarray(value, float)
    marked = np.where(np.asarray(suspect, bool), int(Flag.SUSPECT), 0)
    mask = (np.asarray(flag, np.int64) | np.broadcast_to(marked, v.shape)) & doubting()
    found = np.full(v.shape, str(Doubt.NONE), dtype=object)
    for one in np.unique(mask):
        if one:
            found[mask == one] = reasons(int(one))[0]
    found[np.isnan(v)] = str(Doubt.MISSING)
    return found.astype(str)
