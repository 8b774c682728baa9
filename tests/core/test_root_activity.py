"""How deep roots feed, worked by hand; on simulated fields see docs/events.md."""

import math
from dataclasses import replace

import numpy as np
import pytest

from core.events.event import WettingEvent, wetting_events
from core.events.record import SiteRecord
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.learned.daily_falls import daily_falls
from core.learned.root_activity import RootActivity, RootsFit, root_activity
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROFILE = Profile.from_horizons([Horizon(0.0, 1600.0, texture=TextureClass.LOAM)])
DEPTH = np.array([100.0, 300.0, 500.0])
LAYER = np.array([200.0, 200.0, 200.0])
HOURS = np.arange(-240.0, 1.0)  # ten days up to midnight
CLOCK = HOURS % 24


def record(uptake_mm: list[float], drains_mm: float = 0.0) -> SiteRecord:
    """Each layer loses so much by day, from 6:00 to 20:00, and so much by draining at all hours."""
    day = np.floor(HOURS / 24) + 10
    light = np.clip((CLOCK - 6) / 14, 0, 1)
    theta = 0.35 - np.outer(day + light, np.array(uptake_mm) / LAYER)
    theta -= np.outer((HOURS + 240) / 24, np.full(3, drains_mm) / LAYER)
    site = Site.from_readings("p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS, theta, PROFILE)
    none = np.empty(0)
    return SiteRecord(site, 0.0, (), none, none, none)


def told(of: SiteRecord, events: tuple[WettingEvent, ...] = ()) -> RootActivity:
    found = root_activity(of, events)
    assert found is not None
    return found


def test_what_each_layer_loses_by_day() -> None:
    """Nine days between ten nights, and each layer's own figure; draining is taken off."""
    for drains in (0.0, 1.0):
        days = daily_falls(record([3.0, 1.0, 0.5], drains), ())[1] * LAYER
        assert days.shape == (9, 3)
        assert days == pytest.approx(np.tile([3.0, 1.0, 0.5], (9, 1)), abs=0.02)


def test_the_depth_above_which_nine_tenths_lie() -> None:
    """3 + 1.5 of 5 mm above 400 mm are 90 %. 3 of 4.1 mm above 200 mm are 73 %, and 1 mm of the
    next layer 24 %: (90 - 73.2) / 24.4 of its 200 mm."""
    assert told(record([3.0, 1.5, 0.5])).feeds_mm == pytest.approx(400.0, abs=2)
    share = (0.9 - 3.0 / 4.1) / (1.0 / 4.1)
    assert told(record([3.0, 1.0, 0.1])).feeds_mm == pytest.approx(200 + 200 * share, abs=2)


def test_more_than_a_tenth_at_the_deepest_sensor_is_below_it() -> None:
    """It is sure down to that sensor's layer."""
    found = told(record([2.0, 1.0, 1.0]))
    assert math.isinf(found.feeds_mm)
    assert math.isinf(found.high_mm)
    assert found.low_mm == 400.0


def test_its_range() -> None:
    """Days alike: what is left is the layer's even chance, 200 / sqrt(12), and 80 mm."""
    found = told(record([4.0, 0.9, 0.1]))
    off = 1.28 * math.hypot(200 / math.sqrt(12), 80.0)
    assert found.high_mm - found.feeds_mm == pytest.approx(off, rel=0.02)
    assert found.low_mm == pytest.approx(found.feeds_mm - off, rel=0.02)
    assert found.days == 9
    assert found.uptake_mm == pytest.approx([4.0, 0.9, 0.1], abs=0.02)


@pytest.mark.parametrize(
    "root, fit",
    [
        # Three quarters of 399, 401, 719 and 721 mm: 299.25, 300.75, 539.25, 540.75.
        (399.0, RootsFit.DEEPER),
        (401.0, RootsFit.FITS),
        (719.0, RootsFit.FITS),
        (721.0, RootsFit.SHALLOWER),
    ],
)
def test_beside_the_depth_that_is_used(root: float, fit: RootsFit) -> None:
    found = RootActivity(8, np.empty(0), 300.0, 420.0, 540.0)
    assert found.beside(root) is fit
    assert RootActivity(8, np.empty(0), 300.0, math.inf, math.inf).beside(5000.0) is RootsFit.FITS


def test_days_on_which_water_came_tell_nothing() -> None:
    """Water at -100 takes the day around it and the 18 h after: two of the nine."""
    wet = record([3.0, 1.0, 0.1])
    theta = wet.site.theta.copy()
    theta[HOURS >= -100, 0] += 0.05
    site = Site.from_readings("p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS, theta, PROFILE)
    watered = replace(wet, site=site)
    (events,) = wetting_events([watered])
    assert len(events) == 1
    _, days = daily_falls(watered, events)
    assert days.shape == (7, 3)
    assert days[:, 0] * 200 == pytest.approx(3.0, abs=0.02)


def test_a_silent_sensor_leaves_its_layer_to_its_neighbours() -> None:
    of = record([3.0, 1.0, 0.1])
    marked = np.array([False, True, False])
    site = Site.from_readings(
        "p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS, of.site.value, PROFILE, suspect=marked
    )
    found = told(replace(of, site=site))
    assert np.isnan(found.uptake_mm[1])
    assert found.feeds_mm < 400


def test_a_night_that_was_not_read_breaks_the_days() -> None:
    of = record([3.0, 1.0, 0.1])
    gone = (HOURS > -126) & (HOURS < -110)
    site = Site.from_readings(
        "p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS[~gone], of.site.value[~gone], PROFILE
    )
    assert daily_falls(replace(of, site=site), ())[1].shape == (7, 3)


@pytest.mark.parametrize("uptake", [[0.2, 0.1, 0.1], [0.0, 0.0, 0.0]])
def test_roots_that_hardly_take_anything_tell_nothing(uptake: list[float]) -> None:
    assert root_activity(record(uptake), ()) is None


def test_only_the_newest_ten_days() -> None:
    """Of 15 days the last ones took from below."""
    hours = np.arange(-360.0, 1.0)
    day, light = np.floor(hours / 24), np.clip((hours % 24 - 6) / 14, 0, 1)
    early = np.minimum(day + light, -11.0)
    taken = np.outer(early, [4.0, 0.0, 0.0]) + np.outer(day + light - early, [2.0, 1.9, 0.1])
    site = Site.from_readings(
        "p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, hours, 0.3 - taken / LAYER, PROFILE
    )
    found = told(replace(record([1, 1, 1]), site=site))
    assert found.days == 10
    assert found.uptake_mm == pytest.approx([2.0, 1.9, 0.1], abs=0.03)


def test_too_few_days() -> None:
    of = record([3.0, 1.0, 0.1])
    late = HOURS >= -72
    site = Site.from_readings(
        "p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS[late], of.site.value[late], PROFILE
    )
    assert root_activity(replace(of, site=site), ()) is None
    nothing = Site.from_readings(
        "p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, np.empty(0), np.empty((0, 3)), PROFILE
    )
    assert root_activity(replace(of, site=nothing), ()) is None


def watered_at(hours: float) -> tuple[SiteRecord, tuple[WettingEvent, ...]]:
    """3 mm a day from the top layer, and 10 mm into it at a moment."""
    dry = record([3.0, 1.0, 0.1])
    theta = dry.site.theta.copy()
    theta[hours <= HOURS, 0] += 0.05
    site = Site.from_readings("p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS, theta, PROFILE)
    of = replace(dry, site=site)
    return of, wetting_events([of])[0]


def test_water_in_the_evening_does_not_hide_the_day_before_it() -> None:
    """At 23:00, -97: the day up to 21:30, where its night begins, counts, and is what it was."""
    of, events = watered_at(-97.0)
    ends, days = daily_falls(of, events)
    assert -98.5 in ends.tolist()
    assert days[:, 0] * 200 == pytest.approx(3.0, abs=0.05)


def test_days_soon_after_a_wetting_are_left_out_if_asked() -> None:
    """Water at -100 stands at its height then: of the days that stand apart from it anyway, the one
    that begins 34 hours after it is left out."""
    of, events = watered_at(-100.0)
    all_days = daily_falls(of, events)[0].tolist()
    later = daily_falls(of, events, waits_hours=48.0)[0].tolist()
    assert [end for end in all_days if end not in later] == [-50.5]


@pytest.mark.parametrize("came", [-97.0, -94.0])
def test_nights_of_another_dry_spell_tell_nothing_of_a_day(came: float) -> None:
    """Draining of 4 mm a day from a wetting on, in the evening or in the middle of the night: of
    the two nights on either side those with the water or behind it know nothing of the day."""
    dry = record([3.0, 1.0, 0.1])
    theta = dry.site.theta.copy()
    after = came <= HOURS
    theta[after, 0] += 0.05 - (HOURS[after] - came) / 24 * 4.0 / 200
    site = Site.from_readings("p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS, theta, PROFILE)
    of = replace(dry, site=site)
    (events,) = wetting_events([of])
    days = daily_falls(of, events, nights=2)[1]
    assert days[:, 0] * 200 == pytest.approx(3.0, abs=0.05)
