"""Ensembles: readings against the exact filter, priors, levels, water nobody logged."""

from dataclasses import replace

import numpy as np
import pytest

from core.advice.decide import decide
from core.crop.catalogue import crop
from core.estimate import notes as note
from core.estimate.blocks import Ensembles, Grounds
from core.estimate.ensemble import FORCES, GIVEN, LEACHED, SINCE
from core.estimate.ground import (
    BlockGround,
    block_ground,
)
from core.estimate.member import (
    CAME,
    EVAPORATED,
    FACTORS,
    USED,
)
from core.estimate.news import PLATEAUS
from core.estimate.update import take_in
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.state.estimate_from import EstimateFrom
from tests.core.blocks import lived, site


def test_a_reading_corrects_as_the_exact_filter_does() -> None:
    """Two normal figures with correlation 0.8 and a direct reading of the first, against the
    equations of Kalman (1960); an ensemble of 4000 leaves a few percent of sampling."""
    rng = np.random.default_rng(1)
    cov = np.array([[4.0, 2.4], [2.4, 2.25]])
    x = np.ascontiguousarray(rng.multivariate_normal([10.0, 3.0], cov, 4000).T)
    seen = x[0].copy()
    z = take_in(x, 2, seen, 12.0, 1.0, 99.0)
    gain = cov[:, 0] / (cov[0, 0] + 1.0)
    assert x.mean(axis=1) == pytest.approx(np.array([10.0, 3.0]) + gain * 2.0, abs=0.1)
    exact = cov - np.outer(gain, cov[0])
    assert np.cov(x) == pytest.approx(exact, abs=0.12)
    assert z == pytest.approx(2.0 / np.sqrt(5.0), abs=0.05)


def test_what_does_not_hang_together_is_left_alone() -> None:
    rng = np.random.default_rng(2)
    x = rng.standard_normal((3, 100))
    x[1] -= (x[1] @ x[0]) / (x[0] @ x[0]) * x[0]
    before = x[1].copy()
    take_in(x, 3, x[0].copy(), 1.5, 0.5, 3.0)
    assert np.array_equal(x[1], before)


def test_a_reading_far_off_counts_for_less() -> None:
    rng = np.random.default_rng(3)
    near, far = (np.ascontiguousarray(rng.standard_normal((1, 400))) for _ in range(2))
    take_in(near, 1, near[0].copy(), 3.0, 1.0, 3.0)
    take_in(far, 1, far[0].copy(), 30.0, 1.0, 3.0)
    assert near.mean() == pytest.approx(1.5, abs=0.2)
    assert far.mean() < 0.2 * 30


class Field:
    """A block of a loam with three sensors, carried by hand."""

    def __init__(self, tension: bool = False, top_mm: float = 100.0) -> None:
        kind = InstrumentKind.TENSIOMETER if tension else InstrumentKind.CAPACITANCE_PROBE
        profile = Profile.from_horizons([Horizon(0, 1500, texture=TextureClass.LOAM)])
        probe = Site.from_readings("P", kind, [top_mm, 300.0, 500.0], [], np.empty((0, 3)), profile)
        self.ground: BlockGround = block_ground(profile, crop("potato"), [probe])
        self.grounds = Grounds.of([self.ground])
        self.state = Ensembles.begin(self.grounds, [1])

    def carry(
        self,
        reading: np.ndarray,
        given_mm: dict[int, float] | None = None,
        use: float = 4.0,
        at_least: np.ndarray | None = None,
        at_most: np.ndarray | None = None,
    ) -> np.ndarray:
        steps = reading.shape[0]
        force = np.zeros((1, steps, FORCES))
        force[..., 0], force[..., 4:] = 0.5, (600.0, 1500.0, 1.0, 0.12, np.inf, 0.0)
        force[:, 0::2, 1] = use
        wet = np.zeros((1, steps, 2))
        for t, mm in (given_mm or {}).items():
            wet[0, t, 1] = mm
        sd = np.full(reading.shape, 0.015)
        none = np.full(reading.shape, np.nan)
        least = none if at_least is None else at_least
        most = none if at_most is None else at_most
        mornings = np.arange(steps) % 2 == 1
        notes = self.state.carry(
            self.grounds, force, wet, reading[None], sd[None], least[None], most[None], mornings
        )
        result: np.ndarray = notes[0]
        return result

    def settled(self, days: int = 6) -> np.ndarray:
        """Readings that fall as a crop dries the soil."""
        fall = np.linspace(0, 0.004 * days, 2 * days)[:, None]
        return np.array([0.26, 0.27, 0.27]) - fall * np.array([1.2, 1.0, 0.6])


def test_the_same_block_and_days_say_the_same() -> None:
    a, b = Field(), Field()
    assert np.array_equal(a.carry(a.settled()), b.carry(b.settled()))


