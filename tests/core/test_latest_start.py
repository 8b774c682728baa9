"""By when the water must come, by hand: 6 percent lost by then, 12 a day on, half when critical."""

import numpy as np
import pytest

from core.advice.latest_start import days_by_loss, days_until_any_short, days_until_worth

SIX = np.array([0.06])
SLOWLY = [0.0, 0.04, 0.08, 0.12, 0.16]
AT_ONCE = [0.0, 0.0, 0.20, 0.40, 0.60]
LOST_NOW = [0.5, 0.0, 0.0, 0.0, 0.0]
NEVER = [0.0, 0.0, 0.0, 0.0, 0.0]
A_LITTLE_FOR_LONG = [0.0, 0.04, 0.04, 0.04, 0.04]


@pytest.mark.parametrize(
    "lost, critical, days",
    [
        # 6 percent half-way through the second day; 12 at the end of the third, a day earlier: 2.
        (SLOWLY, False, 1.5),
        # 3 percent at 0.75, 6 percent at 1.5, a day earlier: 0.5.
        (SLOWLY, True, 0.5),
        # 6 percent at 1.3, 12 percent at 1.6, a day earlier: 0.6.
        (AT_ONCE, False, 0.6),
        # 3 percent at 1.15, 6 percent at 1.3, a day earlier: 0.3.
        (AT_ONCE, True, 0.3),
        (LOST_NOW, False, 0.0),
        (NEVER, True, np.inf),
        # 3 percent at 0.75, 6 percent never.
        (A_LITTLE_FOR_LONG, True, 0.75),
        (A_LITTLE_FOR_LONG, False, np.inf),
    ],
    ids=[
        "slowly",
        "slowly, critical",
        "at once",
        "at once, critical",
        "now",
        "never",
        "a little, critical",
        "a little",
    ],
)
def test_the_latest_start_by_loss(lost: list[float], critical: bool, days: float) -> None:
    found = days_by_loss(np.array([lost]), SIX * (0.5 if critical else 1), np.array([False]))
    assert found == pytest.approx([days])


def test_what_is_lost_now_is_not_lost_on_where_water_is_planned() -> None:
    lost = np.array([LOST_NOW, LOST_NOW])
    found = days_by_loss(lost, np.repeat(SIX, 2), np.array([True, False]))
    assert found == pytest.approx([np.inf, 0.0])
    assert lost[0, 0] == 0.5, "what was asked about is left as it was"


def test_more_may_be_lost_where_a_set_costs_more() -> None:
    """3 and 12 percent of the slow course: after 0.75 days, and after two: 24 percent never."""
    lost = np.array([SLOWLY, SLOWLY])
    no = np.array([False, False])
    found = days_by_loss(lost, np.array([0.03, 0.12]), no)
    assert found == pytest.approx([0.5, 3.0])


@pytest.mark.parametrize(
    "smallest, raw, days",
    [(25.0, 40.0, 1.0), (50.0, 40.0, 3.0), (50.0, 30.0, 2.0), (0.0, 40.0, 0.0)],
    ids=["room for most of a set", "for a large one", "sooner for the crop's sake", "any set"],
)
def test_a_set_waits_for_room_but_not_past_what_the_crop_may_use(
    smallest: float, raw: float, days: float
) -> None:
    """10 mm short and 10 more every day, perhaps 0 to 0 more than that: 20 mm, four fifths of
    25, after a day; 40 after three; 30 mm of RAW after two."""
    course = np.array([[10.0, 20.0, 30.0, 40.0, 50.0]])
    found = days_until_worth(course, np.zeros(1), np.array([smallest]), np.array([raw]))
    assert found == pytest.approx([days])
    sooner = days_until_worth(course, np.array([10.0]), np.array([smallest]), np.array([raw]))
    assert sooner == pytest.approx([max(days - 1, 0.0)])


def test_no_set_is_due_before_the_first_of_the_members_is_below_refill() -> None:
    """Fifty members lose 10 mm a day; the driest has 25 mm, the middle 40: 2.5 days. Twice as far
    apart the driest has 10: one day."""
    start = np.concatenate([[25.0], np.full(49, 40.0)])
    course = (start[:, None] - 10.0 * np.arange(6))[None]
    assert days_until_any_short(course, 1.0) == pytest.approx([2.5])
    assert days_until_any_short(course, 2.0) == pytest.approx([1.0])
