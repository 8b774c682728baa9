"""High and low, steady and unsteady, flip-flop: what several years of yield tell of each cell.

References
----------
.. [1] Blackmore, S. (2000), The interpretation of trends from multiple yield maps, Computers and
   Electronics in Agriculture 26:37-51, doi:10.1016/S0168-1699(99)00075-7.
.. [2] Maestrini, B., Basso, B. (2018), Drivers of within-field spatial variability of crop yield
   across the US Midwest, Scientific Reports 8:14833, doi:10.1038/s41598-018-32779-3.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import IntEnum

import numpy as np

from core.arrays import Floats, Ints
from core.siting.layer import Layer, percent_of_mean
from core.siting.years import YearKind

# Percent of the mean within which a cell is as the rest. Common practice, no source.
AS_THE_REST = 5.0
# Spread between years [% of the mean] beyond which a cell is unsteady; [1]_ takes 30 %, of maps
# that were not standardised, [2]_ about half of it.
UNSTEADY = 15.0
# What a cell differs by from year to year where nothing has changed [% of the mean], until years
# of one kind tell it. Common practice, no source.
USUAL_DIFFERENCE = 8.0
# Spreads of the error that dry and wet must differ by: less happens by chance in 5 of 100.
SURE = 1.64


class Stability(IntEnum):
    UNKNOWN = 0
    LOW = 1
    AVERAGE = 2
    HIGH = 3
    UNSTEADY = 4
    FLIP_FLOP = 5


@dataclass(frozen=True)
class YearsSeen:
    """What the years tell together, each array by the raster's cells.

    Parameters
    ----------
    mean, spread : array, shape (cells,) [% of the year's mean]
        Over all years; the spread is NaN of one year.
    dry, usual, wet : array, shape (cells,) [% of the year's mean], or None
        Mean of the years of a kind; None without such a year.
    difference : float [% of the mean]
        What a cell differs by between years of one kind.
    difference_told : bool
        Whether years of one kind told it; else it is taken as usual.
    flip_error : array, shape (cells,) [% of the mean], or None
        Standard error of wet less dry.
    classes : array of int, shape (cells,)
        A `Stability` each.
    years : int
    """

    mean: Floats
    spread: Floats
    dry: Floats | None
    usual: Floats | None
    wet: Floats | None
    difference: float
    difference_told: bool
    flip_error: Floats | None
    classes: Ints
    years: int


def years_seen(layers: Sequence[Layer], kinds: Sequence[YearKind]) -> YearsSeen:
    """Years of yield looked at together.

    Parameters
    ----------
    layers : sequence of Layer
        Of yield, on one raster; one at least.
    kinds : sequence of YearKind
        Of the layers' years.
    """
    values = np.stack([percent_of_mean(layer) for layer in layers])
    kind = np.array([str(k) for k in kinds])
    rows = {k: np.flatnonzero(kind == str(k)) for k in YearKind}
    of_kind = [rows[k] for k in YearKind if k is not YearKind.UNKNOWN]
    told = _difference(values, of_kind)
    difference = told if told is not None else USUAL_DIFFERENCE
    mean = _mean(values)
    known = np.isfinite(values).sum(axis=0)
    with np.errstate(invalid="ignore", divide="ignore"):
        square = np.nansum((values - mean) ** 2, axis=0) / (known - 1)
    spread = np.where(known > 1, np.sqrt(np.maximum(square, 0)), np.nan)
    dry, usual, wet = (_mean(values[r]) if len(r) else None for r in of_kind)
    flip_error = None
    if dry is not None and wet is not None:
        flip_error = difference * np.sqrt(
            sum(1 / _count(values[rows[k]]) for k in (YearKind.DRY, YearKind.WET))
        )
    classes = _classes(mean, spread, dry, wet, flip_error)
    return YearsSeen(
        mean,
        spread,
        dry,
        usual,
        wet,
        difference,
        told is not None,
        flip_error,
        classes,
        len(layers),
    )


def _count(values: Floats) -> Floats:
    """How many years know each cell; NaN where none does."""
    count = np.isfinite(values).sum(axis=0)
    return np.where(count > 0, count, np.nan)


def _mean(values: Floats) -> Floats:
    return np.where(np.isfinite(values), values, 0).sum(axis=0) / _count(values)


def _difference(values: Floats, groups: Sequence[Ints]) -> float | None:
    """What a cell of the maps differs by between years of one kind [%].

    None where no kind has two years.
    """
    squares, free = 0.0, 0
    for rows in groups:
        if len(rows) < 2:
            continue
        # Cells that changed for a reason of their own don't tell what is usual.
        usual = float(np.nanmedian(np.nanvar(values[rows], axis=0, ddof=1)))
        squares += usual / _MEDIAN_OF_VARIANCE[min(len(rows), 5)] * len(rows)
        free += len(rows)
    return float((squares / free) ** 0.5) if free else None


# The median of a variance of so many normal values, as a share of its mean (chi-squared).
_MEDIAN_OF_VARIANCE = {2: 0.455, 3: 0.693, 4: 0.789, 5: 0.839}


def _classes(
    mean: Floats,
    spread: Floats,
    dry: Floats | None,
    wet: Floats | None,
    flip_error: Floats | None,
) -> Ints:
    found = np.full(len(mean), int(Stability.UNKNOWN))
    with np.errstate(invalid="ignore"):
        found[np.isfinite(mean)] = Stability.AVERAGE
        found[mean < 100 - AS_THE_REST] = Stability.LOW
        found[mean > 100 + AS_THE_REST] = Stability.HIGH
        found[spread > UNSTEADY] = Stability.UNSTEADY
        if dry is not None and wet is not None and flip_error is not None:
            flips = (wet - dry > SURE * flip_error) & (dry < 100 - AS_THE_REST / 2)
            found[flips & (wet > 100)] = Stability.FLIP_FLOP
    return found
