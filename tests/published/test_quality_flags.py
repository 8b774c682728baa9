"""Rules of quality against the reference implementation, on a measured series of seven years.

References: Dorigo, W. A. et al. (2013), doi:10.2136/vzj2012.0097; `flagit`, the network's own
implementation of it; the flags that the network publishes with the series.
"""

import warnings

import numpy as np
import pandas as pd
import pytest

from core.quality.breaks import theta_breaks
from core.quality.climbs import rises_without_water
from core.quality.judge import Sensors, Surroundings, judge
from core.quality.series import Series
from core.quality.spikes import theta_spikes
from core.quality.water import Water
from tests.published.measured import measured

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    from flagit import flagit


def series(theta: np.ndarray) -> Series:
    return Series.of(np.zeros(theta.size, np.int64), measured().hours, theta)


def reference(theta: np.ndarray, rules: list[str], **more: np.ndarray) -> dict[str, np.ndarray]:
    """Which of our readings the reference flags; it wants hourly rows with gaps, in percent."""
    index = pd.DatetimeIndex([t.replace(tzinfo=None) for t in measured().time])
    columns = {"soil_moisture": theta * 100, **more}
    frame = pd.DataFrame(columns, index=index).resample("h").asfreq()
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        told = flagit.Interface(frame, sat_point=42.0).run(name=rules)
    found = told["qflag"].reindex(index)
    keys = {*rules, "D08"} if "D07" in rules else set(rules)
    return {key: np.array([key in flags for flags in found]) for key in keys}


def with_faults(seed: int) -> np.ndarray:
    """The measured series with spikes of one and two readings, steps and falls to zero put in."""
    rng = np.random.default_rng(seed)
    theta = measured().theta.copy()
    for at in rng.choice(np.arange(200, theta.size - 200), 120, replace=False):
        kind = rng.integers(4)
        if kind == 0:
            theta[at] *= rng.choice([0.6, 0.8, 1.25, 1.6])
        elif kind == 1:
            theta[at : at + 2] = round(theta[at] * 1.4, 4)
        elif kind == 2:
            theta[at : at + 100] += rng.choice([-0.06, 0.08])
        else:
            theta[at : at + 30] = 0.0
    return np.round(theta, 4)


SERIES = {"as measured": None, "faults 1": 1, "faults 2": 2, "faults 3": 3}


@pytest.fixture(params=SERIES.values(), ids=SERIES.keys())
def theta(request: pytest.FixtureRequest) -> np.ndarray:
    return measured().theta if request.param is None else with_faults(request.param)


def test_range_and_saturation(theta: np.ndarray) -> None:
    """C01, C02, C03: the thresholds alone."""
    told = reference(theta, ["C01", "C02", "C03"])
    assert np.array_equal(told["C01"], theta < 0)
    assert np.array_equal(told["C02"], theta > 0.6)
    assert np.array_equal(told["C03"], theta > 0.42)


def test_spikes(theta: np.ndarray) -> None:
    """D06, equations 4 to 6, reading by reading."""
    told = reference(theta, ["D06"])["D06"]
    ours = theta_spikes(series(theta))
    assert told.any()
    assert np.flatnonzero(ours ^ told).tolist() == []


def test_breaks(theta: np.ndarray) -> None:
    """D07 and D08, equations 7 to 9, reading by reading."""
    told = reference(theta, ["D07"])
    both = told["D07"] | told["D08"]
    ours = theta_breaks(series(theta))
    assert both.sum() >= 12
    assert np.flatnonzero(ours ^ both).tolist() == []


def test_the_networks_own_flags() -> None:
    """What the network published: its drops and jumps are our breaks, it has no spike here."""
    published = np.array([bool({"D07", "D08"} & set(f.split(","))) for f in measured().flag])
    ours = theta_breaks(series(measured().theta))
    assert published.sum() == 12
    assert np.flatnonzero(ours ^ published).tolist() == []


def test_rises_without_water() -> None:
    """D04, where the two coincide: rises of 0.01 and more, on rain put in at every tenth day.

    The rule of this project asks besides that a rise be 0.01 at least, and counts the hours since
    water ended; the reference sums 24 hourly rows.
    """
    data = measured()
    rain = np.zeros(data.theta.size)
    rain[::240] = 5.0
    frame_rain = {"precipitation": rain}
    told = reference(data.theta, ["D04"], **frame_rain)["D04"]
    s = series(data.theta)
    at = s.hours[::240]
    water = Water(np.zeros(at.size, np.int64), at - 1, at)
    since = water.hours_since(np.zeros(s.hours.size, np.int64), s.hours)
    ours = rises_without_water(s, since, np.full(s.hours.size, 50.0))
    before, known = s.at_or_before(24.0)
    steady = known & (s.hours - s.hours[before] <= 24.001)
    rise = np.where(steady, s.value - s.value[before], 0.0)
    # Whole days without a gap, clear of the edges of the rain's day and of rounding at 0.01.
    first, end = s.window(24.0, 0.0)
    whole = (end - first == 25) & (since > 25) & (rise > 0.0101)
    assert (ours & whole).sum() > 100
    assert np.flatnonzero((ours ^ told) & whole).tolist() == []


def test_frozen_soil() -> None:
    """D01: below zero beside the sensor."""
    data = measured()
    cold = 8 - 12 * np.cos((data.hours / 24 / 365.25 - 0.05) * 2 * np.pi)
    told = reference(data.theta, ["D01"], soil_temperature=cold)["D01"]
    s = series(data.theta)
    sensor = Sensors(
        instrument=np.zeros(1, np.int64),
        block=np.zeros(1, np.int64),
        is_theta=np.ones(1, bool),
        is_tension=np.zeros(1, bool),
        is_tensiometer=np.zeros(1, bool),
        low=np.zeros(1),
        high=np.full(1, 0.7),
        theta_sat=np.full(1, 0.42),
        depth_mm=np.full(1, 50.0),
    )
    around = Surroundings(Water.none(), Water.none(), s.hours % 24, cold)
    frozen = (judge(s, sensor, around) & 32) != 0
    assert told.any()
    assert np.array_equal(frozen, told)
