"""Weather ahead as members of an ensemble: each one a course that it may take.

References
----------
.. [1] Stratified scores: the members of a spread stand at the middles of equal shares of it,
   so that a few say what many draws would.
"""

from dataclasses import dataclass

import numpy as np
from scipy.special import ndtri

from core.arrays import ArrayLike, Floats

MEMBERS = 50
Z_90 = 1.2816  # a normal spread's tenth and ninetieth percentile


@dataclass(frozen=True)
class Forecast:
    """Days from today on; arrays of shape (members, days) [mm/day], ET0 on the farm's surface.

    ``known_days`` is how far it was given; beyond it each member keeps its mean ET0 and stays
    dry, for nobody may count on rain that was not forecast.
    """

    et0_mm: Floats
    rain_mm: Floats
    known_days: int

    @classmethod
    def of(cls, et0_mm: ArrayLike, rain_mm: ArrayLike, days: int) -> "Forecast":
        """An ensemble carried on to a number of days.

        Parameters
        ----------
        et0_mm, rain_mm : array, shape (members, given days) [mm/day]
        days : int

        Raises
        ------
        ValueError
            When the shapes differ, nothing is given, or a value is unknown or negative.
        """
        et0, rain = np.asarray(et0_mm, float), np.asarray(rain_mm, float)
        if et0.shape != rain.shape or et0.ndim != 2 or not et0.size:
            raise ValueError("ET0 and rain of a forecast are members by days, both alike")
        if not (np.isfinite(et0).all() and np.isfinite(rain).all()):
            raise ValueError("a forecast has no gaps")
        if (et0 < 0).any() or (rain < 0).any():
            raise ValueError("ET0 and rain can't be negative")
        known = min(et0.shape[1], days)
        more = days - known
        usual = et0.mean(axis=1, keepdims=True)
        return cls(
            et0_mm=np.concatenate([et0[:, :known], np.repeat(usual, more, axis=1)], axis=1),
            rain_mm=np.concatenate([rain[:, :known], np.zeros((et0.shape[0], more))], axis=1),
            known_days=known,
        )

    @classmethod
    def stated(cls, low: float, expected: float, high: float, days: int) -> "Forecast":
        """A stated ET0 with its 10-90 % range [mm/day], the same every day, without rain."""
        score = scores(MEMBERS)
        half = np.where(score > 0, high - expected, expected - low) / Z_90
        et0 = np.maximum(expected + score * half, 0.0)
        return cls(np.repeat(et0[:, None], days, axis=1), np.zeros((MEMBERS, days)), 0)

    @property
    def expected_et0_mm(self) -> Floats:
        """Mean ET0 by day [mm/day]; shape (days,)."""
        return self.et0_mm.mean(axis=0)

    @property
    def expected_rain_mm(self) -> Floats:
        """Rain that most members have, by day [mm/day]: their median, so that a rain which
        fewer than half of them bring is not counted; shape (days,)."""
        return np.median(self.rain_mm, axis=0)


def scores(members: int, order: int = 0) -> Floats:
    """Normal scores of equally likely members; shape (members,).

    ``order`` 0 gives them rising; any other gives the same in another, fixed order, so that
    two spreads can be paired without following each other.
    """
    rising: Floats = ndtri((np.arange(members) + 0.5) / members)
    if order == 0:
        return rising
    shuffled: Floats = np.random.default_rng(order).permutation(rising)
    return shuffled
