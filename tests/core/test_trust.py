"""Which readings are believed."""

import numpy as np
import pytest

from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.reading_units import (
    UNIT_OF_CODE,
    ReadingUnit,
    code_of,
    coded_to_core,
    from_core,
    quantity_of,
    to_core,
    units_of,
)
from core.instrument.site import Site
from core.instrument.trust import Doubt, doubts
from core.quality.flags import Flag
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROBE, TENSIOMETER = InstrumentKind.CAPACITANCE_PROBE, InstrumentKind.TENSIOMETER
HOURS = np.arange(-96, 1, 4.0)
LOAM = Profile.from_horizons([Horizon(0, 1000, texture=TextureClass.LOAM)])


def wiggle(level: float) -> np.ndarray:
    return level + 0.001 * np.sin(np.arange(HOURS.size))


def test_the_gravest_reason_is_given() -> None:
    value = np.array([[0.2, 0.2, np.nan, 0.2]])
    flag = [[0, Flag.FLAT | Flag.RANGE, 0, Flag.NIGHT_CLIMB]]
    found = doubts(value, flag, [False, False, True, False])[0]
    # What is only noted gives no doubt.
    assert list(found) == ["", "outside the instrument's range", "missing", ""]


def test_feel_is_a_share_of_the_available_water() -> None:
    site = Site.from_readings("F", InstrumentKind.FEEL_CHECK, [150], [-1], [[0.5]], LOAM)
    half = (LOAM.theta_full[0] + LOAM.theta_wilt[0]) / 2
    assert site.theta[0, 0] == pytest.approx(half)


def test_a_doubted_newest_reading_silences_its_sensor() -> None:
    """An older good reading must not pass for news."""
    value = np.array([[30.0, 40.0], [35.0, 84.0]])
    flag = [[0, 0], [0, Flag.RANGE]]
    site = Site.from_readings("T", TENSIOMETER, [150, 300], [-72, -24], value, LOAM, flag=flag)
    assert list(site.believed) == [True, False]
    theta, hour = site.latest()
    assert hour[0] == -24
    assert np.isnan(theta[1])


def test_stale_and_suspect() -> None:
    value = np.column_stack([wiggle(0.25), wiggle(0.26)])
    value[-8:, 1] = np.nan  # silent for more than a day
    site = Site.from_readings("P", PROBE, [100, 300], HOURS, value, LOAM, suspect=[True, False])
    assert not site.believed.any()
    assert site.doubt[-1, 0] == "marked suspect"
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
        (ReadingUnit.FAHRENHEIT, 32, 0),
        (ReadingUnit.FAHRENHEIT, 212, 100),
        (ReadingUnit.INCH, 1, 25.4),
        (ReadingUnit.US_GALLON, 1, 0.003785411784),
        (ReadingUnit.BAR, -10, -1),
        (ReadingUnit.PERCENT_AVAILABLE, 60, 0.6),
    ],
)
def test_units_of_readings(unit: ReadingUnit, raw: float, core: float) -> None:
    assert to_core(raw, unit) == pytest.approx(core)
    assert from_core(core, unit) == pytest.approx(raw)
    assert unit in units_of(quantity_of(unit))
    coded = coded_to_core(np.array([raw], float), np.array([code_of(unit)]))
    assert coded[0] == pytest.approx(core)


def test_every_unit_has_a_code_of_its_own() -> None:
    assert set(UNIT_OF_CODE.values()) == set(ReadingUnit)


def test_every_kind_has_facts() -> None:
    assert set(kinds()) == set(InstrumentKind)
    for kind in kinds().values():
        assert kind.low < kind.high
        assert (kind.theta_sigma > 0) == kind.in_soil
        assert not kind.has_depths or kind.usual_depths_mm
        assert all(t.every_days > 0 for t in kind.tasks)


def test_freezing_is_zero_to_the_last_digit() -> None:
    """Rounding at 32 degrees Fahrenheit would decide whether soil is frozen."""
    code = np.array([code_of(ReadingUnit.FAHRENHEIT)] * 2)
    assert coded_to_core(np.array([32.0, 31.9]), code)[0] == 0.0
    assert coded_to_core(np.array([32.0, 31.9]), code)[1] < 0
