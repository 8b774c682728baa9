"""What sensors tell of a block at each step: contents, errors, and bounds at the ends of ranges."""

import numpy as np
import pytest

from core.crop.catalogue import crop
from core.estimate.forcing import Steps
from core.estimate.ground import (
    block_ground,
)
from core.estimate.readings import readings_of
from core.estimate.soils import tension_content
from core.instrument.kinds import InstrumentKind
from tests.core.blocks import PROFILE, site


def test_steps_end_at_six_and_at_eighteen_and_now() -> None:
    steps = Steps.before(6.17, 1)
    assert steps.end == pytest.approx([-12.17, 0.0])
    assert steps.morning.tolist() == [False, True]
    assert steps.day.tolist() == [0, 0]
    noon = Steps.before(14.0, 1)
    assert noon.end == pytest.approx([-20.0, -8.0, 0.0])
    assert noon.morning.tolist() == [False, True, False]
    assert noon.day.tolist() == [0, 0, 1]
    # A day from six to six, and from six to two: 1 - cos(8/14 pi), halved.
    assert noon.light.sum() == pytest.approx(1 + (1 - np.cos(np.pi * 8 / 14)) / 2)


def test_each_step_takes_the_reading_nearest_to_its_end() -> None:
    probe = site(
        [200.0],
        [-20.0, -14.0, -11.0, -0.5],
        [[0.30], [0.29], [0.28], [0.27]],
        InstrumentKind.CAPACITANCE_PROBE,
    )
    ground = block_ground(PROFILE, crop("potato"), [probe])
    reading, sd, _, _ = readings_of(ground, [probe], PROFILE, Steps.before(6.0, 2))
    assert reading[:, 0] == pytest.approx([np.nan, 0.30, 0.28, 0.27], nan_ok=True)
    assert sd[-1, 0] == pytest.approx(0.015)


def test_a_wet_granular_matrix_sensor_tells_only_that_it_is_wet() -> None:
    both = [
        site([200.0], [-0.5], [[8.0]], k)
        for k in (
            InstrumentKind.GRANULAR_MATRIX,
            InstrumentKind.TENSIOMETER,
        )
    ]
    for one, blind in zip(both, (True, False), strict=True):
        ground = block_ground(PROFILE, crop("potato"), [one])
        found = readings_of(ground, [one], PROFILE, Steps.before(6.0, 1))
        reading, sd, at_least, at_most = found[:, -1, 0]
        assert np.isnan(reading) == blind
        assert np.isnan(at_most)
        assert sd > 0
        floor, _ = tension_content(PROFILE, np.array([200.0]), np.array([[10.0]]))
        assert at_least == pytest.approx(floor[0, 0] if blind else np.nan, nan_ok=True)


@pytest.mark.parametrize(("kpa", "ends"), [(199.0, True), (230.0, True), (198.0, False)])
def test_at_the_end_of_its_range_it_tells_only_that_the_soil_is_dry(kpa: float, ends: bool) -> None:
    one = site([200.0], [-0.5], [[kpa]], InstrumentKind.GRANULAR_MATRIX)
    ground = block_ground(PROFILE, crop("potato"), [one])
    found = readings_of(ground, [one], PROFILE, Steps.before(6.0, 1))
    reading, _, at_least, at_most = found[:, -1, 0]
    content, _ = tension_content(PROFILE, np.array([200.0]), np.array([[kpa]]))
    assert np.isnan(reading) == ends
    assert np.isnan(at_least)
    assert at_most == pytest.approx(content[0, 0] if ends else np.nan, nan_ok=True)


def test_tension_becomes_content_falling_all_the_way() -> None:
    kpa = np.geomspace(2, 1500, 40)[:, None]
    content, slope = tension_content(PROFILE, np.array([200.0]), kpa)
    assert (np.diff(content[:, 0]) < 0).all()
    assert (slope > 0).all()


def test_a_heat_pulse_sensor_reads_on_where_a_matrix_sensor_ends() -> None:
    one = site([200.0], [-0.5], [[400.0]], InstrumentKind.HEAT_PULSE)
    ground = block_ground(PROFILE, crop("potato"), [one])
    reading, _, _, at_most = readings_of(ground, [one], PROFILE, Steps.before(6.0, 1))[:, -1, 0]
    assert not np.isnan(reading)
    assert np.isnan(at_most)
