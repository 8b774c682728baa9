"""A season's water shared by what a millimetre is worth, worked by hand."""

import numpy as np
import pytest

from core.plan.season_water import STEP_MM, SeasonNeed, share_season


def two_blocks(need_mm: list[list[list[float]]] | None = None) -> SeasonNeed:
    """Potato (Ky 1.1, 12,000 a hectare, 500 mm) and maize (1.25, 2,000, 600 mm), a hectare each, in
    one week: 26.4 and 4.17 for each mm; 10 m3 for a mm net, of drip; 12.5 under sprinklers."""
    return SeasonNeed(
        np.array(need_mm or [[[40.0], [60.0]]]),
        np.array([[1.1 * 12_000 / 500], [1.25 * 2_000 / 600]]),
        np.array([10.0, 12.5]),
    )


def test_the_dearer_mm_first() -> None:
    """400 m3 are all of the potato's 40 mm; of 900 m3 the maize gets 40 of its 60 mm, and the next
    m3 is worth 4.17 / 12.5."""
    shares = share_season(two_blocks(), 400.0)
    assert shares.net_mm.ravel().tolist() == [40.0, 0.0]
    shares = share_season(two_blocks(), 900.0)
    assert shares.net_mm.ravel().tolist() == [40.0, 40.0]
    assert shares.price_m3 == pytest.approx(4.1667 / 12.5, rel=1e-4)
    assert shares.lacking_mm.tolist() == [0.0, 20.0]
    assert shares.left_m3.tolist() == [0.0]


def test_enough_is_worth_nothing_more() -> None:
    """1,150 m3 are needed; 350 are left."""
    shares = share_season(two_blocks(), 1500.0)
    assert shares.price_m3 == 0.0
    assert shares.left_m3 == pytest.approx([350.0])


def test_the_stage_that_suffers_most() -> None:
    """One block, two weeks: flowering (Ky 0.9) before ripening (0.2)."""
    need = SeasonNeed(
        np.array([[[30.0, 30.0]]]), np.array([[0.2 * 20, 0.9 * 20]]), np.array([10.0])
    )
    assert share_season(need, 400.0).net_mm.tolist() == [[10.0, 30.0]]


def test_what_rain_may_bring_is_worth_less() -> None:
    """The potato's last 20 mm are needed by one member of four alone: 26.4 / 4 = 6.6 for each mm,
    0.66 for each m3, still above the maize's 0.33; by one of ten 0.26, below it."""
    four = [[[40.0], [60.0]], *[[[20.0], [60.0]]] * 3]
    assert share_season(two_blocks(four), 400.0).net_mm.ravel().tolist() == [40.0, 0.0]
    ten = [[[40.0], [60.0]], *[[[20.0], [60.0]]] * 9]
    shares = share_season(two_blocks(ten), 450.0)
    assert shares.net_mm.ravel().tolist() == [20.0, 20.0]
    assert shares.left_m3 == pytest.approx([0.0] * 10)
    # With all of it: nine members leave the last 20 mm of the potato.
    assert share_season(two_blocks(ten), 1150.0).left_m3 == pytest.approx([0.0] + [200.0] * 9)


def test_no_other_way_is_worth_more() -> None:
    """Beside every way of sharing three steps over two blocks and two weeks."""
    rng = np.random.default_rng(3)
    for _ in range(20):
        need = SeasonNeed(
            rng.uniform(0, 20, (5, 2, 2)), rng.uniform(1, 9, (2, 2)), np.array([10.0, 10.0])
        )
        total = 3 * STEP_MM * 10.0

        def worth(net: np.ndarray, need: SeasonNeed = need) -> float:
            return float((np.minimum(need.need_mm, net).mean(axis=0) * need.value_mm).sum())

        ways = [
            STEP_MM * np.array([[a, b], [c, d]])
            for a in range(4)
            for b in range(4)
            for c in range(4)
            for d in range(4)
            if a + b + c + d <= 3
        ]
        best = max(worth(w) for w in ways)
        assert worth(share_season(need, total).net_mm) == pytest.approx(best)


def test_no_water_and_no_need() -> None:
    assert share_season(two_blocks(), 0.0).net_mm.sum() == 0.0
    none = share_season(two_blocks([[[0.0], [0.0]]]), 100.0)
    assert (none.net_mm.sum(), none.price_m3, none.left_m3.tolist()) == (0.0, 0.0, [100.0])
