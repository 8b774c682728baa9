"""Whole events of a site, each figure worked by hand."""

import math
from dataclasses import replace

import numpy as np
import pytest

from core.events.event import WettingEvent, site_noise, wetting_events
from core.events.passed import Amount, both, passed_by_balance, passed_by_sensors
from core.events.record import SiteRecord
from core.events.supply import Supply
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROFILE = Profile.from_horizons([Horizon(0.0, 1600.0, texture=TextureClass.LOAM)])
DEPTH = np.array([100.0, 300.0, 500.0])
# Ten days, read each hour, up to now at midnight.
HOURS = np.arange(-240.0, 1.0)
DAYS = np.arange(10) * 24.0 - 240.0
SUPPLY = Supply(-206.0, -200.0, 50.0)


def readings() -> np.ndarray:
    """An irrigation from 10:00 on the second day: 100 mm answers at -204, 300 mm at -200; both
    hold what they got. 500 mm never answers."""
    theta = np.full((HOURS.size, 3), 0.20)
    theta[HOURS >= -204, 0] = 0.30
    theta[HOURS >= -200, 1] = 0.25
    return theta


def record(theta: np.ndarray | None = None, **changed: object) -> SiteRecord:
    values = readings() if theta is None else theta
    site = Site.from_readings(
        "probe", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS, values, PROFILE
    )
    whole = SiteRecord(site, 0.0, (SUPPLY,), DAYS, np.full(10, 450.0), np.full(10, 4.0))
    return replace(whole, **changed)  # type: ignore[arg-type]


def one(of: SiteRecord) -> WettingEvent:
    ((event,),) = wetting_events([of])
    return event


def test_what_came_and_when() -> None:
    event = one(record())
    assert [(a.sensor, a.before_hours, a.after_hours) for a in event.wetting.answers] == [
        (0, -205.0, -204.0),
        (1, -201.0, -200.0),
    ]
    assert event.supplies == (0,)
    assert event.given.mm == 50.0
    assert event.given.sigma_mm == pytest.approx(4.0)
    assert event.front_mm_h == pytest.approx((200 / 5, 200 / 4, 200 / 3))


def test_how_deep() -> None:
    """The second sensor rose half as far as the first: a quarter of the way on to the third."""
    assert one(record()).reach.mm == pytest.approx(350.0)


def test_what_stayed() -> None:
    """Layers of 200 mm each: 20 + 10 mm by when the water had spread out, 18 h after the last of
    it came."""
    event = one(record())
    assert event.settled_hours == -182.0
    assert event.stored.layer_mm == pytest.approx([20.0, 10.0, 0.0])


def test_water_that_runs_on_has_to_spread_out_as_well() -> None:
    """Till four hours after the last sensor answered: 18 h from then."""
    event = one(record(supplies=(replace(SUPPLY, end_hours=-196.0),)))
    assert event.settled_hours == -178.0


def test_what_was_read_long_before_is_not_known_then() -> None:
    """The second sensor is silent from 13 h before: its layer goes to its neighbours."""
    theta = readings()
    theta[HOURS > -195, 1] = np.nan
    event = one(record(theta))
    assert np.isnan(event.stored.layer_mm[1])
    assert event.stored.total_mm == pytest.approx(0.10 * 300)
    theta[HOURS > -195, 1] = np.where(HOURS[HOURS > -195] > -188, np.nan, 0.25)
    assert one(record(theta)).stored.layer_mm[1] == pytest.approx(10.0)


def test_what_was_found_again() -> None:
    """From -205, at 11:00, to -182, at 10:00 the next day: of 4 mm a day, the cosine of light from
    6 to 20 h leaves (1 + cos(pi 5/14)) / 2 = 71.7 % of the first and brings
    (1 - cos(pi 4/14)) / 2 = 18.8 % of the second, 3.62 mm in all. (30 + 3.62) / 50."""
    event = one(record())
    used = 4 * ((1 + math.cos(math.pi * 5 / 14)) + (1 - math.cos(math.pi * 4 / 14))) / 2
    assert event.used_mm == pytest.approx(used)
    share, sigma = event.recovery
    assert share == pytest.approx((30 + used) / 50)
    assert sigma == pytest.approx(math.hypot(event.stored.sigma_mm, share * 4.0) / 50)


