"""What holds of any season, whatever was seen in it."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from core.crop.catalogue import crops
from core.crop.degree_days import DegreeDayMethod, degree_days
from core.crop.season import (
    STAGE_ORDER,
    CoverSeen,
    CropSeason,
    Stage,
    StageSeen,
    season_days,
)
from core.limits.by_day import BlockGround, DatedSoil, limits_by_day
from core.limits.refill_method import LimitRule, RefillMethod
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

SPRING = date(2026, 3, 20)
BOOK = list(crops().values())

seen = st.lists(
    st.builds(StageSeen, st.integers(1, 180), st.floats(0, 200).map(lambda d: round(d, 1))),
    max_size=4,
    unique_by=lambda s: s.day,
).map(tuple)
cuts = st.lists(st.integers(10, 200), max_size=4, unique=True).map(tuple)
covers = st.lists(
    st.builds(CoverSeen, st.integers(0, 150), st.floats(0.05, 1), st.floats(0.2, 8)),
    max_size=2,
    unique_by=lambda c: c.day,
).map(tuple)
seasons = st.builds(
    CropSeason, st.sampled_from(BOOK), st.just(SPRING), seen=seen, covers=covers, cuts=cuts
)


@given(season=seasons, first=st.integers(-30, 400), days=st.integers(1, 60))
def test_every_day_is_sane_and_does_not_depend_on_the_window(
    season: CropSeason, first: int, days: int
) -> None:
    start = SPRING + timedelta(days=first)
    found = season_days([season], start, days).take(0)
    row = season.crop
    assert np.all((found.kc > 0) & (found.kc <= 2.5))
    assert np.all(found.root_mm >= row.root_initial_mm - 1e-9)
    assert np.all(found.root_mm <= row.root_schedule_mm + 1e-9)
    assert np.all((found.stage_index >= 0) & (found.stage_index < len(STAGE_ORDER)))
    if row.perennial:
        assert Stage.OVER not in set(found.stage)
    longer = season_days([season], start - timedelta(days=7), days + 14).take(0)
    np.testing.assert_allclose(found.kc, longer.kc[7 : 7 + days], rtol=1e-12)
    np.testing.assert_array_equal(found.stage_index, longer.stage_index[7 : 7 + days])


@given(season=seasons, day=st.integers(20, 150), place=st.floats(0, 120))
def test_what_is_seen_changes_nothing_before_its_day(
    season: CropSeason, day: int, place: float
) -> None:
    if any(s.day == day for s in season.seen):
        return
    more = replace(season, seen=(*season.seen, StageSeen(day, place)))
    before = season_days([season], SPRING, day).take(0)
    after = season_days([more], SPRING, day).take(0)
    np.testing.assert_array_equal(before.kc, after.kc)
    np.testing.assert_array_equal(before.root_mm, after.root_mm)


@given(
    season=seasons,
    texture=st.sampled_from(list(TextureClass)),
    depth=st.floats(200, 2500),
    et0=st.floats(0.5, 12),
    tension=st.floats(5, 500),
)
def test_refill_lies_between_wilting_and_full(
    season: CropSeason, texture: TextureClass, depth: float, et0: float, tension: float
) -> None:
    profile = Profile.from_horizons([Horizon(0, round(depth), texture=texture)])
    rules = (LimitRule(RefillMethod.TENSION, tension, from_on=SPRING + timedelta(days=40)),)
    ground = BlockGround((DatedSoil(None, profile),), season, rules)
    table = limits_by_day([ground], SPRING, 120)
    assert np.all(table.wilt_mm < table.full_mm)
    for refill_method in (None, RefillMethod.CROP_P, RefillMethod.FLAT):
        refill = table.refill_mm(et0, refill_method)
        assert np.all((table.wilt_mm < refill) & (refill < table.full_mm))
    in_force = table.p(et0)
    assert np.all((in_force >= 0.1 - 1e-12) & (in_force <= 0.8 + 1e-12))


@given(
    low=st.floats(-20, 25),
    swing=st.floats(0, 25),
    base=st.floats(0, 15),
    method=st.sampled_from(list(DegreeDayMethod)),
)
def test_warmer_days_never_count_less(
    low: float, swing: float, base: float, method: DegreeDayMethod
) -> None:
    cool = float(degree_days(low, low + swing, base, method=method))
    warm = float(degree_days(low + 1, low + swing + 1, base, method=method))
    assert cool >= -1e-9
    assert warm >= cool - 1e-9
    assert warm - cool <= 1 + 1e-9
