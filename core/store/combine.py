"""Several sites of a block as one figure, with the spread between them."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats


@dataclass(frozen=True)
class Combined:
    """The sites of blocks together; arrays (blocks, times) unless said otherwise.

    value : mean by trust, NaN where no site has a word
    alone, between : spread by the instruments' own uncertainty, and by the sites' disagreement
    count : sites with a word
    weight : array (sites, times), adds to 1 over the sites of a block
    """

    value: Floats
    alone: Floats
    between: Floats
    count: np.ndarray
    weight: Floats
    block: np.ndarray

    @property
    def sigma(self) -> Floats:
        """The larger of the two spreads: a wet half and a dry half never average into false
        confidence."""
        return np.fmax(self.alone, self.between)

    def mean(self, values: Floats) -> Floats:
        """Another figure of the same sites by the same trust; (blocks, times)."""
        return _mean(self.weight, values, self.block, self.count)


def _summed(values: Floats, block: np.ndarray, blocks: int) -> Floats:
    out = np.zeros((blocks, values.shape[1]))
    np.add.at(out, block, values)
    return out


def _mean(weight: Floats, values: Floats, block: np.ndarray, count: np.ndarray) -> Floats:
    weighted = np.where(weight > 0, weight * values, 0.0)
    return np.where(count > 0, _summed(weighted, block, count.shape[0]), np.nan)


def combine_sites(value: Floats, sigma: Floats, block: np.ndarray, blocks: int) -> Combined:
    """Mean of the sites of each block weighted by trust, 1/sigma^2.

    Parameters
    ----------
    value : array, shape (sites, times) [mm]
        NaN where a site has no word.
    sigma : array, shape (sites, times), above zero [mm]
    block : array of int, shape (sites,)
        The row of each site's block.
    blocks : int
    """
    known = ~np.isnan(value)
    trust = np.where(known, 1 / np.where(known, sigma, 1.0) ** 2, 0.0)
    total = _summed(trust, block, blocks)
    count = _summed(known.astype(float), block, blocks)
    heard = count > 0
    weight = trust / np.where(heard, total, 1.0)[block]
    mean = _mean(weight, value, block, count)
    apart = np.where(known, value - np.nan_to_num(mean)[block], 0.0)
    return Combined(
        value=mean,
        alone=np.where(heard, 1 / np.sqrt(np.where(heard, total, 1.0)), np.nan),
        between=np.sqrt(_mean(weight, apart**2, block, count)),
        count=count,
        weight=weight,
        block=block,
    )
