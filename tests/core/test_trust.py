"""Which readings are believed."""

import numpy as np
import pytest

from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.reading_units import ReadingUnit, from_core, quantity_of, to_core, units_of
from core.instrument.site import Site
from core.instrument.trust import Doubt, doubts
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROBE, TENSIOMETER = InstrumentKind.CAPACITANCE_PROBE, InstrumentKind.TENSIOMETER
HOURS = np.arange(-96, 1, 4.0)
LOAM = Profile.from_horizons([Horizon(0, 1000, texture=TextureClass.LOAM)])


def wiggle(level: float) -> np.ndarray:
    return level + 0.001 * np.sin(np.arange(HOURS.size))


def test_good_readings_are_trusted() -> None:
    assert np.all(doubts(PROBE, HOURS, wiggle(0.25)[:, None], [0.45]) == Doubt.NONE)


def test_missing_and_impossible() -> None:
    value = wiggle(0.25)[:, None]
    value[3] = np.nan
    value[5] = 0.9
    value[7] = -0.02
    value[9] = 0.49
    found = doubts(PROBE, HOURS, value, [0.45])[:, 0]
    assert found[3] == Doubt.MISSING
    assert found[5] == Doubt.RANGE
    assert found[7] == Doubt.RANGE
    assert found[9] == Doubt.OVER_SATURATION
    assert np.sum(found != "") == 4


def test_flat_line_of_two_days() -> None:
    value = wiggle(0.25)
    value[-14:] = value[-14]
    found = doubts(PROBE, HOURS, value[:, None], [0.45])[:, 0]
    assert np.all(found[-14:] == Doubt.FLAT)
    assert np.all(found[:-14] == "")
    # A day of it may happen in a resting soil.
    short = wiggle(0.25)
    short[-7:] = short[-7]
    assert np.all(doubts(PROBE, HOURS, short[:, None], [0.45]) == "")


def test_tensiometer_that_lost_its_column() -> None:
    """Past 70, then near nothing, and no water came (common practice, no source)."""
    hours = [-96, -72, -48, -24, -1]
    value = np.array([[40.0], [60.0], [78.0], [4.0], [6.0]])
    found = doubts(TENSIOMETER, hours, value, [0.45])[:, 0]
    assert list(found) == ["", "", "", Doubt.BROKEN_COLUMN, Doubt.BROKEN_COLUMN]
    # With water in between, a fall is what should happen.
    assert np.all(doubts(TENSIOMETER, hours, value, [0.45], water_hours=[-30]) == "")


def test_tensiometer_beyond_its_range() -> None:
    found = doubts(TENSIOMETER, [-2, -1], [[79.0], [84.0]], [0.45])[:, 0]
    assert list(found) == ["", Doubt.RANGE]


def test_a_doubted_newest_reading_silences_its_sensor() -> None:
    """An older good reading must not pass for news."""
    value = np.array([[30.0, 40.0], [35.0, 84.0]])
    site = Site.from_readings("T", TENSIOMETER, [150, 300], [-72, -24], value, LOAM)
    assert list(site.believed) == [True, False]
    theta, hour = site.latest()
    assert hour[0] == -24
    assert np.isnan(theta[1])


def test_stale_and_suspect() -> None:
    value = np.column_stack([wiggle(0.25), wiggle(0.26)])
    value[-8:, 1] = np.nan  # silent for more than a day
    site = Site.from_readings("P", PROBE, [100, 300], HOURS, value, LOAM, suspect=[True, False])
    assert not site.believed.any()
    assert site.doubt[-1, 0] == Doubt.SUSPECT
    assert set(site.doubt[:-8, 1]) == {Doubt.STALE}
    # It has been silent since: that is when the site had its last word.
    assert site.last_hours == HOURS[-9]


def test_a_site_without_readings() -> None:
    site = Site.from_readings("P", PROBE, [100], [], np.empty((0, 1)), LOAM)
    assert not site.believed.any()
    assert site.last_hours == float("-inf")


def test_tension_becomes_water_by_the_sensors_own_horizon() -> None:
    layered = Profile.from_horizons(
        [Horizon(0, 300, texture=TextureClass.SAND), Horizon(300, 900, texture=TextureClass.CLAY)]
    )
    site = Site.from_readings("T", TENSIOMETER, [150, 450], [-1], [[30.0, 30.0]], layered)
    assert site.theta[0, 0] < 0.15
    assert site.theta[0, 1] > 0.35


@pytest.mark.parametrize(
    "unit, raw, core",
    [
        (ReadingUnit.FRACTION, 0.25, 0.25),
        (ReadingUnit.PERCENT, 25, 0.25),
        (ReadingUnit.MM_PER_100MM, 25, 0.25),
        (ReadingUnit.KPA, 33, 33),
        (ReadingUnit.CENTIBAR, 33, 33),
    ],
)
def test_units_of_readings(unit: ReadingUnit, raw: float, core: float) -> None:
    assert to_core(raw, unit) == pytest.approx(core)
    assert from_core(core, unit) == pytest.approx(raw)
    assert unit in units_of(quantity_of(unit))


def test_every_kind_has_facts() -> None:
    assert set(kinds()) == set(InstrumentKind)
    assert all(k.low < k.high and k.theta_sigma > 0 for k in kinds().values())