def test_notes_close_the_balance() -> None:
    f = Field()
    n = f.carry(f.settled(), {4: 20.0})
    moved = n[:, note.GREW] + n[:, note.FLOW + USED] + n[:, note.FLOW + EVAPORATED]
    moved += n[:, note.LEFT] - n[:, note.FLOW + CAME] + n[:, note.CORRECTION]
    assert np.diff(n[:, note.DEPLETION]) == pytest.approx(moved[1:])


def test_water_that_nobody_logged_is_found() -> None:
    f = Field()
    before = f.settled()
    f.carry(before)
    jump = before[-1] + np.array([0.09, 0.07, 0.0])
    n = f.carry(np.array([jump, jump - 0.003]))
    assert n[0, note.UNLOGGED] > 10
    logged = Field()
    logged.carry(before)
    told = logged.carry(np.array([jump, jump - 0.003]), {0: 32.0})
    assert told[0, note.UNLOGGED] == 0
    assert n[-1, note.DEPLETION] == pytest.approx(told[-1, note.DEPLETION], abs=12)


def test_logged_water_that_did_not_come_is_missed() -> None:
    f = Field()
    before = f.settled()
    f.carry(before)
    same = before[-1] - 0.004
    n = f.carry(np.array([same, same - 0.001]), {0: 50.0})
    assert n[0, note.MISSING] == pytest.approx(50.0)
    assert n[-1, note.FLOW + CAME] == 0


def test_a_sensor_near_the_surface_counts_for_less() -> None:
    """At 75 mm its error is four times that at 150 mm: the surface dries and wets of its own."""
    kept = []
    for top in (75.0, 150.0):
        f = Field(top_mm=top)
        base = 3 * f.ground.layers + FACTORS
        before = f.state.members[0, base].std()
        f.carry(np.array([[0.24, np.nan, np.nan]]))
        kept.append(f.state.members[0, base].std() / before)
    assert kept[0] > kept[1] + 0.02


def test_more_wetting_than_was_logged_is_no_other_water() -> None:
    """A set brought more than was written down: its share that arrives is learned, no second one
    is looked for in the same half day."""
    f = Field()
    before = f.settled()
    f.carry(before)
    jump = before[-1] + np.array([0.12, 0.10, 0.08])
    assert f.carry(np.array([jump]), {0: 12.0})[0, note.UNLOGGED] == 0


def test_half_days_since_water_are_counted() -> None:
    f = Field()
    f.carry(f.settled())
    assert f.state.counters[0, SINCE] == f.settled().shape[0]
    f.carry(np.full((3, 3), np.nan), {0: 20.0})
    assert f.state.counters[0, SINCE] == 2


def test_a_little_water_that_does_not_show_is_not_missed() -> None:
    """4 mm stay in the top centimetres: that sensors do not answer says nothing."""
    f = Field()
    before = f.settled()
    f.carry(before)
    drier = before[-1] - np.array([0.05, 0.04, 0.02])
    assert f.carry(np.array([drier]), {0: 4.0})[0, note.MISSING] == 0
    g = Field()
    g.carry(before)
    assert g.carry(np.array([drier]), {0: 40.0})[0, note.MISSING] > 0


def test_silence_of_the_sensors_teaches_nothing() -> None:
    """Without readings the crop's use, the levels and the limits stay as they were believed."""
    f = Field()
    before = f.state.members.copy()
    f.carry(np.full((40, 3), np.nan))
    base = 3 * f.ground.layers
    for v in range(f.ground.layers, base + FACTORS):
        moved = abs(f.state.members[0, v].mean() - before[0, v].mean())
        assert moved < 0.25 * f.ground.prior_sd[v], v


def test_repeated_readings_of_one_spot_do_not_make_it_sure() -> None:
    f = Field()
    n = f.carry(np.tile([0.24, 0.25, 0.26], (120, 1)), use=0.0)
    assert n[-1, note.DEPLETION_SD] > 3.0


def test_as_wet_as_a_sensor_can_tell_lifts_what_is_believed_drier() -> None:
    """Of a soil that is believed wetter than that it tells nothing."""
    silent = np.full((2, 3), np.nan)
    none, wet, drier = Field(), Field(), Field()
    left = none.carry(silent)[-1, note.DEPLETION]
    lifted = wet.carry(silent, at_least=np.full((2, 3), 0.30))
    assert lifted[-1, note.DEPLETION] < left - 10
    assert drier.carry(silent, at_least=np.full((2, 3), 0.10))[-1, note.DEPLETION] == left


def test_as_dry_as_a_sensor_can_tell_lowers_what_is_believed_wetter() -> None:
    """Of a soil that is believed drier than that it tells nothing."""
    silent = np.full((2, 3), np.nan)
    none, dry, wetter = Field(), Field(), Field()
    left = none.carry(silent)[-1, note.DEPLETION]
    lowered = dry.carry(silent, at_most=np.full((2, 3), 0.14))
    assert lowered[-1, note.DEPLETION] > left + 10
    assert wetter.carry(silent, at_most=np.full((2, 3), 0.40))[-1, note.DEPLETION] == left


