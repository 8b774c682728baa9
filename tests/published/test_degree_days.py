"""Growing degree-days against worked examples and a numerical integral."""

import numpy as np
import pytest

from core.crop.degree_days import DegreeDayMethod, degree_days


def celsius(fahrenheit: float) -> float:
    return (fahrenheit - 32) / 1.8


@pytest.mark.parametrize(
    "low_f, high_f, expected_f",
    [
        # The "86/50" reckoning of maize, extension worked examples (common practice, no source):
        # each extreme is brought into 50-86 F before the mean is taken.
        (65, 85, 25.0),
        (45, 70, 10.0),
        (60, 92, 23.0),
        (40, 48, 0.0),
        (45, 95, 18.0),
    ],
)
def test_maize_86_50(low_f: float, high_f: float, expected_f: float) -> None:
    ours = degree_days(celsius(low_f), celsius(high_f), celsius(50), celsius(86))
    assert float(ours) * 1.8 == pytest.approx(expected_f, abs=1e-9)


@pytest.mark.parametrize(
    "low, high, base, expected",
    [
        # McMaster & Wilhelm (1997): method 1 compares the mean with the base, method 2 each
        # extreme; on a day that crosses the base they differ.
        (4.0, 20.0, 10.0, (2.0, 5.0)),
        (12.0, 28.0, 10.0, (10.0, 10.0)),
        (0.0, 8.0, 10.0, (0.0, 0.0)),
    ],
)
def test_two_interpretations(
    low: float, high: float, base: float, expected: tuple[float, float]
) -> None:
    average = degree_days(low, high, base, method=DegreeDayMethod.AVERAGE)
    cut_off = degree_days(low, high, base, method=DegreeDayMethod.CUT_OFF)
    assert (float(average), float(cut_off)) == pytest.approx(expected)


def test_single_sine_is_the_area_above_the_base() -> None:
    """Baskerville & Emin (1969): the closed form against the integral it stands for."""
    hour = (np.arange(20_000) + 0.5) / 20_000 * 2 * np.pi
    for low, high, base in [(2, 22, 10), (9, 11, 10), (12, 30, 10), (-5, 8, 10), (0, 30, 4.5)]:
        curve = (low + high) / 2 + (high - low) / 2 * np.sin(hour)
        area = np.maximum(curve - base, 0).mean()
        ours = degree_days(low, high, base, method=DegreeDayMethod.SINE)
        assert float(ours) == pytest.approx(area, abs=1e-3)


def test_unknown_days_stay_unknown() -> None:
    found = degree_days([10, np.nan], [20, 25], 5)
    assert found[0] == 10
    assert np.isnan(found[1])


@pytest.mark.parametrize(
    "low, high, base, upper, method",
    [
        (20, 10, 5, None, DegreeDayMethod.AVERAGE),
        (10, 20, 10, 8, DegreeDayMethod.CUT_OFF),
        (10, 20, 10, 30, DegreeDayMethod.SINE),
    ],
)
def test_impossible_days_are_refused(
    low: float, high: float, base: float, upper: float | None, method: DegreeDayMethod
) -> None:
    with pytest.raises(ValueError):
        degree_days(low, high, base, upper, method)
