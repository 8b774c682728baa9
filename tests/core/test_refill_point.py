"""Refill points that crops have shown, worked by hand; on simulated fields see docs/events.md."""

from dataclasses import replace

import numpy as np
import pytest

from core.events.event import wetting_events
from core.events.record import SiteRecord
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.learned.broken_stick import broken_stick
from core.learned.refill_point import (
    OWN_SHARE,
    NoBreak,
    SiteRefill,
    refill_point,
    site_refill,
)
from core.learned.uptake import UptakeDays, uptake_days
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROFILE = Profile.from_horizons([Horizon(0.0, 1600.0, texture=TextureClass.LOAM)])
FULL = float(PROFILE.theta_full[0])
AVAILABLE = float(PROFILE.available_between(0.0, 400.0).sum())
HOURS = np.arange(-24.0 * 40, 1.0)
USE = 3.2


def record(until_mm: float) -> SiteRecord:
    """Roots of 400 mm over 40 days take 3.2 mm a day, by day, until so much is gone; then ever
    less: half of it when that again is gone."""
    gone = np.zeros(HOURS.size)
    light = np.clip((HOURS % 24 - 6) / 14, 0, 1)
    used = 0.0
    for day in range(40):
        rows = slice(24 * day, 24 * day + 25)
        takes = USE if used < until_mm else USE * max(1 - (used - until_mm) / (2 * until_mm), 0)
        gone[rows] = used + takes * np.append(light[rows][:-1], 1.0)[: gone[rows].size]
        used += takes
    theta = np.column_stack([FULL - gone / 400.0] * 2)
    theta += np.random.default_rng(1).normal(0, 0.0002, theta.shape)
    depth = np.array([100.0, 300.0])
    site = Site.from_readings("p", InstrumentKind.CAPACITANCE_PROBE, depth, HOURS, theta, PROFILE)
    begins = HOURS[:-1:24]
    return SiteRecord(site, 0.0, (), begins, np.full(40, 400.0), np.full(40, USE))


def shown(of: SiteRecord) -> SiteRefill:
    return site_refill(uptake_days(of, wetting_events([of])[0], PROFILE, np.full(2, FULL)))


def test_days_of_use_and_what_was_gone_before_them() -> None:
    """3.2 mm a day beside 3.2 stated; each day as much more is gone of what the roots hold."""
    days = uptake_days(record(1000.0), (), PROFILE, np.full(2, FULL))
    assert days.share == pytest.approx(np.ones(days.share.size), abs=0.1)
    assert days.stated_mm == pytest.approx(np.full(days.share.size, USE))
    assert days.available_mm == pytest.approx(np.full(days.share.size, AVAILABLE))
    assert np.diff(days.gone) == pytest.approx(
        np.full(days.share.size - 1, USE / AVAILABLE), abs=0.01
    )


def test_what_a_sensor_reads_at_full_counts() -> None:
    """Sensors that read 0.02 more at full have 8 mm more gone from 400 mm of soil."""
    of = record(1000.0)
    more = uptake_days(of, (), PROFILE, np.full(2, FULL + 0.02)).gone
    less = uptake_days(of, (), PROFILE, np.full(2, FULL)).gone
    assert more - less == pytest.approx(np.full(more.size, 8.0 / AVAILABLE))


def test_days_of_little_use_or_without_roots_are_left_out() -> None:
    of = record(1000.0)
    assert (
        uptake_days(replace(of, use_mm=of.use_mm * 0.9), (), PROFILE, np.full(2, FULL)).gone.size
        == 0
    )
    bare = replace(of, root_mm=np.full(40, np.nan))
    assert uptake_days(bare, (), PROFILE, np.full(2, FULL)).gone.size == 0


def test_the_break_is_where_use_began_to_fall() -> None:
    """At 30 mm: within a tenth of what the roots hold."""
    found = shown(record(30.0))
    assert found.why_not is None
    assert found.depletion_mm == pytest.approx(30.0, abs=0.1 * AVAILABLE)
    assert found.stick is not None
    assert found.stick.level == pytest.approx(1.0, abs=0.05)
    assert found.sigma_mm >= OWN_SHARE * AVAILABLE


def test_a_crop_that_lacked_nothing_shows_none() -> None:
    assert shown(record(1000.0)).why_not is NoBreak.NEVER_DRY


def days(gone: np.ndarray, share: np.ndarray) -> UptakeDays:
    n = gone.size
    return UptakeDays(np.arange(n) * 24.0 - 24 * n, gone, share, np.full(n, 5.0), np.full(n, 80.0))


def test_eleven_days_are_too_few() -> None:
    gone = np.linspace(0, 1, 12)
    share = np.where(gone < 0.5, 1.0, 0.3)
    assert site_refill(days(gone[:11], share[:11])).why_not is NoBreak.FEW_DAYS
    assert site_refill(days(np.full(20, 0.4), np.ones(20))).why_not is NoBreak.FEW_DAYS


def test_a_straight_fall_is_no_break() -> None:
    """It falls from the first day on: nothing says where the use was free."""
    gone = np.linspace(0, 1, 60)
    share = 1 - 0.7 * gone + np.random.default_rng(2).normal(0, 0.03, 60)
    assert site_refill(days(gone, share)).why_not is NoBreak.NO_FALL


def test_six_days_beyond_the_break_are_too_few() -> None:
    gone = np.concatenate([np.linspace(0, 0.5, 40), np.linspace(0.6, 0.8, 6)])
    share = np.where(gone <= 0.5, 1.0, 1 - 2.5 * (gone - 0.5))
    assert site_refill(days(gone, share)).why_not is NoBreak.NEVER_DRY


