"""Half a day of an ensemble's members, by hand: water in, drained, used, evaporated, exchanged."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.estimate.member import (
    CAME,
    DRAINED,
    EVAPORATED,
    FACTORS,
    FLOWS,
    LOSS,
    USED,
    WANTED,
    above_full,
    half_day,
    natural,
    root_weights,
    stores,
)

EDGE = np.array([0.0, 100.0, 400.0])
SCALE = np.array([0.15, 0.15])
WILT = 0.12
# Nothing holds water up; room for 0.1 above full, full 0.27 with b = 5, drained at 8 kPa.
FREE = np.array([[np.inf, 0.10, 0.27, 0.2, 8.0]] * 2)

# A drainage length so short that below full nothing drains.
STILL = {"drainage": 1e-5}


def member(content: list[float], **factors: float) -> np.ndarray:
    """One member of two layers: 0.15 available, half of it borne, plain factors."""
    values = {
        "drainage": 0.02,
        "use": 1.0,
        "arrives": 1.0,
        "rain": 1.0,
        "roots": 1.0,
        "evaporation": 1.0,
        "exchange": 1e-9,
        "shape": 1.0,
        "compensation": 1.0,
        **factors,
    }
    logs = np.log([0.15, 0.15, 0.5, 0.5, *values.values()])
    return np.concatenate([content, logs])[:, None]


def step(
    x: np.ndarray,
    rain: float = 0.0,
    given_mm: float = 0.0,
    extra: float = 0.0,
    demand_share: float = 1.0,
    table: float = np.inf,
    hold: np.ndarray = FREE,
    **force: float,
) -> np.ndarray:
    """Pass a step without noise; what moved."""
    names = {"days": 0.5, "use": 0.0, "bare": 0.0, "rise": 0.0, "root": 400.0, "limit": 900.0}
    of = np.array([*{**names, **force}.values(), 1.0, 0.12, table, 0.0])
    nat = np.empty((4 + FACTORS, 1))
    natural(x, 2, nat)
    weights, totals = np.zeros((2, 1)), np.empty((FLOWS, 1))
    root_weights(EDGE, 2, of[4], of[5], nat, weights)
    noise = np.zeros((5, 1))
    demand, fell, more = np.array([demand_share]), np.array([rain]), np.array([extra])
    half_day(
        x, nat, 2, EDGE, SCALE, hold, WILT, of, demand, fell, given_mm, more, noise, weights, totals
    )
    return totals[:, 0]


def water(x: np.ndarray) -> float:
    return float((x[:2, 0] * np.diff(EDGE)).sum())


def test_at_full_a_layer_loses_a_millimetre_a_day() -> None:
    """-0.02 ln(1 + 0.5 / (0.02 x 300)) x 300 = 0.48 mm in half a day, falling off."""
    x = member([-0.2, 0.0])
    moved = step(x)
    assert moved[DRAINED] == pytest.approx(0.02 * 300 * np.log1p(0.5 / (0.02 * 300)))
    assert x[0, 0] == pytest.approx(-0.2), "far below full nothing drains"


def test_use_is_drawn_from_where_roots_are_and_slows_past_what_the_crop_bears() -> None:
    """Roots to 400 mm evenly: 1/4 and 3/4. Above half of the available nothing slows it; at
    e = -0.1125 a quarter of it is left, half of what is borne: Ks of that layer is 0.5."""
    x = member([-0.07, -0.07], **STILL)
    moved = step(x, use=4.0)
    assert moved[USED] == pytest.approx(4.0)
    assert x[:2, 0] == pytest.approx([-0.07 - 1.0 / 100, -0.07 - 3.0 / 300])
    y = member([-0.07, -0.1125], **STILL)
    moved = step(y, use=4.0)
    ks = 0.25 * 1 + 0.75 * 0.5
    assert moved[USED] == pytest.approx(4.0 * ks)
    assert moved[LOSS] / moved[WANTED] == pytest.approx(1 - ks)


def test_a_wet_part_makes_up_for_a_dry_one() -> None:
    """a = 0.625; up to 1.25 times of it is drawn: Ks 0.78."""
    moved = step(member([-0.07, -0.1125], compensation=1.25, **STILL), use=4.0)
    assert moved[USED] == pytest.approx(4.0 * 0.625 * 1.25)


def test_evaporation_takes_the_top_alone_and_slows() -> None:
    """It holds 0.15 + 0.06; six tenths of that still evaporate freely: at -0.147 half does."""
    x = member([-0.02, -0.1], **STILL)
    assert step(x, bare=3.0)[EVAPORATED] == pytest.approx(3.0)
    assert x[:2, 0] == pytest.approx([-0.05, -0.1])
    assert step(member([-0.147, -0.1]), bare=3.0)[EVAPORATED] == pytest.approx(1.5)


def test_factors_scale_what_they_are_of() -> None:
    assert step(member([-0.2, -0.2], arrives=0.8), given_mm=10.0)[CAME] == pytest.approx(8.0)
    assert step(member([-0.2, -0.2], arrives=0.8), given_mm=10.0, extra=-5.0)[
        CAME
    ] == pytest.approx(4.0)
    assert step(member([-0.2, -0.2], rain=1.2), rain=10.0)[CAME] == pytest.approx(12.0)
    assert step(member([-0.05, -0.05], use=0.9), use=4.0)[USED] == pytest.approx(3.6)
    assert step(member([-0.02, -0.1], evaporation=0.5), bare=3.0)[EVAPORATED] == pytest.approx(1.5)


def test_capillary_rise_enters_from_below() -> None:
    x = member([-0.1, -0.1])
    assert step(x, rise=3.0)[CAME] == pytest.approx(3.0)
    assert x[:2, 0] == pytest.approx([-0.1, -0.1 + 3.0 / 300])


def test_layers_exchange_towards_the_same_share_of_what_they_hold() -> None:
    """2000 mm2/day over half a day and 200 mm between the middles of 100 and 300 mm:
    0.05 of the difference, slowed by exp(2.5 x mean share below full)."""
    x = member([-0.03, -0.09], exchange=2000.0, **STILL)
    before = water(x)
    step(x)
    slow = np.exp(2.5 * 0.5 * (-0.03 - 0.09) / 0.15)
    assert x[0, 0] == pytest.approx(-0.03 - 0.05 * slow * 0.06)
    assert water(x) == pytest.approx(before)


@given(
    st.lists(st.floats(-0.15, 0.1), min_size=2, max_size=2),
    st.floats(0, 80),
    st.floats(0, 60),
    st.floats(0, 8),
    st.floats(0, 6),
    st.floats(0, 3),
)
def test_no_water_is_made_or_lost(
    content: list[float], rain: float, given_mm: float, use: float, bare: float, rise: float
) -> None:
    x = member(content, exchange=4000.0)
    before = water(x)
    moved = step(x, rain, given_mm, use=use, bare=bare, rise=rise)
    left = moved[USED] + moved[EVAPORATED] + moved[DRAINED]
    assert water(x) == pytest.approx(before + moved[CAME] - left, abs=1e-9)
    assert np.isfinite(x).all()


def test_stores_of_the_roots() -> None:
    """Roots to 250 mm: 100 mm of the first layer, 150 of the second. RAW reaches to where
    transpiration falls below 97 percent."""
    x, nat, out = member([-0.02, -0.05]), np.empty((4 + FACTORS, 1)), np.empty((3, 1))
    natural(x, 2, nat)
    stores(x, nat, 2, EDGE, 250.0, 900.0, 1.0, out)
    assert out[:, 0] == pytest.approx([0.02 * 100 + 0.05 * 150, 37.5, 37.5 * (1 - 0.5 * 0.97)])
    stores(x, nat, 2, EDGE, 250.0, 150.0, 1.0, out)
    assert out[1, 0] == pytest.approx(0.15 * 150), "roots end where they can't pass"
    stores(x, nat, 2, EDGE, 250.0, 900.0, 0.8, out)
    assert out[2, 0] == pytest.approx(37.5 * (1 - 0.6 * 0.97)), "a hot day bears less"


def test_a_rise_enters_where_the_roots_end() -> None:
    """Roots to 80 mm: 3 mm into the upper 100; to 250 mm: into the lower 300."""
    shallow, deep = member([-0.1, -0.1], **STILL), member([-0.1, -0.1], **STILL)
    step(shallow, rise=3.0, root=80.0)
    step(deep, rise=3.0, root=250.0)
    assert shallow[:2, 0] == pytest.approx([-0.1 + 3.0 / 100, -0.1])
    assert deep[:2, 0] == pytest.approx([-0.1, -0.1 + 3.0 / 300])


def test_where_hard_ground_stops_the_roots_a_rise_ends() -> None:
    x = member([-0.1, -0.1], **STILL)
    step(x, rise=3.0, root=400.0, limit=90.0)
    assert x[:2, 0] == pytest.approx([-0.1 + 3.0 / 100, -0.1])


def test_more_sun_asks_for_more() -> None:
    """Twice the demand: twice the use and twice the evaporation, while nothing is short."""
    one, two = (
        step(member([-0.01, -0.01], **STILL), use=2.0, bare=0.5, demand_share=d) for d in (1.0, 2.0)
    )
    assert two[USED] == pytest.approx(2 * one[USED])
    assert two[EVAPORATED] == pytest.approx(2 * one[EVAPORATED], rel=0.02)


def held(*most_mm_day: float) -> np.ndarray:
    """Layers that let so much out in a day."""
    out = FREE.copy()
    out[:, 0] = most_mm_day
    return out


def test_a_pan_lets_through_what_it_conducts() -> None:
    """2.4 mm/day below the second layer: 1.2 mm in half a day, the rest stays above it."""
    x = member([0.05, 0.05])
    before = water(x)
    moved = step(x, hold=held(np.inf, 2.4))
    assert moved[DRAINED] == pytest.approx(1.2)
    assert before - water(x) == pytest.approx(1.2)
    free = member([0.05, 0.05])
    assert step(free)[DRAINED] > 5


def test_a_slow_layer_takes_no_more_than_it_conducts() -> None:
    """10 mm/day into the second: of 20 mm given to a full top 5 mm enter it."""
    x = member([0.0, -0.1], **STILL)
    step(x, given_mm=20.0, hold=held(10.0, np.inf))
    assert (x[1, 0] + 0.1) * 300 == pytest.approx(5.0)


def test_what_the_pores_do_not_hold_backs_up_and_runs_off() -> None:
    """Two full layers have room for 30 and 10 mm. Of 60 mm none can leave: 20 mm run off."""
    x = member([0.0, 0.0])
    moved = step(x, given_mm=60.0, hold=held(np.inf, 0.0))
    assert x[:2, 0] == pytest.approx([0.10, 0.10])
    assert moved[CAME] == pytest.approx(40.0)
    assert moved[DRAINED] == 0


def test_over_a_table_soil_stays_wetter_than_full() -> None:
    """50 mm below the surface, table at 450 mm: 400 mm are 3.924 kPa;
    0.27 x ((8 / 3.924) ^ 0.2 - 1) = 0.0414. A table 2 m down holds nothing: 19.1 kPa."""
    over = above_full(50.0, 450.0, FREE[0])
    assert over == pytest.approx(0.0414, abs=2e-4)
    assert above_full(50.0, 2000.0, FREE[0]) == 0
    assert above_full(50.0, np.inf, FREE[0]) == 0
    # Where it stands in the layer the pores are full.
    assert above_full(250.0, 250.0, FREE[0]) == 0.10
    x = member([0.08, 0.0])
    step(x, table=450.0)
    assert x[0, 0] >= 0.0414 - 2e-4
    # What is not there is not made up for.
    dry = member([-0.05, -0.05], **STILL)
    step(dry, table=450.0)
    assert dry[0, 0] == pytest.approx(-0.05)


def test_below_the_roots_soil_stands_in_balance_with_the_table() -> None:
    """Roots of 80 mm; the middle of the second layer lies 150 mm over a table at 400 mm."""
    x = member([-0.05, -0.05], **STILL)
    step(x, table=400.0, root=80.0)
    assert x[1, 0] == pytest.approx(above_full(250.0, 400.0, FREE[1]))
    assert x[0, 0] == pytest.approx(-0.05)


def test_only_what_is_held_up_backs_up() -> None:
    """A top that drains freely may stand above its room for a while; what is held below has room
    of its own."""
    hold = held(np.inf, 0.0)
    hold[0, 1] = 0.005
    x = member([0.05, 0.0])
    before = water(x)
    moved = step(x, hold=hold)
    assert x[0, 0] > 0.005
    assert moved[CAME] == 0
    assert water(x) == pytest.approx(before)
