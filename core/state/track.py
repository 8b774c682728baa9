"""The state of blocks at the start of each day, however it was found."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats


@dataclass(frozen=True)
class Track:
    """Arrays (blocks, days + 1), the last column now [mm], unless said otherwise.

    The depletion of a day is that of the day before, plus what growing roots met, what was used
    and what drained and ran off, less the water in, plus the correction by the readings.

    forecast_mm, forecast_sigma_mm : before the readings of the day
    depletion_mm, sigma_mm : after them; below zero is surplus
    low_mm, high_mm : the middle 80 percent of the depletion
    correction_mm : what the readings moved
    taw_mm, raw_mm : available and allowable water that are in force
    taw_sigma_mm, raw_sigma_mm : their spread; usable_sigma_mm : of raw - depletion
    use_factor, use_sigma : the crop's use over the book's [-]
    water_in_mm, et_mm, ks, drained_mm, runoff_mm, grew_mm : of each day, (blocks, days)
    unlogged_mm, missing_mm : (blocks, days), water that readings asked for and nobody told of,
        and logged water that they did not find
    below_mm : array (blocks,), deficit between the roots and the deepest they will reach
    season_given_mm, season_leached_mm : arrays (blocks,), since the season began: water given
        [net], and what left the roots downwards; NaN where that is not followed
    surprise : array (blocks,), of the newest readings in spreads; NaN where there are none
    known : array (blocks, days + 1) of bool, whether the state is more than a guess
    """

    forecast_mm: Floats
    forecast_sigma_mm: Floats
    depletion_mm: Floats
    sigma_mm: Floats
    low_mm: Floats
    high_mm: Floats
    correction_mm: Floats
    taw_mm: Floats
    raw_mm: Floats
    taw_sigma_mm: Floats
    raw_sigma_mm: Floats
    usable_sigma_mm: Floats
    use_factor: Floats
    use_sigma: Floats
    water_in_mm: Floats
    et_mm: Floats
    ks: Floats
    drained_mm: Floats
    runoff_mm: Floats
    grew_mm: Floats
    unlogged_mm: Floats
    missing_mm: Floats
    below_mm: Floats
    season_given_mm: Floats
    season_leached_mm: Floats
    surprise: Floats
    known: np.ndarray

    @property
    def weight(self) -> Floats:
        """How much surer the readings made the state: share of its variance that they took."""
        before = np.maximum(self.forecast_sigma_mm, 1e-9) ** 2
        return np.clip(1 - self.sigma_mm**2 / before, 0.0, 1.0)

    def where(self, rows: np.ndarray, other: "Track") -> "Track":
        """This state where ``rows``, array of bool (blocks,), holds, and another elsewhere."""
        merged = {}
        for name, field in vars(self).items():
            shape = (-1, *([1] * (field.ndim - 1)))
            merged[name] = np.where(rows.reshape(shape), field, getattr(other, name))
        return Track(**merged)
