"""Rules of trust: each finds what it is for, and leaves good readings alone."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.quality.breaks import broken_columns
from core.quality.flags import Flag, doubted, doubting, reasons, rule_book, rule_versions
from core.quality.judge import Sensors, Surroundings, judge
from core.quality.series import Series
from core.quality.water import Water

PROBE, TENSIOMETER = "probe", "tensiometer"
RANGES = {PROBE: (0.0, 0.7), TENSIOMETER: (-5.0, 80.0)}


def sensors(kind: str, count: int, theta_sat: float = 0.45) -> Sensors:
    low, high = RANGES[kind]
    return Sensors(
        instrument=np.zeros(count, np.int64),
        block=np.zeros(count, np.int64),
        is_theta=np.full(count, kind == PROBE),
        is_tension=np.full(count, kind == TENSIOMETER),
        is_tensiometer=np.full(count, kind == TENSIOMETER),
        low=np.full(count, low),
        high=np.full(count, high),
        theta_sat=np.full(count, theta_sat),
        depth_mm=np.full(count, 100.0),
    )


def flags_of(
    hours: np.ndarray,
    value: np.ndarray,
    kind: str = PROBE,
    water: tuple[tuple[float, float], ...] = (),
    serviced: tuple[float, ...] = (),
    soil_c: np.ndarray | None = None,
) -> np.ndarray:
    """Flags of a table of readings, shape (times, sensors); sets as (start, end) hours."""
    table = value if value.ndim == 2 else value[:, None]
    count = table.shape[1]
    series = Series.of(
        np.repeat(np.arange(count), hours.size), np.tile(hours, count), table.T.ravel()
    )
    start, end = np.array([w[0] for w in water]), np.array([w[1] for w in water])
    refill = np.array(serviced, float)
    around = Surroundings(
        water=Water(np.zeros(start.size, np.int64), start, end),
        serviced=Water(np.zeros(refill.size, np.int64), refill, refill),
        local_hour=series.hours % 24,
        soil_c=np.full(series.hours.shape, 12.0) if soil_c is None else np.tile(soil_c, count),
    )
    return judge(series, sensors(kind, count), around).reshape(count, -1).T


HOURS = np.arange(0, 120, 1.0)


def quiet(level: float = 0.25, hours: np.ndarray = HOURS) -> np.ndarray:
    """A drying soil with steps by day, never quite still."""
    steps = 0.0015 * np.clip(np.sin((hours % 24 - 6) / 12 * np.pi), 0, None).cumsum() / 4
    return level - steps + 1e-4 * np.sin(hours * 1.7)


def test_good_readings_are_left_alone() -> None:
    assert not flags_of(HOURS, quiet()).any()
    quarter = np.arange(0, 120, 0.25)
    assert not flags_of(quarter, quiet(0.25, quarter)).any()


def test_range_and_saturation() -> None:
    value = quiet()
    value[[5, 7, 9, 11]] = 0.9, -0.02, 0.57, 0.54
    found = flags_of(HOURS, value)[:, 0]
    assert found[5] & Flag.RANGE
    assert found[7] & Flag.RANGE
    assert found[9] & Flag.OVER_SATURATION
    assert not found[9] & Flag.RANGE
    # Within what a texture and a factory calibration leave open.
    assert not found[11] & Flag.OVER_SATURATION


@pytest.mark.parametrize("off", [0.06, -0.06])
def test_a_spike_and_only_it(off: float) -> None:
    value = quiet()
    value[60] += off
    found = flags_of(HOURS, value)[:, 0]
    assert np.flatnonzero(found & Flag.SPIKE).tolist() == [60]


def test_a_spike_of_two_readings() -> None:
    value = np.full(HOURS.size, 0.2) + 1e-3 * np.sin(HOURS)
    value[60:62] = 0.28
    found = flags_of(HOURS, value)[:, 0]
    assert np.flatnonzero(found & Flag.SPIKE).tolist() == [60, 61]


def test_a_wetting_front_is_no_fault() -> None:
    """A set wets the layer over hours and it drains again."""
    value = quiet(0.22)
    value[50:] += 0.08 * (1 - np.exp(-(HOURS[50:] - 49.5) / 1.5)) * np.exp(-(HOURS[50:] - 50) / 60)
    found = flags_of(HOURS, value, water=((49.0, 56.0),))[:, 0]
    assert not found.any()


def test_a_rise_that_no_water_explains_is_noted_and_still_used() -> None:
    value = quiet(0.22)
    value[50:] += 0.05 * (1 - np.exp(-(HOURS[50:] - 49.5) / 3))
    found = flags_of(HOURS, value)[:, 0]
    assert (found[51:60] & Flag.RISE_WITHOUT_WATER).all()
    assert not doubted(found).any()


def test_a_break_between_quiet_stretches() -> None:
    value = 0.3 + 1e-4 * np.sin(HOURS * 1.3)
    value[60:] -= 0.12
    found = flags_of(HOURS, value)[:, 0]
    assert np.flatnonzero(found & Flag.BREAK).tolist() == [60]
    # The same upward with water is what water does; downward nothing explains it.
    up = value[::-1].copy()
    assert (flags_of(HOURS, up)[:, 0] & Flag.BREAK).any()
    assert not (flags_of(HOURS, up, water=((58.0, 61.0),))[:, 0] & Flag.BREAK).any()
    assert (flags_of(HOURS, value, water=((58.0, 61.0),))[:, 0] & Flag.BREAK).any()


def test_a_fall_to_zero() -> None:
    value = quiet(0.3)
    value[80:] = 0.0
    found = flags_of(HOURS, value)[:, 0]
    assert found[80] & Flag.BREAK


def test_a_flat_line_of_two_days() -> None:
    value = quiet()
    value[-60:] = value[-60]
    found = flags_of(HOURS, value)[:, 0]
    assert (found[-60:] & Flag.FLAT).all()
    assert not (found[:-60] & Flag.FLAT).any()
    # A day of it may happen in a resting soil.
    short = quiet()
    short[-30:] = short[-30]
    assert not (flags_of(HOURS, short)[:, 0] & Flag.FLAT).any()


def test_frozen_soil() -> None:
    soil = np.where(HOURS > 100, -0.5, 3.0)
    found = flags_of(HOURS, quiet(), soil_c=soil)[:, 0]
    assert np.array_equal((found & Flag.FROZEN) != 0, soil < 0)


ROUNDS = np.array([0.0, 24.0, 48.0, 72.0, 95.0, 119.0])
LOST = np.array([40.0, 60.0, 78.0, 4.0, 6.0, 9.0])


def test_a_tensiometer_that_lost_its_column() -> None:
    """Past 70, then near nothing, and no water came (common practice, no source)."""
    found = flags_of(ROUNDS, LOST, TENSIOMETER)[:, 0]
    assert ((found & Flag.BROKEN_COLUMN) != 0).tolist() == [False, False, False, True, True, True]
    # With water in between, a fall is what should happen.
    assert not flags_of(ROUNDS, LOST, TENSIOMETER, water=((60.0, 66.0),)).any()


def test_a_refill_ends_the_doubt() -> None:
    found = flags_of(ROUNDS, LOST, TENSIOMETER, serviced=(96.0,))[:, 0]
    assert ((found & Flag.BROKEN_COLUMN) != 0).tolist() == [False, False, False, True, True, False]


def test_a_tube_that_holds_again_was_refilled_though_nobody_wrote_it() -> None:
    value = np.array([40.0, 60.0, 78.0, 4.0, 25.0, 31.0])
    found = flags_of(ROUNDS, value, TENSIOMETER, water=((80.0, 84.0),))[:, 0]
    assert ((found & Flag.BROKEN_COLUMN) != 0).tolist() == [False] * 3 + [True, False, False]


def test_a_tensiometer_beyond_its_range() -> None:
    found = flags_of(np.array([0.0, 1.0]), np.array([79.0, 84.0]), TENSIOMETER)[:, 0]
    assert found.tolist() == [0, Flag.RANGE]


def test_a_tension_spike() -> None:
    value = 30 + HOURS * 0.05
    value[40] = 75
    found = flags_of(HOURS, value, TENSIOMETER)[:, 0]
    assert np.flatnonzero(found).tolist() == [40]


def test_a_climb_by_night() -> None:
    value = 0.25 - HOURS * 1e-5
    night = (HOURS >= 46) & (HOURS <= 52)
    value[night] += 0.02 * (HOURS[night] - 45) / 7
    value[HOURS > 52] += 0.02
    found = flags_of(HOURS, value)[:, 0]
    flagged = HOURS[(found & Flag.NIGHT_CLIMB) != 0]
    assert flagged.size
    assert flagged.min() >= 46
    assert flagged.max() <= 52
    assert not (flags_of(HOURS, value, water=((40.0, 44.0),))[:, 0] & Flag.NIGHT_CLIMB).any()


def test_a_jump_at_all_depths() -> None:
    value = np.column_stack([quiet(x) for x in (0.2, 0.25, 0.3)])
    value[70:] += 0.05
    found = flags_of(HOURS, value)
    assert (found[70] & Flag.JUMP_AT_ALL_DEPTHS).all()
    assert not (found[:70] & Flag.JUMP_AT_ALL_DEPTHS).any()
    # Two depths out of three are a wetting front.
    value[70:, 2] -= 0.05
    assert not (flags_of(HOURS, value) & Flag.JUMP_AT_ALL_DEPTHS).any()


def test_channels_do_not_speak_for_each_other() -> None:
    """Judged together or alone, flags are the same."""
    spiky, broken, good = quiet(), quiet(0.3), quiet(0.2)
    spiky[60] += 0.06
    broken[70:] = 0.0
    together = flags_of(HOURS, np.column_stack([spiky, broken, good]))
    alone = np.column_stack([flags_of(HOURS, v)[:, 0] for v in (spiky, broken, good)])
    assert np.array_equal(together, alone)


def test_gaps_are_not_bridged() -> None:
    value = quiet()
    value[60] += 0.06
    keep = np.ones(HOURS.size, bool)
    keep[61] = False
    assert not (flags_of(HOURS[keep], value[keep]) & Flag.SPIKE).any()


@given(
    st.lists(st.floats(-1, 2), min_size=1, max_size=80),
    st.lists(st.floats(0.01, 60), min_size=80, max_size=80),
    st.sampled_from([PROBE, TENSIOMETER]),
)
def test_any_series_is_judged(values: list[float], gaps: list[float], kind: str) -> None:
    hours = np.cumsum(np.round(gaps, 3))[: len(values)]
    found = flags_of(hours, np.array(values), kind)
    low, high = RANGES[kind]
    outside = (np.array(values) < low) | (np.array(values) > high)
    assert np.array_equal((found[:, 0] & Flag.RANGE) != 0, outside)


@pytest.mark.parametrize(
    "channel, hours", [([0, 0], [1.0, 1.0]), ([1, 0], [0.0, 0.0]), ([0, 0], [2.0, 1.0])]
)
def test_unsorted_readings_are_refused(channel: list[int], hours: list[float]) -> None:
    with pytest.raises(ValueError, match="sorted"):
        Series.of(channel, hours, [1.0, 2.0])


def test_nothing_is_judged_as_nothing() -> None:
    assert flags_of(np.empty(0), np.empty(0)).size == 0


def test_water_is_its_blocks_own() -> None:
    water = Water(np.array([0, 1, 0]), np.array([5.0, 1.0, 6.0]), np.array([20.0, 2.0, 7.0]))
    block = np.array([0, 0, 0, 1, 2])
    hours = np.array([4.0, 10.0, 23.0, 4.0, 50.0])
    # The long set outlasts the short one that began after it.
    assert water.hours_since(block, hours).tolist() == [np.inf, 0.0, 3.0, 2.0, np.inf]


def test_every_rule_has_its_words_and_source() -> None:
    book = rule_book()
    assert {r.flag for r in book.rules} == set(Flag)
    assert all(r.name and r.meaning and r.likely and r.source for r in book.rules)
    assert book.version == max(rule_versions())
    assert reasons(Flag.NIGHT_CLIMB | Flag.RANGE)[0] == book.of(Flag.RANGE).name
    assert doubting() & Flag.SPIKE
    assert not doubting() & Flag.RISE_WITHOUT_WATER


def test_a_column_of_water_that_breaks_over_hours() -> None:
    """Air may creep in for two hours; the way down is as false as the end of it."""
    hours = np.arange(0, 48, 0.25)
    falling = np.clip(82 - np.maximum(hours - 20, 0) * 40, 0, None)
    found = flags_of(hours, falling, TENSIOMETER)[:, 0] & Flag.BROKEN_COLUMN != 0
    assert not found[hours <= 20.25].any()
    assert found[hours >= 20.5].all()
    # Water explains a fall, and so does a refill.
    for explained in ({"water": ((20.0, 23.0),)}, {"serviced": (20.5,)}):
        flags = flags_of(hours, falling, TENSIOMETER, **explained)
        assert not (flags & Flag.BROKEN_COLUMN).any()
    # A fall over two days is soil that drank, not a column that broke.
    slow = np.clip(82 - np.maximum(hours - 4, 0) * 1.8, 5, None)
    assert not (flags_of(hours, slow, TENSIOMETER) & Flag.BROKEN_COLUMN).any()


def test_noise_of_dry_soil_is_no_spike() -> None:
    """0.004 off 0.02 is a fifth of it, and nothing; 0.03 off is a spike."""
    dry = quiet(0.02)
    small, large = dry.copy(), dry.copy()
    small[60] += 0.004
    large[60] += 0.03
    assert not (flags_of(HOURS, small) & Flag.SPIKE).any()
    assert np.flatnonzero(flags_of(HOURS, large)[:, 0] & Flag.SPIKE).tolist() == [60]


def test_a_tension_that_stands_still_is_doubted_above_ten_kilopascal() -> None:
    for kpa, expected in ((35.0, True), (6.0, False)):
        found = flags_of(HOURS, np.full(HOURS.size, kpa), TENSIOMETER) & Flag.FLAT
        assert found.all() == expected == found.any()
    moves = 35 + 0.1 * np.arange(HOURS.size)
    assert not (flags_of(HOURS, moves, TENSIOMETER) & Flag.FLAT).any()


def test_less_than_a_soil_holds_is_said_so_and_not_called_a_flat_line() -> None:
    floor = flags_of(HOURS, np.zeros(HOURS.size))
    assert (floor & Flag.TOO_DRY).all()
    assert not (floor & Flag.FLAT).any()
    assert doubted(floor).all()
    sand = flags_of(HOURS, quiet(0.03))
    assert not (sand & Flag.TOO_DRY).any()
    below = flags_of(HOURS, np.full(HOURS.size, -0.1))
    assert not (below & Flag.TOO_DRY).any(), "outside the range of the instrument"
    assert (below & Flag.RANGE).all()


def test_a_wetting_front_that_nobody_logged_is_no_break() -> None:
    """Up by 0.08 at one reading: water drains by a fifth within the day, a moved sensor stays."""
    after = np.maximum(HOURS - 60, 0.0)
    step = np.where(HOURS >= 60, 0.08, 0.0)
    level = 0.2 + 0.0005 * np.sin(HOURS / 3.8)
    front = level + step * np.exp(-after / 60)
    assert not (flags_of(HOURS, front) & Flag.BREAK).any()
    moved = flags_of(HOURS, level + step)[:, 0] & Flag.BREAK
    assert np.flatnonzero(moved).tolist() == [60]


def test_water_takes_time_down_to_a_tip() -> None:
    """Eighteen hours after it ended: too long at 10 cm, and just right at 30 cm, a day further."""
    hours = np.arange(0, 48, 0.25)
    falling = np.clip(82 - np.maximum(hours - 20, 0) * 40, 0, None)
    series = Series.of(np.zeros(hours.size, int), hours, falling)
    watered = Water(np.zeros(1, np.int64), np.zeros(1), np.full(1, 2.0))
    since = watered.hours_since(series.channel, series.hours)
    never = np.full(hours.size, np.inf)
    assert broken_columns(series, since, never, np.full(hours.size, 100.0)).any()
    assert not broken_columns(series, since, never, np.full(hours.size, 300.0)).any()
