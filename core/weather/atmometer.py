"""Readings of an atmometer, spread over the days between them."""

import numpy as np

from core.arrays import ArrayLike, Floats

# A level wanders a little with the sun on the tube; a can of water is more than that.
REFILL_MM = 2.0


def falls_of_level(
    day: ArrayLike, level_mm: ArrayLike, longest_days: float
) -> tuple[Floats, Floats, Floats]:
    """What evaporated between readings of the level in an atmometer's tube.

    A rise of more than `REFILL_MM` is a refill: nobody knows what was lost across it, unless
    the level before and after was written down. A smaller rise counts as nothing lost.

    Parameters
    ----------
    day : array, shape (readings,), rising [days from any midnight]
    level_mm : array, shape (readings,) [mm]
        Unknown where NaN; passed over.
    longest_days : float [days]
        A stretch between two readings that is longer says too little of any one day.

    Returns
    -------
    start_day, end_day, evaporated_mm : array, shape (stretches,)
    """
    at, level = np.asarray(day, float), np.asarray(level_mm, float)
    known = ~np.isnan(level)
    at, level = at[known], level[known]
    if at.size < 2:
        return np.empty(0), np.empty(0), np.empty(0)
    filled = np.diff(level) > REFILL_MM
    fill = np.concatenate([[0], np.cumsum(filled)])
    lowest = level.copy()
    for k in range(int(fill[-1]) + 1):
        lowest[fill == k] = np.minimum.accumulate(level[fill == k])
    length = np.diff(at)
    use = ~filled & (length > 0) & (length <= longest_days)
    return at[:-1][use], at[1:][use], -np.diff(lowest)[use]


def spread_over_days(
    start_day: ArrayLike,
    end_day: ArrayLike,
    evaporated_mm: ArrayLike,
    days: int,
    weight: ArrayLike | None = None,
) -> Floats:
    """ET of each day from what an atmometer gave off between two looks.

    Parameters
    ----------
    start_day, end_day : array, shape (readings,) [days]
        Of each reading's stretch, from the first midnight; fractions are parts of a day.
        Stretches don't overlap.
    evaporated_mm : array, shape (readings,) [mm]
    days : int
    weight : array, shape (days,), optional
        How a stretch is shared among its days, such as their ET by temperature; evenly
        without it, and where any of a stretch's days has none.

    Returns
    -------
    array, shape (days,) [mm/day]
        NaN for a day that the readings do not cover whole, unless a twelfth of it or less is
        missing: then its covered part stands for the whole.

    Raises
    ------
    ValueError
        When a stretch ends before it begins, overlaps another, or the loss is negative.
    """
    start, end, lost = (np.asarray(x, float) for x in (start_day, end_day, evaporated_mm))
    if np.any(end <= start):
        raise ValueError("a stretch between two readings must have a length")
    if np.any(lost < 0):
        raise ValueError("an atmometer only loses water: was a refill not noted?")
    order = np.argsort(start)
    if np.any(start[order][1:] < end[order][:-1] - 1e-9):
        raise ValueError("stretches between readings can't overlap")
    day = np.arange(days)
    covered = np.clip(np.minimum(end[:, None], day + 1) - np.maximum(start[:, None], day), 0, None)
    share = np.ones(days) if weight is None else np.maximum(np.asarray(weight, float), 0)
    parts = np.where(covered > 0, covered * share, 0.0)
    even = np.isnan(parts.sum(axis=1)) | (parts.sum(axis=1) <= 0)
    parts[even] = covered[even]
    total = parts.sum(axis=1, keepdims=True)
    # A stretch may reach beyond the days asked: only its part within them is handed out.
    within = covered.sum(axis=1, keepdims=True) / (end - start)[:, None]
    loss = np.where(total > 0, lost[:, None] * within * parts / np.where(total > 0, total, 1), 0)
    whole = covered.sum(axis=0)
    seen = whole >= 1 - 1 / 12 - 1e-9
    return np.where(seen, loss.sum(axis=0) / np.where(seen, whole, 1), np.nan)