def site(mm: float, sigma: float) -> SiteRefill:
    found = shown(record(30.0))
    return replace(found, depletion_mm=mm, sigma_mm=sigma)


def test_sites_and_the_estimate_count_by_what_they_are_sure_of() -> None:
    """Two sites of 30 and 40 mm, each ± 10: 35 ± 7.07. An estimate of 47 ± 6.25, taken as ± 10
    for 1.6 times as wide: a third each, 39, ± 5.77; 1.28 of that to either side."""
    both = [site(30.0, 10.0), site(40.0, 10.0)]
    alone = refill_point(both, float("nan"), float("nan"))
    assert alone is not None
    assert (alone.depletion_mm, alone.sites) == (pytest.approx(35.0), 2)
    assert alone.high_mm - alone.depletion_mm == pytest.approx(1.28 * 7.071, abs=0.01)
    told = refill_point(both, 47.0, 6.25)
    assert told is not None
    assert told.depletion_mm == pytest.approx(39.0)
    assert told.depletion_mm - told.low_mm == pytest.approx(1.28 * 5.774, abs=0.01)


def test_an_estimate_alone_is_no_evidence() -> None:
    assert refill_point([shown(record(1000.0))], 40.0, 5.0) is None


def test_a_silent_sensor_is_left_out() -> None:
    """The other one then stands for all: 3.2 mm a day came out of 400 mm of soil, and its own
    depth of 100 mm makes it a layer of 150 mm, in which 1.2 of them went."""
    of = record(1000.0)
    values = of.site.value.copy()
    values[:, 1] = np.nan
    site = Site.from_readings(
        "p", InstrumentKind.CAPACITANCE_PROBE, of.site.depth_mm, HOURS, values, PROFILE
    )
    seen = uptake_days(replace(of, site=site), (), PROFILE, np.full(2, FULL))
    assert seen.share.size > 20
    assert seen.share == pytest.approx(np.full(seen.share.size, 150 / 400), abs=0.1)
    unknown = uptake_days(of, (), PROFILE, np.array([FULL, np.nan]))
    assert unknown.share == pytest.approx(seen.share)
    assert uptake_days(of, (), PROFILE, np.full(2, np.nan)).share.size == 0


def test_roots_are_those_of_each_day() -> None:
    """400 mm for twenty days, then 300: what they hold goes with them. They are looked for a fifth
    deeper, down to 360 of the 400 mm that lose water alike."""
    of = record(1000.0)
    root = np.where(np.arange(40) < 20, 400.0, 300.0)
    seen = uptake_days(replace(of, root_mm=root), (), PROFILE, np.full(2, FULL))
    late = seen.ends_hours > -20 * 24
    less = float(PROFILE.available_between(0.0, 300.0).sum())
    assert seen.available_mm == pytest.approx(np.where(late, less, AVAILABLE))
    assert float(seen.share[~late].mean()) == pytest.approx(1.0, abs=0.02)
    assert float(seen.share[late].mean()) == pytest.approx(360 / 400, abs=0.02)


def test_what_was_gone_is_that_of_before_the_light() -> None:
    """After k whole days of 3.2 mm each."""
    seen = uptake_days(record(1000.0), (), PROFILE, np.full(2, FULL))
    k = np.round((seen.ends_hours - HOURS[0] - 22) / 24)
    assert seen.gone == pytest.approx(k * USE / AVAILABLE, abs=0.01)


def test_too_few_days_before_the_break() -> None:
    """Six on the level and forty on the fall: that it was free up to there is not seen."""
    gone = np.concatenate([np.linspace(0.0, 0.2, 6), np.linspace(0.25, 1.0, 40)])
    share = np.where(gone <= 0.2, 1.0, 1 - 1.1 * (gone - 0.2))
    assert site_refill(days(gone, share)).why_not is NoBreak.NO_FALL


def test_a_fall_that_is_hardly_one() -> None:
    """From 1.00 to 0.86 at the driest: sharp, but no crop suffers from that."""
    gone = np.linspace(0, 1, 60)
    share = 1 - 0.28 * np.maximum(gone - 0.5, 0)
    assert site_refill(days(gone, share)).why_not is NoBreak.NEVER_DRY


def test_a_break_that_a_line_tells_as_well() -> None:
    """Noise as wide as the fall: days lie on either side of a break, which is chance."""
    gone = np.linspace(0, 1, 60)
    share = 1.2 - 0.9 * gone + np.random.default_rng(8).normal(0, 0.3, 60)
    found = site_refill(days(gone, share))
    assert found.why_not is NoBreak.NO_FALL
    stick = broken_stick(gone, share, np.full(60, 25.0))
    assert stick.f_value < 10
    assert min((gone <= stick.at).sum(), (gone > stick.at + 0.08).sum()) >= 7
    assert np.median(share[gone > stick.at + 0.08]) < 0.8 * stick.level


def test_days_of_high_use_count_for_more() -> None:
    """By the square of the stated use; the roots' water is that of the newest days."""
    gone = np.linspace(0, 1, 60)
    rng = np.random.default_rng(5)
    stated = np.where(np.arange(60) % 2 == 0, 3.0, 9.0)
    share = np.where(gone < 0.5, 1.0, 1 - 1.6 * (gone - 0.5)) + rng.normal(0, 0.3, 60) / stated
    available = np.where(np.arange(60) < 40, 40.0, 80.0)
    found = site_refill(replace(days(gone, share), stated_mm=stated, available_mm=available))
    assert found.stick == broken_stick(gone, share, stated**2)
    assert found.stick != broken_stick(gone, share, np.ones(60))
    assert found.stick is not None
    assert found.depletion_mm == pytest.approx(found.stick.at * 80.0)
