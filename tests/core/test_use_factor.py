"""The crop's use over the stated one, worked by hand; on simulated fields see docs/events.md."""

import numpy as np
import pytest

from core.learned.uptake import UptakeDays
from core.learned.use_factor import OWN_SIGMA, UseFit, use_factor


def days(share: list[float], gone: float = 0.2) -> UptakeDays:
    n = len(share)
    full = np.full(n, 1.0)
    return UptakeDays(np.arange(n) * 24.0, full * gone, np.array(share), full * 5, full * 80)


def test_the_middle_of_eight_days() -> None:
    """Half of them 1.2 and half 1.3: 1.25; of days all alike the range is the method's own."""
    found = use_factor([days([1.2] * 4 + [1.3] * 4)], 0.5)
    assert found is not None
    assert (found.days, found.share) == (8, pytest.approx(1.25))
    alike = use_factor([days([1.2] * 8)], 0.5)
    assert alike is not None
    assert alike.high - 1.2 == pytest.approx(1.28 * OWN_SIGMA)
    assert alike.high - alike.low < found.high - found.low


def test_days_short_of_water_tell_nothing() -> None:
    assert use_factor([days([1.0] * 20, gone=0.51)], 0.5) is None
    assert use_factor([days([1.0] * 20, gone=0.5)], 0.5) is not None
    assert use_factor([days([1.0] * 7)], 0.5) is None
    assert use_factor([], 0.5) is None


def test_sites_count_alike_and_make_each_other_surer() -> None:
    """1.0 and 1.2 are 1.1, whichever has more days; two are by the root of two surer than one."""
    both = use_factor([days([1.0] * 8), days([1.2] * 30), days([9.0] * 3)], 0.5)
    assert both is not None
    assert (both.days, both.share) == (8, pytest.approx(1.1))
    assert both.high - both.share == pytest.approx(1.28 * OWN_SIGMA / np.sqrt(2))


@pytest.mark.parametrize(
    ("share", "adoptable"),
    [
        (1.08, True),
        (1.07, False),
        (0.83, False),
        (0.82, True),
        (1.6, True),
        (1.61, False),
        (0.6, True),
        (0.59, False),
    ],
)
def test_what_is_worth_adopting(share: float, adoptable: bool) -> None:
    """The range is 0.077 to either side: above 1 at 1.08; below, a tenth is evaporation. No crop
    takes more than 1.6 or less than 0.6 of its Kc."""
    found = use_factor([days([share] * 8)], 0.5)
    assert found is not None
    assert (found.fit is UseFit.DIFFERS) is adoptable