def test_what_passed_the_roots() -> None:
    """Roots of 450 mm lie between the sensor that answered and the one that did not. Nothing was
    added below them and nothing drained."""
    event = one(record())
    assert event.passed.mm == 0.0
    assert event.draining.lost_mm == 0.0


def test_how_it_drained() -> None:
    """From -180 to -100 both upper sensors lose 0.0005 an hour: within 450 mm 0.2 mm/h, 4.8 mm/day;
    afterwards nothing. The nights from 22:00 to 4:00 around -167, -143 and -119 see it, that around
    -95 does not: drained half-way between the last two."""
    theta = readings()
    fall = np.clip(HOURS + 180, 0, 80) * 0.0005
    theta[:, :2] -= fall[:, None]
    drains = one(record(theta)).draining
    assert (drains.low_hours, drains.high_hours) == (-119.0, -95.0)
    assert drains.ends_hours == pytest.approx(-107.0)
    assert drains.lost_mm == pytest.approx(4.8 * (-107 + 182) / 24, rel=0.03)


def test_a_strip_gets_all_the_water_of_the_field() -> None:
    """Over 40 % of the ground, 50 mm are 125; rain falls everywhere."""
    rain = Supply(-206.0, -202.0, 10.0, is_rain=True)
    event = one(record(wetted_share=0.4, supplies=(SUPPLY, rain)))
    assert event.supplies == (0, 1)
    assert event.given.mm == pytest.approx(135.0)
    assert event.given.sigma_mm == pytest.approx(math.hypot(10.0, 1.5))


def test_nothing_logged_has_no_recovery() -> None:
    event = one(record(supplies=()))
    assert event.supplies == ()
    assert math.isnan(event.given.mm)
    assert math.isnan(event.recovery[0])
    assert event.stored.total_mm == pytest.approx(30.0)
    assert event.settled_hours == -182.0


def test_without_days_use_and_roots_are_unknown() -> None:
    event = one(record(day_hours=np.empty(0), root_mm=np.empty(0), use_mm=np.empty(0)))
    assert math.isnan(event.used_mm)
    assert math.isnan(event.root_mm)
    assert math.isnan(event.recovery[0])
    assert math.isnan(event.passed.mm)


def test_noise_known_from_before_is_used() -> None:
    """Three spreads of 0.02 are 0.06: the second sensor's step of 0.05 is none then."""
    event = one(record(noise=np.array([0.02, 0.02, np.nan])))
    assert [a.sensor for a in event.wetting.answers] == [0]


def test_noise_of_sites() -> None:
    """Without a change at night there is none; without readings it is not known."""
    silent = record(np.full((HOURS.size, 3), np.nan))
    still, unknown = site_noise([record(), silent])
    assert still.tolist() == [0.0, 0.0, 0.0]
    assert np.isnan(unknown).all()
    assert site_noise([]) == []


def test_a_day_without_use_leaves_the_others() -> None:
    """The use of the fourth day is not known: events of the second are none the worse."""
    use = np.full(10, 4.0)
    use[3] = np.nan
    assert not math.isnan(one(record(use_mm=use)).used_mm)
    use[2] = np.nan
    assert math.isnan(one(record(use_mm=use)).used_mm)


def test_use_beyond_the_known_days_is_unknown() -> None:
    late = record(day_hours=DAYS[3:], root_mm=np.full(7, 450.0), use_mm=np.full(7, 4.0))
    assert math.isnan(one(late).used_mm)


def test_roots_below_all_sensors() -> None:
    """Down to 600 mm the sensors tell; roots go to 900. What ended above them passed nothing; of
    what went on below the sensors nobody knows."""
    deep = np.full(10, 900.0)
    assert one(record(root_mm=deep)).passed.mm == 0.0
    theta = readings()
    theta[HOURS >= -195, 2] = 0.25
    assert math.isnan(one(record(theta, root_mm=deep)).passed.mm)


