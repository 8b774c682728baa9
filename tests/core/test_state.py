"""Balance and sensors weighed: gains, offsets, unknowns, and what a wetting settles."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.state.daylight import days_used, used_by
from core.state.observe import Observed, SitesOfBlocks, SitesSeen, by_block, newest_before, see
from core.state.water_given import WaterGiven
from core.state.weighing import (
    ET_SIGMA,
    USE_SIGMA,
    WEIGHINGS,
    Told,
    Track,
    Weighing,
    negative_part,
    track,
)
from core.state.zones import RootZones, drain_share
from core.store.deficit import root_zone_deficit
from core.store.many_sites import LayeredWord, Soils

TAW = 120.0


def zones(days: int, blocks: int = 1, drain: float = 0.7) -> RootZones:
    shape = (blocks, days + 1)
    return RootZones(
        taw_mm=np.full(shape, TAW),
        raw_mm=np.full(shape, 60.0),
        below_mm=np.zeros(shape),
        grown_share=np.zeros(shape),
        saturated_mm=np.full(shape, 150.0),
        drain_share=np.full((blocks, 1), drain),
    )


def told(
    days: int,
    water: dict[int, float] | None = None,
    observed: dict[int, float] | None = None,
    weighing: Weighing = Weighing.BLEND,
    start: tuple[float, float] = (60.0, TAW / 12**0.5),
    etc: float = 5.0,
    tended: bool = True,
) -> Told:
    wet, seen = np.zeros((1, days)), np.full((1, days + 1), np.nan)
    for d, mm in (water or {}).items():
        wet[0, d] = mm
    for d, mm in (observed or {}).items():
        seen[0, d] = mm
    return Told(
        water_in_mm=wet,
        water_sigma_mm=0.1 * wet,
        etc_mm=np.full((1, days), etc),
        bare_mm=np.zeros((1, days)),
        et_sigma=np.full((1, days), ET_SIGMA),
        observed_mm=seen,
        observed_sigma_mm=np.where(np.isnan(seen), np.nan, 2.0),
        below_mm=np.full((1, days + 1), np.nan),
        offset_sigma_mm=np.array([8.0]),
        start_mm=np.array([start[0]]),
        start_sigma_mm=np.array([start[1]]),
        weighing=np.array([WEIGHINGS.index(weighing)]),
        tended=np.array([tended]),
    )


def run(t: Told) -> Track:
    return track(zones(t.water_in_mm.shape[1]), t)


def test_without_a_word_the_doubt_only_grows_until_stress() -> None:
    found = run(told(6, start=(10.0, 5.0)))
    assert np.all(np.diff(found.sigma_mm[0]) > 0)
    assert found.gain.sum() == 0
    assert found.depletion_mm[0, -1] == pytest.approx(40.0, abs=0.01)


def test_a_good_wetting_ends_the_doubt() -> None:
    """Whatever was before: after much more water than can be missing, the block is full."""
    dry, wet = (run(told(6, {0: 160.0}, start=(s, 20.0))) for s in (90.0, 30.0))
    for found in (dry, wet):
        assert found.sigma_mm[0, 0] == pytest.approx(20)
        assert found.sigma_mm[0, 3] < 6
        assert -6 < found.depletion_mm[0, 3] < 12


def test_one_reading_is_believed_by_its_weight() -> None:
    sure = run(told(2, observed={1: 80.0}, start=(20.0, 1.0)))
    unsure = run(told(2, observed={1: 80.0}, start=(20.0, 30.0)))
    assert sure.gain[0, 1] < 0.1
    assert unsure.gain[0, 1] > 0.7
    assert unsure.depletion_mm[0, 1] == pytest.approx(80, abs=7)
    # What was moved is what is shown.
    assert unsure.correction_mm[0, 1] == pytest.approx(
        unsure.depletion_mm[0, 1] - unsure.forecast_mm[0, 1]
    )
    assert unsure.sigma_mm[0, 1] < unsure.forecast_sigma_mm[0, 1]


def test_readings_of_one_spot_do_not_average_their_offset_away() -> None:
    found = run(told(9, observed={d: 30 + 5.0 * d for d in range(10)}))
    assert found.sigma_mm[0, -1] > 5


def test_the_offset_of_a_spot_is_learned_where_the_block_is_known() -> None:
    """Filled from a known start; the sensors say 12 mm drier than the balance, always."""
    observed = {d: 12 + 5.0 * d for d in range(1, 11)}
    found = run(told(10, observed=observed, start=(0.0, 1.5)))
    assert found.offset_mm[0, -1] == pytest.approx(12, abs=4)
    assert found.depletion_mm[0, -1] == pytest.approx(50, abs=5)


def test_a_crop_that_drinks_more_than_the_book_is_noticed() -> None:
    observed = {d: 6.5 * d for d in range(1, 9)}  # 30 percent more
    found = run(told(8, observed=observed, start=(0.0, 1.5)))
    assert found.use_factor[0, -1] > 1.12
    assert found.use_sigma[0, -1] < USE_SIGMA


def test_sensors_lead_and_balance_leads() -> None:
    observed = {1: 80.0, 3: 10.0}
    sensors = run(told(4, observed=observed, weighing=Weighing.SENSORS))
    assert sensors.depletion_mm[0, [1, 3]] == pytest.approx([80, 10])
    assert sensors.gain[0].tolist() == [0, 1, 0, 1, 0]
    balance = run(told(4, observed=observed, weighing=Weighing.BALANCE, start=(0.0, 2.0)))
    assert balance.gain.sum() == 0
    assert balance.depletion_mm[0] == pytest.approx([0, 5, 10, 15, 20], abs=1.5)


@given(
    st.lists(st.floats(0, 120), min_size=3, max_size=12),
    st.lists(st.one_of(st.none(), st.floats(-30, 120)), min_size=12, max_size=12),
    st.sampled_from(WEIGHINGS),
)
def test_nothing_ever_breaks_the_track(
    water: list[float], seen: list[float | None], weighing: Weighing
) -> None:
    n = len(water)
    t = told(
        n,
        dict(enumerate(water)),
        {d: v for d, v in enumerate(seen[: n + 1]) if v is not None},
        weighing,
    )
    found = run(t)
    assert np.isfinite(found.depletion_mm).all()
    assert np.all(found.depletion_mm <= TAW + 1e-9)
    assert np.all(found.sigma_mm >= 0)
    assert np.all((found.gain >= 0) & (found.gain <= 1))
    assert np.all(found.use_factor > 0.4)


@given(st.integers(1, 7), st.floats(16, 20))
def test_a_missing_day_of_readings_widens_the_range(day: int, start: float) -> None:
    """Below full and above refill, where nothing but the readings narrows it."""
    observed = {d: start + 5.0 * d for d in range(8)}
    whole = run(told(8, observed=observed, start=(start, 3.0)))
    del observed[day]
    gap = run(told(8, observed=observed, start=(start, 3.0)))
    assert gap.sigma_mm[0, day] > whole.sigma_mm[0, day]
    assert gap.sigma_mm[0, -1] > whole.sigma_mm[0, -1] - 1e-4


@given(st.floats(-40, 40), st.floats(0.1, 30))
def test_moments_of_the_part_below_zero(mean: float, sigma: float) -> None:
    rng = np.random.default_rng(1)
    draws = mean + sigma * rng.standard_normal(40_000)
    cut = np.minimum(draws, 0)
    first, var, cov = negative_part(np.array(mean), np.array(sigma))
    assert first == pytest.approx(cut.mean(), abs=0.03 * sigma)
    assert var == pytest.approx(cut.var(), abs=0.04 * sigma**2)
    assert cov == pytest.approx(np.cov(cut, draws)[0, 1], abs=0.04 * sigma**2)


def test_mass_of_the_track_is_conserved() -> None:
    """Depletion rises by what was used and drained, less what came and what was corrected."""
    t = told(8, {2: 90.0, 5: 30.0}, {1: 50.0, 4: 5.0, 7: 20.0})
    found = run(t)
    change = np.diff(found.depletion_mm[0])
    flows = (found.et_mm + found.drained_mm + found.runoff_mm - t.water_in_mm)[0]
    assert change == pytest.approx(flows + found.correction_mm[0, 1:], abs=1e-9)


LOAM = [Horizon(0, 500, texture=TextureClass.LOAM), Horizon(500, 1200, texture=TextureClass.CLAY)]
SAND = [Horizon(0, 900, texture=TextureClass.SAND)]


@given(st.data())
def test_many_sites_at_once_are_as_each_alone(data: st.DataObject) -> None:
    profiles = [Profile.from_horizons(LOAM), Profile.from_horizons(SAND)]
    depths = [np.array([100.0, 200, 400, 800]), np.array([150.0, 450])]
    times = 3
    theta = np.full((2, times, 4), np.nan)
    depth = np.full((2, 4), np.nan)
    root = np.array(data.draw(st.lists(st.floats(120, 1400), min_size=6, max_size=6)))
    root = root.reshape(2, 3)
    for i, d in enumerate(depths):
        depth[i, : d.size] = d
        for t in range(times):
            values = data.draw(
                st.lists(
                    st.one_of(st.just(float("nan")), st.floats(0.02, 0.5)),
                    min_size=d.size,
                    max_size=d.size,
                )
            )
            theta[i, t, : d.size] = values
    found = LayeredWord(Soils.of(profiles), depth, theta).down_to(root)
    for i, d in enumerate(depths):
        alone = root_zone_deficit(profiles[i], d, theta[i, :, : d.size], root[i])
        for name in ("deficit_mm", "surplus_mm", "unseen_mm"):
            np.testing.assert_allclose(getattr(found, name)[i], getattr(alone, name), atol=1e-9)


def probe(hours: list[float], theta: list[float], label: str = "P") -> Site:
    profile = Profile.from_horizons(LOAM)
    value = np.repeat(np.array(theta)[:, None], 2, axis=1)
    kind = InstrumentKind.CAPACITANCE_PROBE
    return Site.from_readings(label, kind, [100.0, 300.0], hours, value, profile)


def test_the_newest_word_before_each_moment() -> None:
    site = probe([-60, -30, -2], [0.30, 0.25, 0.22])
    theta, age = (x[0] for x in newest_before([site], np.array([-48.0, -24, 0]), 24))
    assert theta[:, 0] == pytest.approx([0.30, 0.25, 0.22])
    assert age[:, 0] == pytest.approx([12, 6, 2])
    old, _ = newest_before([site], np.array([-72.0, -33.0]), 24)
    assert np.isnan(old).all()
    # A doubted newest reading silences the sensor, though an older one was good.
    doubted = replace(site, theta=np.where(site.hours[:, None] > -10, np.nan, site.theta))
    assert np.isnan(newest_before([doubted], np.array([0.0]), 48)[0]).all()


def seen_by(
    sites: list[Site], given_mm: list[tuple[float, float]] | None = None, nets: bool = False
) -> tuple[SitesSeen, Observed]:
    profile = Profile.from_horizons(LOAM)
    seen = see(
        SitesOfBlocks.of([sites], [profile]),
        hours=np.array([-24.0, 0.0]),
        root_mm=np.full((1, 2), 600.0),
        deep_mm=np.array([900.0]),
        used_mm_day=np.full((1, 2), 5.0),
        hour_of_day=6.0,
        given=WaterGiven.of((0, h, net, 0.0, False) for h, net in given_mm or []),
        root_share=np.ones(1),
        nets=np.array([nets]),
    )
    return seen, by_block(seen, 1, np.zeros(1))


def test_a_word_from_earlier_in_the_day_is_carried_by_use_and_water() -> None:
    profile = Profile.from_horizons(LOAM)
    at_dawn = root_zone_deficit(profile, [100, 300], [[0.2, 0.2]], [600.0]).deficit_mm[0]
    fresh = seen_by([probe([0.0], [0.2])])[1].depletion_mm[0]
    assert fresh[1] == pytest.approx(at_dawn)
    yesterday = seen_by([probe([-16.0], [0.2])])[1].depletion_mm[0]  # at 14:00
    assert yesterday[1] == pytest.approx(at_dawn + 5 * (1 - used_by(14)))
    watered = seen_by([probe([-16.0], [0.2])], [(-10.0, 12.0)])[1].depletion_mm[0]
    assert watered[1] == pytest.approx(yesterday[1] - 12)
    assert np.isnan(fresh[0])


def test_two_sites_that_contradict_each_other_widen_the_offset() -> None:
    def offset(a: float, b: float) -> tuple[float, bool]:
        _, found = seen_by([probe([0.0], [a]), probe([0.0], [b], "Q")])
        return float(found.offset_sigma_mm[0]), bool(found.disagree[0])

    agree, apart = offset(0.2, 0.21), offset(0.15, 0.27)
    assert agree[0] < apart[0]
    assert (agree[1], apart[1]) == (False, True)


def test_a_surplus_never_hides_a_dry_layer() -> None:
    profile = Profile.from_horizons(LOAM)
    full, wilt = float(profile.theta_full[0]), float(profile.theta_wilt[0])
    value = np.array([[full + 0.05, (full + wilt) / 2]])
    kind = InstrumentKind.CAPACITANCE_PROBE
    site = Site.from_readings("P", kind, [100.0, 300.0], [0.0], value, profile)
    alone = root_zone_deficit(profile, [100, 300], value, [600.0])
    seen, observed = seen_by([site])
    assert observed.depletion_mm[0, 1] == pytest.approx(alone.deficit_mm[0])
    assert observed.surplus_mm[0, 1] == pytest.approx(alone.surplus_mm[0])
    # The balance, which counts all water that is there, takes it as on its way down.
    _, net = seen_by([site], nets=True)
    assert net.depletion_mm[0, 1] == pytest.approx(alone.deficit_mm[0] - alone.surplus_mm[0])
    # While it stands there the word is worth less.
    dry, _ = seen_by([probe([0.0], [0.2])])
    assert seen.scatter_mm[0, 1] > dry.scatter_mm[0, 1]


def test_a_block_without_sites_has_no_word() -> None:
    seen, observed = seen_by([])
    assert seen.value_mm.shape == (0, 2)
    assert np.isnan(observed.depletion_mm).all()


def test_the_days_light() -> None:
    assert used_by([0, 6, 13, 20, 24]) == pytest.approx([0, 0, 0.5, 1, 1])
    assert days_used([-24, 0, 24], 13.0) == pytest.approx([-0.5, 0.5, 1.5])


def test_sands_drain_in_a_day_and_clays_in_three() -> None:
    sand, clay = (
        Profile.from_horizons([Horizon(0, 1000, texture=t)])
        for t in (TextureClass.SAND, TextureClass.CLAY)
    )
    assert drain_share([sand, clay]) == pytest.approx([0.9, 1 - 0.1 ** (1 / 3)], abs=0.02)


def test_a_rain_proves_nothing_of_weeks_in_which_nobody_tells_of_sets() -> None:
    rain, word = {5: 160.0}, {60: 15.0}
    told_of = run(told(60, rain, observed=word))
    silent = run(told(60, rain, observed=word, tended=False))
    assert told_of.anchored[0]
    assert told_of.depletion_mm[0, 60] > 50
    assert silent.depletion_mm[0, 60] == pytest.approx(15.0)


def test_a_balance_that_only_dried_out_untold_gives_way_to_the_first_word() -> None:
    """Nobody logged water in a new block: weeks of drying look sure of themselves and are not."""
    taw = float(zones(60).taw_mm[0, 0])
    found = run(told(60, observed={60: 15.0}, start=(0.5 * taw, 0.29 * taw), tended=False))
    assert found.sigma_mm[0, 59] < 0.1 * taw
    assert found.forecast_mm[0, 60] > 0.8 * taw
    assert found.depletion_mm[0, 60] == pytest.approx(15.0)
    assert found.gain[0, 60] == 1
