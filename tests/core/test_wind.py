"""Wind by the hour against a block's limit, by hand."""

from dataclasses import replace

import numpy as np

from core.plan.make_plan import PlannedSet
from core.plan.plan_block import PlanBlock
from core.plan.reasons import WeatherKind, block_reason
from core.plan.sheet import SheetRule, broken_rules
from core.plan.slots import SLOTS
from core.plan.wind import slot_wind, windy_slots
from core.world.wind import simulate_wind
from tests.core.test_plan_reasons import block, shared_with


def test_the_strongest_hour_of_a_slot_counts() -> None:
    found = slot_wind(np.array([1.0, 4.6, 3.0, 2.0]), 0.0)
    assert found[:2].tolist() == [4.6, 3.0]
    assert np.isnan(found[2:]).all()
    assert found.shape == (SLOTS,)


def test_hours_before_the_plan_are_left_out_and_its_own_come_later() -> None:
    # Issued three hours before midnight: the fourth hour is the plan's first.
    found = slot_wind(np.array([9.0, 9.0, 9.0, 1.0, 2.0, 5.0]), -3.0)
    assert found[:2].tolist() == [2.0, 5.0]
    assert slot_wind(np.array([7.0]), 5.0)[:3].tolist()[2] == 7.0
    assert np.isnan(slot_wind(np.array([7.0]), 24.0 * 10)).all()


def test_an_hour_of_which_nothing_is_known_hides_no_other() -> None:
    assert slot_wind(np.array([np.nan, 3.0]), 0.0)[0] == 3.0
    assert np.isnan(slot_wind(np.array([np.nan, np.nan]), 0.0)[0])


def test_only_wind_above_the_limit_keeps_a_block_waiting() -> None:
    strongest = np.full(SLOTS, np.nan)
    strongest[:3] = [4.5, 4.6, 2.0]
    assert np.flatnonzero(windy_slots(strongest, 4.5)).tolist() == [1]
    assert not windy_slots(strongest, None).any()


def windy_block() -> PlanBlock:
    windy = np.zeros(SLOTS, dtype=bool)
    windy[4:9] = True
    calm = block("A", 1000.0)
    return replace(calm, windy=windy, allowed=calm.allowed & ~windy)


def test_a_sheet_that_breaks_the_limit_says_so() -> None:
    found = broken_rules(shared_with(), [windy_block()], [PlannedSet(0, 7, 3, 20.0)])
    slots = {b.rule: b.slots for b in found}
    assert slots[SheetRule.WIND] == (7, 8)
    assert SheetRule.NOT_ALLOWED not in slots


def test_wind_is_why_a_block_waits() -> None:
    calm = block("A", 1000.0)
    (rather,) = block_reason(shared_with(), [calm], [], 0).rather[:1]
    windy = np.zeros(SLOTS, dtype=bool)
    windy[rather.start : rather.start + rather.slots] = True
    kept = replace(calm, windy=windy, allowed=calm.allowed & ~windy)
    after = rather.start + rather.slots
    found = block_reason(
        shared_with(), [kept], [PlannedSet(0, after, rather.slots, rather.net_mm)], 0
    )
    (way,) = found.in_the_way
    assert way.kind is WeatherKind.WIND
    assert way.slots == tuple(range(rather.start, after))
    assert way.blocks == ()


def test_invented_wind_is_the_same_for_whoever_asks() -> None:
    ten, three = simulate_wind(40, 10, 7), simulate_wind(42, 3, 7)
    assert ten.shape == (240,)
    assert np.array_equal(ten[48:120], three)
    by_day = ten.reshape(10, 24)
    assert (by_day[:, :8] == 1.2).all()
    assert by_day.max() <= 5.7