def test_past_the_deepest_sensor_the_balance_has_a_say() -> None:
    """All sensors answer. Below 450 mm the third layer, 400 to 600, got 0.05 x 150 = 7.5 mm;
    nights of -168 to -100 lose 4.8 mm a day from the roots. By the balance: 50 mm, less what the
    roots hold more and did not lose, less what was used."""
    theta = readings()
    theta[HOURS >= -195, 2] = 0.25
    fall = np.clip(HOURS + 180, 0, 80) * 0.0005
    theta[:, :2] -= fall[:, None]
    event = one(record(theta))
    lost = event.draining.lost_mm
    assert lost > 10.0
    seen = passed_by_sensors(
        Amount(event.stored.between(450.0, math.inf), event.stored.sigma_mm), lost, event.reach, 450
    )
    assert seen.mm == pytest.approx(7.5 + lost)
    stayed = Amount(event.stored.between(0.0, 450.0) - lost, event.stored.sigma_mm)
    told = both(seen, passed_by_balance(Amount(50.0, 4.0), stayed, event.used_mm))
    assert event.passed.mm == pytest.approx(told.mm)
    assert event.passed.sigma_mm == pytest.approx(told.sigma_mm)


def test_tensions_are_read_through_the_curve() -> None:
    """A tensiometer falls from 40 to 12 kPa and 12 stays: what was added is the difference of the
    contents by the curve of its horizon."""
    kpa = np.full((HOURS.size, 3), 40.0)
    kpa[HOURS >= -204, 0] = 12.0
    site = Site.from_readings("t", InstrumentKind.TENSIOMETER, DEPTH, HOURS, kpa, PROFILE)
    event = one(replace(record(), site=site))
    at = PROFILE.theta_from_tension(np.array([40.0, 12.0]), np.zeros(2, int))
    assert event.stored.added[0] == pytest.approx(at[1] - at[0])
    assert event.stored.slope_sigma == 0.25
    assert [a.sensor for a in event.wetting.answers] == [0]


def test_a_sensor_not_trusted_is_left_out() -> None:
    """The second one is doubted all the time: its layer goes to its neighbours, 0-300 mm to the
    first one, and the water ended above the third."""
    marked = np.array([False, True, False])
    site = Site.from_readings(
        "p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS, readings(), PROFILE, suspect=marked
    )
    event = one(replace(record(), site=site))
    assert [a.sensor for a in event.wetting.answers] == [0]
    assert event.stored.total_mm == pytest.approx(30.0)
    assert (event.reach.low_mm, event.reach.high_mm) == (100.0, 500.0)
    assert not math.isnan(event.draining.ends_hours)


def test_the_next_water_ends_what_can_be_told() -> None:
    """A second irrigation ten hours after the first has spread half-way: the first is judged by
    the last reading before it."""
    theta = readings()
    theta[HOURS >= -190, 0] = 0.34
    first, second = wetting_events([record(theta)])[0]
    assert first.settled_hours == -191.0
    assert math.isnan(first.draining.ends_hours)
    assert second.wetting.after_hours == -190.0


def test_sites_without_readings_or_events() -> None:
    still = record(np.full((HOURS.size, 3), 0.2))
    silent = record(np.full((HOURS.size, 3), np.nan))
    empty = Site.from_readings(
        "e", InstrumentKind.CAPACITANCE_PROBE, DEPTH, np.empty(0), np.empty((0, 3)), PROFILE
    )
    found = wetting_events([still, silent, replace(still, site=empty), record()])
    assert [len(events) for events in found] == [0, 0, 0, 1]
    assert wetting_events([]) == []


def test_the_clock_of_the_farm_tells_the_nights() -> None:
    """Where now is noon, the same readings lose their water at other hours of the day."""
    theta = readings()
    loss = np.where((HOURS % 24 >= 22) | (HOURS % 24 < 5), 0.0005, 0.0)
    theta[:, :2] -= np.cumsum(np.where(HOURS > -180, loss, 0.0))[:, None]
    midnight, noon = one(record(theta)).draining, one(record(theta, clock_hour=12.0)).draining
    assert midnight.lost_mm > 5.0
    assert noon.lost_mm < 1.0
