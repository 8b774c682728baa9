"""A pass worked by hand: where a machine is, and when its water comes where."""

import pytest

from core.irrigation.passes import Going, Pass, PassProblem, Position


def test_a_pivot_of_four_days_waters_each_part_as_it_passes() -> None:
    """Begun 60 h ago, 96 h to go round, 20 mm: 62.5 % are behind it now. A probe a quarter of
    the way round had its 20 mm 36 h ago, one at three quarters gets them in 12 h."""
    way = Pass(-60, 36, ended=False)
    assert way.place_at(0) == pytest.approx(0.625)
    early, late = way.arrivals(20, [0.25]), way.arrivals(20, [0.75])
    assert [(a.hours, a.depth_mm) for a in early] == [(pytest.approx(-36), pytest.approx(20))]
    assert [(a.hours, a.depth_mm) for a in late] == [(pytest.approx(12), pytest.approx(20))]


def test_where_no_place_is_known_the_blocks_mean_grows_piece_by_piece() -> None:
    """96 h in pieces of 6 h: 16 of 20 / 16 mm; ten are over after 60 h."""
    pieces = Pass(-60, 36, ended=False).arrivals(20)
    assert [a.depth_mm for a in pieces] == pytest.approx([1.25] * 16)
    assert sum(a.depth_mm for a in pieces if a.hours <= 0) == pytest.approx(12.5)
    assert pieces[-1].hours == pytest.approx(36)
    short = Pass(-5, -1).arrivals(8)
    assert [(a.hours, a.depth_mm) for a in short] == [(pytest.approx(-1), 8)]


def test_two_probes_share_what_is_credited() -> None:
    both = Pass(-10, -2).arrivals(12, [0.25, 0.75])
    assert [(a.hours, a.depth_mm) for a in both] == [
        (pytest.approx(-8), 6),
        (pytest.approx(-4), 6),
    ]


def test_a_slower_stretch_gets_more() -> None:
    """Half of the way in the first 6 of 18 h, the other half in 12: a third of the water falls on
    the first half, 6 of 18 mm, so 12 mm on each place of it; and 24 mm on the other."""
    way = Pass(-18, 0, seen=(Position(-12, 0.5),))
    assert way.arrivals(18, [0.25])[0].depth_mm == pytest.approx(12)
    assert way.arrivals(18, [0.75])[0].depth_mm == pytest.approx(24)
    assert way.arrivals(18, [0.25])[0].hours == pytest.approx(-15)


def test_while_it_stands_no_water_falls() -> None:
    """Stopped at 40 % for 10 h, then on: 4 h and 6 h of moving for 15 mm, even on all places."""
    way = Pass(-20, 0, seen=(Position(-16, 0.4, Going.STOPPED), Position(-6, 0.4)))
    assert [a.depth_mm for a in way.arrivals(15, [0.2])] == pytest.approx([15])
    last = way.arrivals(15, [0.9])
    assert [(a.hours, a.depth_mm) for a in last] == [(pytest.approx(-1), pytest.approx(15))]
    assert way.place_at(-10) == pytest.approx(0.4)


def test_a_place_that_is_passed_twice_gets_water_twice() -> None:
    """To 60 %, back to 20 %, then to the end: 0.6 + 0.4 + 0.8 of the way in 18 h at one speed,
    18 mm: 10 mm at each crossing."""
    seen = (Position(-12, 0.6, Going.BACK), Position(-8, 0.2))
    way = Pass(-18, 0, seen=seen)
    met = way.arrivals(18, [0.4])
    assert [a.hours for a in met] == pytest.approx([-14, -10, -6])
    assert [a.depth_mm for a in met] == pytest.approx([10, 10, 10])
    assert [a.hours for a in way.arrivals(18, [0.1])] == pytest.approx([-17])
    # Where it turns it is met once.
    assert len(way.arrivals(18, [0.6])) == 2


def test_what_was_seen_last_tells_when_it_ends() -> None:
    """Meant to take 24 h; seen at a quarter after 12 h, it takes 18 more at its usual speed."""
    slow = Pass(-12, 12, seen=(Position(0, 0.25),), ended=False)
    assert slow.expected_end_hours == pytest.approx(18)
    stopped = Pass(-12, 12, seen=(Position(0, 0.25, Going.STOPPED),), ended=False)
    assert stopped.place_at(10) == pytest.approx(0.25)
    assert stopped.arrivals(10, [0.5]) == ()
    back = Pass(-12, 12, seen=(Position(0, 0.25, Going.BACK),), ended=False)
    assert back.expected_end_hours == pytest.approx(6)
    assert back.place_at(6) == pytest.approx(0)


def test_a_pass_back_begins_at_the_far_end() -> None:
    way = Pass(-10, 0, first=1.0, last=0.0)
    assert way.place_at(-8) == pytest.approx(0.8)
    assert way.arrivals(10, [0.8])[0].hours == pytest.approx(-8)
    assert way.arrivals(10, [1.0])[0].hours == pytest.approx(-10)
    assert way.arrivals(10, [0.0])[0].hours == pytest.approx(0)


def test_a_part_of_the_block_has_all_of_the_water() -> None:
    """A quarter of a block watered, 5 mm over all of it: 20 mm on its part, none elsewhere."""
    part = Pass(-8, -2, first=0.5, last=0.75)
    assert part.arrivals(5, [0.6])[0].depth_mm == pytest.approx(20)
    assert part.arrivals(5, [0.2]) == ()


@pytest.mark.parametrize(
    ("figures", "field"),
    [
        ({"first": -0.1}, "place_from"),
        ({"last": 1.2}, "place_to"),
        ({"first": 0.4, "last": 0.4}, "place_to"),
        ({"seen": (Position(-20, 0.1),)}, "positions"),
        ({"seen": (Position(-3, 0.5), Position(-4, 0.6))}, "positions"),
        ({"seen": (Position(-3, 1.5),)}, "positions"),
        ({"end_hours": -12}, "ended_at"),
    ],
    ids=["before", "beyond", "nowhere", "too early", "out of order", "off the block", "no time"],
)
def test_passes_that_can_not_be(figures: dict, field: str) -> None:
    with pytest.raises(PassProblem) as refused:
        Pass(**{"start_hours": -10, "end_hours": 0, **figures})
    assert refused.value.field == field
