"""The simulated world: deterministic, conserving water, behaving like soil."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.instrument.kinds import InstrumentKind
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.world.column import (
    NODE_MM,
    STEP_HOURS,
    STEPS_PER_DAY,
    ColumnBlock,
    Given,
    Policy,
    simulate_columns,
)
from core.world.instruments import simulate_readings
from core.world.weather import Weather, simulate_weather

FIRST = date(2026, 6, 30)
POTATO = CropSeason(crop("potato"), FIRST - timedelta(days=60))
LOAM = Profile.from_horizons([Horizon(0, 1200, texture=TextureClass.LOAM)])


def column(given: tuple[Given, ...] = (), trigger: float = 99.0) -> ColumnBlock:
    policy = Policy(trigger, 1.0, 4.0, 18.0, until_day=99, given=given)
    return ColumnBlock(LOAM, POTATO, policy)


def dry(days: int, et0: float = 5.0) -> Weather:
    even = np.full(days, 18.0)
    return Weather(np.full(days, et0), np.zeros(days), even - 6, even + 6)


def store(theta: np.ndarray) -> np.ndarray:
    return theta.sum(axis=-1) * NODE_MM


def test_weather_is_repeatable_and_plausible() -> None:
    one, same, other = (simulate_weather(120, 91, s, 5) for s in (1, 1, 2))
    np.testing.assert_array_equal(one.et0_mm, same.et0_mm)
    assert not np.array_equal(one.et0_mm, other.et0_mm)
    assert 3 < one.et0_mm.mean() < 7
    assert np.all(one.rain_mm[-5:] == 0)
    assert np.all(one.t_min_c < one.t_max_c)
    assert 8 < (one.t_min_c + one.t_max_c).mean() / 2 < 22


def test_roots_drink_by_day_and_rest_at_night() -> None:
    run = simulate_columns([column()], dry(4), FIRST, 3 * 96)
    lost = -np.diff(store(run.theta[:, 0]))
    night = np.arange(3 * 96) % 96 < 23
    assert np.all(lost[night] < 1e-9)
    # Potato in mid season at ET0 5: Kc 1.15.
    assert lost.sum() == pytest.approx(3 * 5.75, rel=0.01)


def test_water_given_is_found_in_the_soil() -> None:
    calm = dry(6, et0=0.0)
    run = simulate_columns([column()], dry(12), FIRST, 12 * 96 - 1)
    drier = store(run.theta[-1])[0]
    assert drier < store(run.theta[0])[0]
    given = simulate_columns([column((Given(0, 1.0, 20.0),))], calm, FIRST, 24)
    before = simulate_columns([column()], calm, FIRST, 24)
    gained = store(given.theta[-1])[0] - store(before.theta[-1])[0]
    # The soil was full: some has left at the bottom, none has come from nowhere.
    assert 0 < gained <= 20.0 + 1e-9


def test_a_full_soil_drains_back_to_full() -> None:
    run = simulate_columns([column((Given(0, 1.0, 60.0),))], dry(9, et0=0.0), FIRST, 8 * 96)
    assert store(run.theta[40])[0] > store(run.theta[0])[0] + 10
    assert store(run.theta[-1])[0] == pytest.approx(store(run.theta[0])[0], abs=3)


def test_the_simulated_manager_waters_at_his_trigger() -> None:
    run = simulate_columns([column(trigger=0.8)], dry(20), FIRST, 20 * 96 - 1)
    assert 3 <= len(run.sets) <= 12
    assert all(s.net_mm > 0 and s.end_hours > s.start_hours for s in run.sets)


def test_instruments_read_what_is_there() -> None:
    theta = np.full((50, 24), 0.22)
    node = (np.arange(24) + 0.5) * NODE_MM
    rng = np.random.default_rng(3)
    read = simulate_readings(InstrumentKind.CAPACITANCE_PROBE, LOAM, [100, 300], theta, node, rng)
    assert np.abs(read - 0.22).max() < 0.02
    tension = simulate_readings(InstrumentKind.GRANULAR_MATRIX, LOAM, [300], theta, node, rng)
    assert np.median(tension) == pytest.approx(float(LOAM.curve.tension_at(0.22)[0]), rel=0.05)
    parched = simulate_readings(InstrumentKind.TENSIOMETER, LOAM, [300], theta * 0.6, node, rng)
    assert np.all(parched == 85)


def test_a_machines_water_comes_when_it_passes_the_column() -> None:
    """40 mm at 4 mm/h take 10 h from 18:00; at six tenths of the way it comes at 24:00."""
    spread = column(given=(Given(0, 18.0, 40.0),))
    passed = replace(spread, place=0.6)
    run = simulate_columns([spread, passed], dry(2, 0.0), FIRST, 2 * STEPS_PER_DAY)
    top = store(run.theta)
    before, after = (int(h / STEP_HOURS) for h in (23.75, 24.75))
    start = int(18 / STEP_HOURS)
    assert top[before, 1] == pytest.approx(top[start, 1])
    assert top[after, 1] - top[before, 1] > 35
    assert top[before, 0] - top[start, 0] > 15
    assert {(s.start_hours, s.end_hours) for s in run.sets} == {(18.0, 28.0)}
