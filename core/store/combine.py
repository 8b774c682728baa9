"""Several sites of a block as one deficit, with the spread between them."""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats


@dataclass(frozen=True)
class Combined:
    """value, sigma : array, shape (times,); weight : array, shape (sites, times), adds to 1."""

    value: Floats
    sigma: Floats
    weight: Floats


def combine_sites(value: ArrayLike, sigma: ArrayLike) -> Combined:
    """Mean of the sites weighted by trust.

    Parameters
    ----------
    value : array, shape (sites, times) [mm]
        NaN where a site has no word.
    sigma : array, shape (sites, times), above zero [mm]

    Returns
    -------
    Combined
        Weights are 1/sigma^2. The spread is the larger of what the instruments' own
        uncertainty and the disagreement between sites give, so that a wet half and a dry
        half never average into false confidence. NaN where no site has a word.
    """
    v = np.asarray(value, float)
    s = np.broadcast_to(np.asarray(sigma, float), v.shape)
    known = ~np.isnan(v)
    raw = np.where(known, 1 / s**2, 0.0)
    total = raw.sum(axis=0)
    with np.errstate(invalid="ignore", divide="ignore"):
        weight = raw / total
        mean = np.where(total > 0, (weight * np.where(known, v, 0)).sum(axis=0), np.nan)
        own = np.sqrt(1 / total)
        between = np.sqrt((weight * np.where(known, v - mean, 0) ** 2).sum(axis=0))
    spread = np.where(total > 0, np.maximum(own, between), np.nan)
    return Combined(value=mean, sigma=spread, weight=np.where(total > 0, weight, 0.0))
