"""Which years were dry and which wet, by the rain of each."""

from collections.abc import Mapping
from enum import StrEnum

import numpy as np


class YearKind(StrEnum):
    DRY = "dry"
    USUAL = "usual"
    WET = "wet"
    UNKNOWN = "unknown"


# Share of the years' mean rain below which a year is dry, above which it is wet. Common
# practice, no source.
DRY_SHARE, WET_SHARE = 0.85, 1.15
# Fewer years make no usual one.
FEWEST_YEARS = 3


def year_kinds(rain_mm: Mapping[int, float | None]) -> dict[int, YearKind]:
    """The kind of each year by its rain.

    Parameters
    ----------
    rain_mm : mapping of year to float [mm]
        Over the same months of each; None where it is not known.

    Returns
    -------
    dict of year to YearKind
        Unknown where the rain is, and for all where fewer than `FEWEST_YEARS` are known.
    """
    known = [mm for mm in rain_mm.values() if mm is not None]
    if len(known) < FEWEST_YEARS:
        return dict.fromkeys(rain_mm, YearKind.UNKNOWN)
    mean = float(np.mean(known))
    return {year: _kind(mm, mean) for year, mm in rain_mm.items()}


def _kind(mm: float | None, mean: float) -> YearKind:
    if mm is None:
        return YearKind.UNKNOWN
    if mm < DRY_SHARE * mean:
        return YearKind.DRY
    return YearKind.WET if mm > WET_SHARE * mean else YearKind.USUAL