def test_the_season_sums_what_was_given_and_what_left_the_roots() -> None:
    """80 mm given at once, 300 more later; a season that begins anew begins with nothing."""
    f = Field()
    f.carry(np.full((4, 3), np.nan), {0: 80.0})
    assert f.state.counters[0, GIVEN] == pytest.approx(80)
    left = f.state.counters[0, LEACHED]
    n = f.carry(np.full((6, 3), np.nan), {0: 300.0})
    assert f.state.counters[0, GIVEN] == pytest.approx(380)
    assert f.state.counters[0, LEACHED] == pytest.approx(
        left + np.maximum(n[:, note.LEFT], 0).sum()
    )
    force = np.zeros((1, 2, FORCES))
    force[..., 0], force[..., 4:] = 0.5, (600.0, 1500.0, 1.0, 0.12, np.inf, 0.0)
    force[0, 0, 9] = 1.0
    water, none = np.zeros((1, 2, 2)), np.full((1, 2, 3), np.nan)
    water[0, 1, 1] = 7.0
    f.state.carry(f.grounds, force, water, none, none, none, none, np.array([False, True]))
    assert f.state.counters[0, GIVEN] == pytest.approx(7)


def test_a_level_kept_after_a_wetting_that_went_on_is_full() -> None:
    """20 and 30 cm rise, hold for two mornings, and the next deeper rose too."""
    f = Field()
    base = 3 * f.ground.layers + FACTORS
    dry = np.array([0.20, 0.21, 0.22])
    f.carry(np.tile(dry, (8, 1)), use=0.5)
    spread = f.state.members[0, base].std()
    wet = np.array([0.31, 0.31, 0.31])
    f.carry(np.tile(wet, (6, 1)), {0: 120.0}, use=0.5)
    assert f.state.memory[0, 0, PLATEAUS] >= 1
    assert f.state.members[0, base].mean() == pytest.approx(0.31, abs=0.03)
    assert f.state.members[0, base].std() < spread


def test_a_sensor_put_in_anew_has_its_prior_back() -> None:
    f = Field()
    f.carry(f.settled(10))
    base = 3 * f.ground.layers + FACTORS
    learned = f.state.members[0, base].std()
    renewed = np.zeros((1, 2, 3), bool)
    renewed[0, 0, 0] = True
    force = np.zeros((1, 2, FORCES))
    force[..., 0], force[..., 4:] = 0.5, (600.0, 1500.0, 1.0, 0.12, np.inf, 0.0)
    none = np.full((1, 2, 3), np.nan)
    f.state.carry(
        f.grounds,
        force,
        np.zeros((1, 2, 2)),
        none,
        none,
        none,
        none,
        np.array([False, True]),
        renewed,
    )
    assert f.state.members[0, base].std() > 1.5 * learned
    assert f.state.members[0, base + 1].std() < 1.5 * learned


def test_the_balance_alone_hears_no_reading() -> None:
    a = lived(estimate_from=EstimateFrom.BALANCE)
    b = replace(a, sites=())
    one, two = (decide([x], [x.assumed.season or pytest.fail("no crop")]) for x in (a, b))
    assert one.track.depletion_mm == pytest.approx(two.track.depletion_mm)
    assert np.isnan(one.track.surprise[0])


def test_a_watered_strip_takes_the_whole_grounds_use() -> None:
    """Under a drip line over half of the ground a depth over the whole is twice as much there."""
    a, b = (
        lived(estimate_from=EstimateFrom.BALANCE),
        lived(estimate_from=EstimateFrom.BALANCE, wetted_share=0.5),
    )
    one, two = (decide([x], [x.assumed.season or pytest.fail("no crop")]) for x in (a, b))
    assert two.track.taw_mm[0, -1] == pytest.approx(0.5 * one.track.taw_mm[0, -1], rel=0.05)
    assert two.track.ks[0].min() < one.track.ks[0].min()


def test_weeks_of_drying_that_nobody_watched_give_way_to_the_first_reading() -> None:
    """A new block: nothing logged, nothing read for a month; then the probe reads full."""
    site_full = site(
        [150.0, 350.0], [-24.0, -12.0, -0.2], [[0.29, 0.36]] * 3, InstrumentKind.CAPACITANCE_PROBE
    )
    untold = lived(sites=(site_full,), waterings=())
    d = decide([untold], [untold.assumed.season or pytest.fail("no crop")])
    assert d.track.depletion_mm[0, -3] > 0.6 * d.track.taw_mm[0, -3]
    assert d.track.depletion_mm[0, -1] < 0.3 * d.track.taw_mm[0, -1]
    assert not d.track.known[0, -4]
    assert d.track.known[0, -1]
