"""The regression with one break, by hand and against `scipy`."""

import numpy as np
import pytest
from scipy.optimize import least_squares
from scipy.stats import f as f_distribution

from core.learned.broken_stick import TRIED, broken_stick
from core.learned.refill_point import BETTER


def test_without_noise_it_is_found_again() -> None:
    """Level 1.1 to 0.5, then 2 less for each 1: at 0.9 only 0.3 is left."""
    x = np.linspace(0, 1, 101)
    y = np.where(x < 0.5, 1.1, 1.1 - 2 * (x - 0.5))
    found = broken_stick(x, y, np.ones(101))
    assert found.at == pytest.approx(0.5, abs=0.9 / TRIED)
    assert (found.level, found.slope) == pytest.approx((1.1, -2.0), abs=0.02)
    assert found.spread < 0.01


def test_what_rises_has_no_fall() -> None:
    x = np.linspace(0, 1, 50)
    assert broken_stick(x, 0.5 + x, np.ones(50)).slope == 0


@pytest.mark.parametrize("points", [(3, 1.0), (20, 0.0)])
def test_too_few_points(points: tuple[int, float]) -> None:
    """Three, or twenty that are all of one dryness."""
    count, width = points
    with pytest.raises(ValueError, match="four points"):
        broken_stick(np.linspace(0, width, count), np.ones(count), np.ones(count))


@pytest.mark.parametrize("seed", range(6))
def test_against_scipy(seed: int) -> None:
    """The same model by `scipy.optimize.least_squares`, begun at many breaks, leaves no less.

    The rest as a function of the break has more than one hollow: each start finds its own.
    """
    rng = np.random.default_rng(seed)
    x = rng.uniform(0, 1.2, 60)
    weight = rng.uniform(9, 64, 60)
    y = 1.05 - 1.5 * np.maximum(x - 0.6, 0) + rng.normal(0, 0.8, 60) / np.sqrt(weight)
    root = np.sqrt(weight)

    def off(p: np.ndarray) -> np.ndarray:
        out: np.ndarray = root * (p[1] + p[2] * np.maximum(x - p[0], 0) - y)
        return out

    runs = [least_squares(off, (at, 1.0, -1.0)) for at in np.linspace(0.2, 1.0, 17)]
    best = min(runs, key=lambda run: run.cost)
    found = broken_stick(x, y, weight)
    span = float(np.ptp(np.quantile(x, (0.05, 0.95))))
    assert found.at == pytest.approx(best.x[0], abs=span / TRIED)
    assert (found.level, found.slope) == pytest.approx(best.x[1:], abs=0.05)
    assert 2 * np.sum(off(np.array([found.at, found.level, found.slope])) ** 2) / 2 == (
        pytest.approx(2 * best.cost, rel=0.01)
    )


def test_better_than_a_line_against_statistics() -> None:
    """F of one figure more, by hand from the rests of `numpy.polyfit` and of the stick; what is
    asked for is beyond the 0.998 quantile of `scipy.stats.f` for sixty days."""
    rng = np.random.default_rng(3)
    x = np.linspace(0, 1, 60)
    y = 1 - 2 * np.maximum(x - 0.5, 0) + rng.normal(0, 0.1, 60)
    found = broken_stick(x, y, np.ones(60))
    line = float(np.sum((np.polyval(np.polyfit(x, y, 1), x) - y) ** 2))
    stick = found.level + found.slope * np.maximum(x - found.at, 0)
    rest = float(np.sum((stick - y) ** 2))
    assert found.f_value == pytest.approx((line - rest) / (rest / 57), rel=1e-6)
    assert f_distribution.sf(BETTER, 1, 57) == pytest.approx(0.0025, abs=0.001)


def test_its_spread_is_that_of_breaks_found_again() -> None:
    """Of two hundred series drawn alike the breaks spread as each one's bootstrap says: within a
    third of it in the middle."""
    rng = np.random.default_rng(1)
    found = []
    for _ in range(200):
        x = rng.uniform(0, 1, 50)
        y = 1 - 2 * np.maximum(x - 0.5, 0) + rng.normal(0, 0.1, 50)
        found.append(broken_stick(x, y, np.ones(50)))
    true = float(np.std([f.at for f in found]))
    assert float(np.median([f.spread for f in found])) == pytest.approx(true, rel=0.33)


def test_points_that_count_little_hardly_move_it() -> None:
    """Every other point is wild and weighs a ten-thousandth: the break stays as sharp."""
    rng = np.random.default_rng(4)
    x = np.linspace(0, 1, 80)
    y = 1 - 2 * np.maximum(x - 0.5, 0) + rng.normal(0, 0.03, 80)
    wild = np.arange(80) % 2 == 1
    y[wild] += rng.normal(0, 2, 40)
    weight = np.where(wild, 1e-4, 1.0)
    told = broken_stick(x, y, weight)
    alone = broken_stick(x[~wild], y[~wild], np.ones(40))
    assert told.at == pytest.approx(alone.at, abs=0.02)
    assert told.spread == pytest.approx(alone.spread, rel=0.5)
    assert told.spread < 0.2 * broken_stick(x, y, np.ones(80)).spread
