import numpy as np
import pytest

from core.siting.temporal_stability import read_enough, temporal_stability

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


def test_a_silent_site_takes_no_days_from_the_others():
    silent = np.full(10, np.nan)
    silent[:4] = 30.0
    half = np.where(np.arange(10) < 5, 30.0, np.nan)
    assert read_enough(np.vstack([STORE, silent, half])).tolist() == [True, True, True, False, True]
    assert read_enough(np.full((2, 3), np.nan)).tolist() == [False, False]
