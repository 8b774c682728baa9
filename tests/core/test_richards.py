"""Richards columns against what is known of them: balance, steady flow, drying by roots."""

import numpy as np
import pytest

from core.soil.texture import TextureClass
from core.world.layerings import uniform
from core.world.richards import (
    CELL_CM,
    CELL_MIDDLE_CM,
    Columns,
    Water,
    conductivity_of,
    daylight_shares,
    head_of,
    pass_hours,
    saturation_at,
    theta_of,
)
from core.world.richards_fields import SOILS, STRESSED, RichardsFields

NAMES = list(SOILS)
COUNT = len(NAMES)
NONE = np.zeros((COUNT, 24))
WET, DRY = np.full(COUNT, -400.0), np.full(COUNT, -15_000.0)


def columns() -> Columns:
    rows = np.array([SOILS[n][:5] for n in NAMES])
    cell = [np.repeat(rows[:, i, None], CELL_CM.size, axis=1) for i in range(5)]
    return Columns(cell[0], cell[1], cell[2], cell[3], cell[4] / 24)


def roots(deep_cm: float) -> np.ndarray:
    weight = np.where(deep_cm > CELL_MIDDLE_CM, CELL_CM, 0.0)
    return np.tile(weight / weight.sum(), (COUNT, 1))


def stored(soil: Columns, water: Water) -> np.ndarray:
    total: np.ndarray = (theta_of(soil, water) * CELL_CM * 10).sum(axis=1) + water.pond_cm * 10
    return total


def test_a_season_loses_less_than_a_millimetre() -> None:
    """Rain, sprinkling faster than some of the soils take, sun and roots for 60 days."""
    soil, rng = columns(), np.random.default_rng(1)
    water = Water(saturation_at(soil, -100.0), np.zeros(COUNT))
    before, came, went = stored(soil, water), np.zeros(COUNT), np.zeros(COUNT)
    light = np.tile(daylight_shares(), (COUNT, 1))
    for day in range(60):
        rain = NONE.copy()
        if day % 6 == 5:
            rain[:, 7:11] += 10.0
        if rng.random() < 0.2:
            rain[:, 14:18] += rng.gamma(1.0, 3.0)
        came += rain.sum(axis=1)
        went += pass_hours(soil, water, rain, 1.5 * light, 4.5 * light, roots(80), WET, DRY).sum(
            axis=1
        )
    assert stored(soil, water) - before == pytest.approx(came - went, abs=0.05)
    assert (went > 0.3 * came).all()


def test_a_steady_rain_goes_down_at_unit_gradient() -> None:
    """In the long run every depth conducts just what falls, under gravity alone."""
    soil = columns()
    water = Water(saturation_at(soil, -100.0), np.zeros(COUNT))
    rain = np.full((COUNT, 24), 4.0 / 24)
    for _ in range(150):
        pass_hours(soil, water, rain, NONE, NONE, roots(50), WET, DRY)
    conducts = conductivity_of(soil, water)
    assert conducts == pytest.approx(np.full(conducts.shape, 4.0), rel=0.05)


def test_saturation_follows_van_genuchten() -> None:
    """A loam at 100 cm: (1 + (0.036 x 100)^1.56)^-(1 - 1/1.56), by hand, but for the entry."""
    soil = columns()
    by_hand = (1 + 3.6**1.56) ** -(1 - 1 / 1.56)
    found = saturation_at(soil, -100.0)[NAMES.index("loam"), 0]
    assert found == pytest.approx(by_hand, rel=0.02)
    heads = head_of(soil, Water(saturation_at(soil, -250.0), np.zeros(COUNT)))
    assert heads == pytest.approx(np.full(heads.shape, -250.0), rel=1e-6)


def test_a_dry_soil_holds_its_roots_short() -> None:
    soil = columns()
    light = np.tile(daylight_shares(), (COUNT, 1))
    moist, dry = (Water(saturation_at(soil, h), np.zeros(COUNT)) for h in (-200.0, -12_000.0))
    took, starved = (
        pass_hours(soil, w, NONE, NONE, 5.0 * light, roots(60), WET, DRY)[:, 0]
        for w in (moist, dry)
    )
    assert (took > 4.5).sum() >= COUNT - 1, "a coarse sand empties in a day"
    assert (starved < 0.35 * 5).all()


def test_what_rains_too_fast_runs_off() -> None:
    soil = columns()
    water = Water(saturation_at(soil, -100.0), np.zeros(COUNT))
    rain = NONE.copy()
    rain[:, 10] = 80.0
    off = pass_hours(soil, water, rain, NONE, NONE, roots(60), WET, DRY)[:, 3]
    assert off[NAMES.index("clay")] > 20
    assert off[NAMES.index("sand")] == pytest.approx(0)


def field(seed: int = 1) -> RichardsFields:
    ones = np.ones((2, 10))
    return RichardsFields(
        uniform([TextureClass.LOAM, TextureClass.CLAY]),
        ["potato", "tomato"],
        0.9 * ones,
        600.0 * ones,
        seed,
    )


def test_full_is_where_a_millimetre_a_day_is_lost() -> None:
    f = field()
    width = f.columns.theta_s - f.columns.theta_r
    at_full = Water((f.full - f.columns.theta_r) / width, np.zeros(2))
    assert conductivity_of(f.columns, at_full) == pytest.approx(np.ones(f.full.shape), rel=1e-3)


def test_looking_ahead_leaves_the_field_as_it_is() -> None:
    f = field()
    before = f.water.saturation.copy()
    et0, rain = np.full(10, 6.0), np.zeros(10)
    wet = f.days_until_short(0, et0, rain, 2)
    assert np.array_equal(f.water.saturation, before)
    assert np.isinf(wet).all()
    left = f.days_until_short(0, 8.0 + 0 * et0, rain, 10)
    assert np.isfinite(left).all()
    for day in range(int(left.max()) + 1):
        day_took = day_wanted = np.zeros(2)
        for first, last in ((6, 24), (0, 6)):
            took, wanted, _ = f.pass_part(day, 8.0, np.zeros(2), np.zeros(2), first, last)
            day_took, day_wanted = day_took + took, day_wanted + wanted
        short = day_took < STRESSED * day_wanted - 1e-6
        assert not short[day < left].any()
        assert short[day == left].all()
