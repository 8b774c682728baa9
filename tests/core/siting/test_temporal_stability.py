import numpy as np
import pytest

from core.siting.temporal_stability import read_together, temporal_stability

# Five days of one kind and five of another; the mean of all is 30 on each.
STORE = np.array([[20.0] * 5 + [22.0] * 5, [30.0] * 10, [40.0] * 5 + [38.0] * 5])


def test_a_table_worked_by_hand_by_the_formulas_of_vachaud():
    """Relative differences of the first site are -1/3 and -4/15: their mean is -0.3, and their
    standard deviation over the ten days 1/30 * sqrt(10/9)."""
    found = temporal_stability(STORE)
    assert found.difference == pytest.approx([-0.3, 0, 0.3])
    assert found.spread == pytest.approx([0.0351364, 0, 0.0351364], rel=1e-5)
    assert found.index == pytest.approx([0.3020507, 0, 0.3020507], rel=1e-5)
    assert found.order.tolist() == [0, 1, 2]
    assert found.times == 10


def test_only_days_on_which_all_were_read_count():
    gaps = np.hstack([STORE, [[99.0, 99.0], [np.nan, 1.0], [1.0, np.nan]]])
    assert temporal_stability(gaps).times == 10
    assert temporal_stability(gaps).difference == pytest.approx([-0.3, 0, 0.3])


@pytest.mark.parametrize("store", [STORE[:2], STORE[:, :9], np.empty((0, 0))])
def test_too_little_tells_nothing(store):
    assert temporal_stability(store) is None


def test_sites_join_while_half_of_the_days_are_left():
    """By hand: of 40 days one was read on the first 25, one on the last 24. With the first 25 are
    left, with both 9, fewer than half."""
    days = np.arange(40)
    rows = [days >= 16, days < 25, days >= 0, days < 0, days < 20]
    store = np.where(np.array(rows), 30.0, np.nan)
    assert read_together(store).tolist() == [False, True, True, False, True]


def test_no_fewer_than_ten_days_are_left():
    days = np.arange(12)
    store = np.where(np.array([days >= 0, days < 10, days < 9]), 30.0, np.nan)
    assert read_together(store).tolist() == [True, True, False]
    assert read_together(store[2:]).tolist() == [False]
    assert read_together(np.full((2, 3), np.nan)).tolist() == [False, False]
