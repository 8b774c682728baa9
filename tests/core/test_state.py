"""Balance and sensors weighed: gains, offsets, unknowns, and what a wetting settles."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.soil.drainage import drain_share
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.profiles import Profiles
from core.soil.texture import TextureClass
from core.state.by_sensors import Heard, by_sensors
from core.state.daylight import days_used, used_by
from core.state.observe import Observed, SitesOfBlocks, SitesSeen, by_block, newest_before, see
from core.state.track import Track
from core.state.water_given import WaterGiven
from core.state.zones import RootZones
from core.store.deficit import root_zone_deficit
from core.store.layers import Layers

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
        most_drained_mm=np.full(shape, np.inf),
        held_mm=np.zeros(shape),
    )


def heard(
    days: int, water: dict[int, float] | None = None, observed: dict[int, float] | None = None
) -> Heard:
    wet, seen = np.zeros((1, days)), np.full((1, days + 1), np.nan)
    for d, mm in (water or {}).items():
        wet[0, d] = mm
    for d, mm in (observed or {}).items():
        seen[0, d] = mm
    return Heard(
        water_in_mm=wet,
        etc_mm=np.full((1, days), 5.0),
        bare_mm=np.zeros((1, days)),
        observed_mm=seen,
        observed_sigma_mm=np.where(np.isnan(seen), np.nan, 2.0),
        offset_sigma_mm=np.array([8.0]),
        below_mm=np.full((1, days + 1), np.nan),
    )


def run(h: Heard) -> Track:
    return by_sensors(zones(h.water_in_mm.shape[1]), h)


def test_where_the_sensors_lead_their_word_is_the_state() -> None:
    found = run(heard(4, observed={1: 80.0, 3: 10.0}))
    assert found.depletion_mm[0, [1, 3]] == pytest.approx([80, 10])
    assert found.sigma_mm[0, 1] == pytest.approx(np.hypot(2, 8))
    assert found.known[0].tolist() == [False, True, True, True, True]
    # What moved is what is shown, and silence moves nothing.
    moved = found.depletion_mm[0] - found.forecast_mm[0]
    assert found.correction_mm[0] == pytest.approx(moved)
    assert found.correction_mm[0, [2, 4]] == pytest.approx([0, 0])


def test_use_carries_it_on_and_doubt_grows() -> None:
    """80 mm short of 120 with 60 allowable: Ks is 2/3, so the day uses 3.33 mm."""
    found = run(heard(2, observed={0: 80.0}))
    assert found.depletion_mm[0, 1] == pytest.approx(80 + 5 * 2 / 3)
    assert found.sigma_mm[0, 1] == pytest.approx(np.hypot(np.hypot(2, 8), 0.2 * 5 * 2 / 3))


def test_a_drier_word_than_can_be_is_kept_at_wilting() -> None:
    assert run(heard(1, observed={0: 400.0})).depletion_mm[0, 0] == pytest.approx(TAW)


@given(
    st.lists(st.floats(0, 120), min_size=3, max_size=12),
    st.lists(st.one_of(st.none(), st.floats(-30, 120)), min_size=12, max_size=12),
)
def test_nothing_ever_breaks_the_track(water: list[float], seen: list[float | None]) -> None:
    """And depletion rises by what was used and drained, less what came, plus the correction."""
    n = len(water)
    spoken = {d: v for d, v in enumerate(seen[: n + 1]) if v is not None}
    found = run(heard(n, dict(enumerate(water)), spoken))
    assert np.isfinite(found.depletion_mm).all()
    assert np.all(found.depletion_mm <= TAW + 1e-9)
    change = np.diff(found.depletion_mm[0])
    flows = found.et_mm + found.drained_mm + found.runoff_mm + found.grew_mm - found.water_in_mm
    assert change == pytest.approx(flows[0] + found.correction_mm[0, 1:], abs=1e-9)


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
    found = Layers(Profiles.of(profiles), depth, theta).down_to(root)
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
        given=WaterGiven.of((0, h, net, False) for h, net in given_mm or []),
        wetted_share=np.ones(1),
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


def test_a_block_without_sites_has_no_reading() -> None:
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
    shares = [drain_share(p) for p in (sand, clay)]
    assert shares == pytest.approx([0.9, 1 - 0.1 ** (1 / 3)], abs=0.02)


def test_a_borrowed_site_lies_twice_as_far_off() -> None:
    """Apart from what no sensor sees: its kind's spread, and twice that where it is borrowed."""
    own = probe([-30.0, -6.0], [0.2, 0.2])
    seen, observed = seen_by([own])
    lent, other = seen_by([replace(own, borrowed=True)])
    assert lent.value_mm == pytest.approx(seen.value_mm, nan_ok=True)
    unseen = 0.03 * seen.unseen_mm
    alone = np.sqrt(seen.own_sigma_mm**2 - unseen**2)
    doubled = np.sqrt(lent.own_sigma_mm**2 - unseen**2)
    assert doubled == pytest.approx(2 * alone, nan_ok=True)
    assert other.offset_sigma_mm[0] > observed.offset_sigma_mm[0]
