"""What sensors read when drained, and the full point that events tell; worked by hand."""

import math

import numpy as np
import pytest

from core.events.drained_level import drained_levels
from core.events.draining import night_slopes
from core.events.event import wetting_events
from core.events.reach import Reach
from core.events.record import SiteRecord
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.learned.full_point import full_point
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROFILE = Profile.from_horizons([Horizon(0.0, 1600.0, texture=TextureClass.LOAM)])
DEPTH = np.array([100.0, 300.0, 500.0])
HOURS = np.arange(-120.0, 1.0)  # five days up to midnight, each hour
BEYOND = Reach(500.0, 500.0, math.inf)


def record(theta: np.ndarray) -> SiteRecord:
    site = Site.from_readings("p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS, theta, PROFILE)
    none = np.empty(0)
    return SiteRecord(site, 0.0, (), none, none, none)


def falling(by_night: list[float]) -> np.ndarray:
    """The first sensor from 0.30, falling by so much an hour in the nights from 22:00 to 4:00
    around -119 (half of it), -95, -71, -47 and -23; the others stay at 0.25."""
    theta = np.full((HOURS.size, 3), 0.25)
    theta[:, 0] = 0.30
    for middle, rate in zip((-119, -95, -71, -47, -23), by_night, strict=True):
        theta[:, 0] -= np.clip(HOURS - (middle - 3), 0, 6) * rate
    return theta


def test_losses_of_several_depths_at_once() -> None:
    """0.001 an hour from 100 mm above the first sensor is 0.1 mm/h, 2.4 mm a day."""
    theta = falling([0, 0.001, 0, 0, 0])
    store = theta @ record(theta).above([0, 1])
    middle, loss = night_slopes(HOURS, record(theta).night, store)
    assert middle.tolist()[1] == -95.0
    # The first sensor's layer ends at 200 mm: of what is above the second one it is all.
    assert loss[1] == pytest.approx([2.4, 4.8])
    assert loss[2] == pytest.approx([0.0, 0.0], abs=1e-9)


def test_the_level_lies_between_two_nights() -> None:
    """Above 100 mm, nights lose 3.6, 2.4 and 0.6 mm a day: 1 mm lies 1.4 / 1.8 of the way from the
    second to the third. In the middles of these the sensor reads 0.30 - 0.009 - 0.003 = 0.288, and
    0.285 - 0.00075 = 0.28425."""
    levels = drained_levels(record(falling([0, 0.0015, 0.001, 0.00025, 0])), BEYOND, -110.0, 0.0)
    assert levels[0] == pytest.approx(0.288 - (0.288 - 0.28425) * 1.4 / 1.8, abs=2e-4)


def test_only_after_the_water_has_come_to_rest() -> None:
    """From -60 on only the nights around -47 and -23 count, both drained: the first of them loses
    too little to tell when."""
    slow = record(falling([0, 0.0015, 0.001, 0.00025, 0]))
    assert np.isnan(drained_levels(slow, BEYOND, -60.0, 0.0)[0])


def test_the_first_night_tells_where_it_is_nearly_drained() -> None:
    """0.9 mm a day: the level is that of the night itself, 0.30 - 0.000375 x 3."""
    levels = drained_levels(record(falling([0, 0.000375, 0, 0, 0])), BEYOND, -110.0, 0.0)
    assert levels[0] == pytest.approx(0.30 - 0.001125, abs=2e-4)


def test_cut_off_before_it_drained() -> None:
    fast = record(falling([0, 0.0015, 0.001, 0.0008, 0.0006]))
    assert np.isnan(drained_levels(fast, BEYOND, -110.0, 0.0)).all()


@pytest.mark.parametrize(
    "reach, told",
    [
        (Reach(500, 500, math.inf), [True, True, True]),
        # To the third sensor and not beyond: of the first one two below answered.
        (Reach(550, 500, 700), [True, False, False]),
        (Reach(400, 300, 500), [False, False, False]),
    ],
)
def test_only_of_sensors_that_the_water_clearly_passed(reach: Reach, told: list[bool]) -> None:
    """All sensors lose alike: what passes a deeper one is more, and drained later."""
    theta = falling([0, 0.0005, 0.0003, 0.0001, 0])
    levels = drained_levels(record(theta), reach, -110.0, 0.0)
    assert (~np.isnan(levels)).tolist() == told


def test_a_sensor_that_is_silent_tells_nothing() -> None:
    theta = falling([0, 0.0015, 0.001, 0.00025, 0])
    theta[HOURS > -90, 1] = np.nan
    levels = drained_levels(record(theta), BEYOND, -110.0, 0.0)
    assert not np.isnan(levels[0])
    assert np.isnan(levels[1:]).all()


def test_an_event_tells_what_it_drained_to() -> None:
    theta = np.full((HOURS.size, 3), 0.20)
    for j, hour in enumerate((-112, -110, -108)):
        theta[hour <= HOURS, j] = 0.30
    for middle, rate in zip((-95, -71), (0.0015, 0.00025), strict=True):
        theta -= (np.clip(HOURS - (middle - 3), 0, 6) * rate)[:, None]
    ((event,),) = wetting_events([record(theta)])
    assert event.reach.beyond_sensors
    # The first sensor: 3.6 mm a day at 0.2955, 0.6 at 0.29025.
    share = 2.6 / 3.0
    assert event.drained_theta[0] == pytest.approx(0.2955 - 0.00525 * share, abs=3e-4)


def test_the_full_point_of_three_events() -> None:
    """All alike: the median, and eight of ten cases of the method's own 0.010."""
    told = full_point([0.28, 0.28, 0.28, math.nan])
    assert told is not None
    assert told.events == 3
    assert told.theta == pytest.approx(0.28)
    assert (told.low, told.high) == pytest.approx((0.28 - 0.0128, 0.28 + 0.0128))


def test_a_spread_of_events_widens_it() -> None:
    told = full_point([0.275, 0.28, 0.285, 0.28, 0.278, 0.282])
    assert told is not None
    assert told.theta == pytest.approx(0.28)
    assert 0.0256 < told.high - told.low < 0.035


@pytest.mark.parametrize("levels", [[], [0.28, 0.28], [0.28, math.nan, 0.28], [0.22, 0.28, 0.34]])
def test_thin_evidence_is_silent(levels: list[float]) -> None:
    assert full_point(levels) is None


def test_its_interval_holds_as_often_as_it_says() -> None:
    """Events that err by 0.008 around a field's own level, which errs by the method's 0.010: 80 %
    ranges hold as often, and no more than in 90 %. By simulation."""
    rng = np.random.default_rng(4)
    held, told = 0, 0
    for _ in range(400):
        own = 0.3 + rng.normal(0, 0.010)
        found = full_point((own + rng.normal(0, 0.008, 6)).tolist())
        if found is not None:
            told += 1
            held += found.low <= 0.3 <= found.high
    assert told > 250
    assert 0.75 <= held / told <= 0.9


def test_one_low_night_is_chance() -> None:
    """Nights lose 3.6, 0.6, 2.4 and 0.6 mm a day above 100 mm: the level lies after the third."""
    low_once = drained_levels(
        record(falling([0, 0.0015, 0.00025, 0.001, 0.00025])), BEYOND, -110.0, 0.0
    )
    # 0.30 less 0.009, 0.0015 and half of 0.006; 1.4 / 1.8 of the way to the next middle.
    assert low_once[0] == pytest.approx(0.2865 - 0.00375 * 1.4 / 1.8)
