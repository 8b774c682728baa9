"""Bounds that hold whatever the estimate says, and the question that settles a contradiction."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.bounds import most_net_mm, refill_kpa
from core.advice.decide import Decisions, decide
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.questions import Question, QuestionKind, questions
from core.advice.vocabulary import Reason, State
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.outlook.forecast import Forecast
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.state.track import Track
from tests.core.blocks import NOW, PROFILE, block, lived, probe, site

DAYS = 60
CLAY = Profile.from_horizons([Horizon(0, 1200, texture=TextureClass.CLAY)])
DRY = Forecast.of(np.full((50, 10), 5.5), np.zeros((50, 10)), 31)


def constant(theta: float, every_days: int, net_mm: float) -> BlockInputs:
    """Maize on clay whose sensors stand still, watered every so many days."""
    hours = np.arange(-24.0 * DAYS, 0.1, 6.0)
    value = theta + 0.002 * np.sin(np.arange(hours.size))[:, None] * np.ones(4)
    sensors = Site.from_readings(
        "P", InstrumentKind.CAPACITANCE_PROBE, [100, 200, 400, 600], hours, value, CLAY
    )
    return block(
        profile=CLAY,
        sites=(sensors,),
        season=CropSeason(crop("maize-grain"), NOW.date() - timedelta(days=80)),
        past=PastWeather(NOW.date() - timedelta(days=DAYS), np.full(DAYS, 5.5)),
        waterings=tuple(Watering(-24.0 * k - 10, net_mm) for k in range(0, DAYS, every_days)),
        forecast=DRY,
        seed=1,
    )


def decided(of: BlockInputs) -> Decisions:
    assert of.assumed.season is not None
    return decide([of], [of.assumed.season])


def test_a_clay_told_too_full_is_not_watered_for_ever() -> None:
    """50 mm every third day, twice what the crop uses, and sensors that never move: what they
    read is full, the rest drained."""
    answer = assess(constant(0.36, 3, 50.0))
    assert answer.state is State.ABOVE_FULL
    assert Reason.DRAINS_ON in answer.reasons
    assert answer.deficit_mm == pytest.approx(0, abs=2)


def test_water_that_never_shows_is_bounded() -> None:
    """Four sets of 20 mm in a week: no more than TAW and the week's use less those 80 mm, or
    the use of two days; and it says so."""
    told = constant(0.25, 2, 20.0)
    d = decided(told)
    used = d.track.et_mm[0, -7:].sum()
    coming = d.expected.et_mm[0, 0, :2].sum()
    most = max(d.track.taw_mm[0, -1] + used - 80.0, coming)
    assert most_net_mm(d.gathered, d.track, d.expected) == pytest.approx([most])
    assert d.amounts.net_mm[0] == pytest.approx(most)
    assert d.beyond_mm[0] > 0
    answer = assess(told)
    assert Reason.MORE_APPLIED_THAN_USED in answer.reasons
    step = next(s for s in answer.steps if s.key == "gross")
    assert any("held in the root zone" in t.source for t in step.terms)


def test_rain_and_older_sets_are_not_held_against_a_block() -> None:
    told = lived(waterings=(Watering(-50.0, 60.0, is_rain=True), Watering(-24.0 * 7 - 1, 60.0)))
    d = decided(told)
    free = d.track.taw_mm[0, -1] + d.track.et_mm[0, -7:].sum()
    assert most_net_mm(d.gathered, d.track, d.expected) == pytest.approx([free])


def test_however_much_was_given_two_days_of_use_may_be_given() -> None:
    told = lived(waterings=tuple(Watering(-20.0 * k - 1, 90.0) for k in range(7)))
    d = decided(told)
    assert most_net_mm(d.gathered, d.track, d.expected) == pytest.approx(
        d.expected.et_mm[:, 0, :2].sum(axis=1)
    )


def test_refill_beside_a_tension_sensor_by_hand() -> None:
    """Loam down to 300 mm: full - 0.5 (full - wilting), through its curve."""
    sensor = site([200.0], [-0.5], [[30.0]], InstrumentKind.TENSIOMETER)
    loam = PROFILE.limits[0]
    theta = loam.theta_full - 0.5 * (loam.theta_full - loam.theta_wilt)
    ((at, most),) = refill_kpa(block(sites=(sensor,)), 0.5)
    assert at == pytest.approx(float(loam.curve.tension_at(theta)))
    assert most == pytest.approx(85, abs=5)


def test_gravel_is_taken_off_before_the_curve_is_read() -> None:
    """Limits are of the whole soil, curves of the fine earth: a fifth of stones leaves the
    refill tension where it is."""
    fine, stony = (
        Profile.from_horizons([Horizon(0, 1200, texture=TextureClass.LOAM, gravel=g)])
        for g in (0.0, 0.2)
    )
    sensor = site([200.0], [-0.5], [[30.0]], InstrumentKind.TENSIOMETER)
    a, b = (refill_kpa(block(profile=p, sites=(sensor,)), 0.4)[0][0] for p in (fine, stony))
    assert a == pytest.approx(b, rel=1e-6)


def test_a_probe_beside_the_tensiometer_sees_the_refill_point() -> None:
    sensor = site([200.0], [-0.5], [[30.0]], InstrumentKind.TENSIOMETER)
    assert refill_kpa(block(sites=(sensor, probe(1, 0.9))), 0.5) == []


def asked(**by_day: list[float]) -> Question | None:
    """The question where a track found these depths on its last days [mm]."""
    track: Track = decided(lived()).track
    found = {name: np.zeros_like(track.unlogged_mm) for name in ("unlogged_mm", "missing_mm")}
    for name, values in by_day.items():
        found[name][0, -len(values) :] = values
    return questions(replace(track, **found), NOW).get(0)


def test_water_nobody_logged_is_asked_about() -> None:
    """12 mm the day before yesterday, from two days to one day ago."""
    found = asked(unlogged_mm=[12.0, 0.0])
    assert found == Question(
        QuestionKind.WATER_NOT_LOGGED, NOW - timedelta(days=2), NOW - timedelta(days=1), 12.0
    )


def test_the_newest_contradiction_is_asked_about() -> None:
    found = asked(unlogged_mm=[12.0, 0.0], missing_mm=[20.0])
    assert found is not None
    assert found.kind is QuestionKind.WATER_DID_NOT_COME
    assert found.last_at == NOW
    assert found.net_mm == 20.0


def test_each_block_is_asked_about_its_own() -> None:
    """Of two blocks the second alone; the same day both ways: water that nobody logged."""
    track: Track = decided(lived()).track
    by_day = np.zeros((2, track.unlogged_mm.shape[1]))
    by_day[1, -3] = 15.0
    found = questions(replace(track, unlogged_mm=by_day, missing_mm=2 * by_day), NOW)
    assert list(found) == [1]
    assert (found[1].kind, found[1].net_mm) == (QuestionKind.WATER_NOT_LOGGED, 15.0)


def test_small_and_old_contradictions_are_not_asked_about() -> None:
    assert asked(unlogged_mm=[7.9]) is None
    assert asked(missing_mm=[30.0, *[0.0] * 7]) is None
