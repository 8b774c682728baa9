"""Faults planted in the readings of sound instruments."""

from enum import StrEnum

import numpy as np

from core.arrays import Floats


class Spoilt(StrEnum):
    """What goes wrong with an instrument; ``NONE`` is a sound one."""

    NONE = "none"
    SILENT = "silent"
    FLAT = "flat"
    JUMP = "jump"
    TUBE = "tube"
    CONTACT = "contact"
    DRIFT = "drift"
    CLOCK = "clock"
    # Nothing is wrong, though it looks like it.
    SHORT_GAP = "short gap"
    NOISE = "noise"
    SPIKES = "spikes"


# How water in a tube falls away again [h], and how much of the first sensor's rise it brings.
TUBE_DRAINS_H, TUBE_SHARE = 30.0, 0.8


def spoil(
    theta: Floats, what: Spoilt, sensor: int, from_row: int, size: float, rng: np.random.Generator
) -> Floats:
    """Readings with a fault.

    Parameters
    ----------
    theta : array, shape (times, sensors) [m3/m3], read each hour
    sensor : int
        That fails, where one does.
    from_row : int
        From when on.
    size : float
        Of a jump [m3/m3], a drift [m3/m3 a day], poor contact's share [-], a clock [h].
    """
    out = theta.copy()
    after = slice(from_row, None)
    if what is Spoilt.SILENT:
        out[after, sensor] = np.nan
    elif what is Spoilt.FLAT:
        out[after, sensor] = out[from_row, sensor]
    elif what is Spoilt.JUMP:
        out[after] += size
    elif what is Spoilt.TUBE:
        out[after] += _down_the_tube(theta)[after]
    elif what is Spoilt.CONTACT:
        middle = np.nanmedian(theta[:, sensor])
        out[:, sensor] = middle + size * (theta[:, sensor] - middle)
    elif what is Spoilt.DRIFT:
        out[after, sensor] += size * np.arange(theta.shape[0] - from_row) / 24.0
    elif what is Spoilt.CLOCK:
        out = np.roll(theta, -round(size), axis=0)
        out[theta.shape[0] - round(size) :] = np.nan
    elif what is Spoilt.SHORT_GAP:
        out[from_row : from_row + 30] = np.nan
    elif what is Spoilt.NOISE:
        out += rng.normal(0, 0.004, theta.shape)
    elif what is Spoilt.SPIKES:
        rows = rng.integers(0, theta.shape[0], 12)
        out[rows, sensor] += rng.choice([-0.08, 0.08], rows.size)
    return np.round(out, 4)


def _down_the_tube(theta: Floats) -> Floats:
    """What the rises of the first sensor bring to all others at once."""
    rise = np.maximum(np.diff(theta[:, 0], prepend=theta[0, 0]), 0.0)
    rise[rise < 0.004] = 0.0
    stands = np.zeros(rise.size)
    keeps = np.exp(-1 / TUBE_DRAINS_H)
    for k in range(1, rise.size):
        stands[k] = stands[k - 1] * keeps + TUBE_SHARE * rise[k]
    out = np.repeat(stands[:, None], theta.shape[1], axis=1)
    out[:, 0] = 0.0
    return out
