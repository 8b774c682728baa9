"""A season with limited pumps: the truth by hand, and the rules beside each other."""

from dataclasses import replace

import numpy as np
import pytest

from core.plan.make_plan import PlannedSet
from core.plan.slots import SLOTS_PER_DAY
from core.world.plan_farms import drawn_farm
from core.world.shared_season import (
    SeasonRule,
    _pass_day,
    _pay,
    _rest,
    _Truth,
    shared_season,
)


def truth(use: float, rain: float, depletion: float) -> _Truth:
    """One block: RAW 40, TAW 80 mm."""
    shared, blocks = drawn_farm(1, 1, 0.5, 1, 3)
    block = replace(blocks[0], raw_mm=np.full(10, 40.0), taw_mm=np.full(10, 80.0))
    return _Truth(
        shared=shared,
        blocks=[block],
        use_mm=np.full((1, 5), use),
        rain_mm=np.full((1, 5), rain),
        depletion_mm=np.array([depletion]),
        lacking_mm=np.zeros(1),
        draws_kw=np.zeros((1, 5 * SLOTS_PER_DAY)),
    )


def test_a_day_without_stress() -> None:
    """10 mm used, 4 of rain: 20 + 10 - 4."""
    t = truth(10.0, 4.0, 20.0)
    _pass_day(t, 0, [])
    assert t.depletion_mm[0] == pytest.approx(26.0)
    assert t.lacking_mm[0] == 0.0


def test_stress_below_refill() -> None:
    """At 60 of 80 mm half of the use is lacking, and a little more as the day goes on."""
    t = truth(6.0, 0.0, 60.0)
    _pass_day(t, 0, [])
    assert 3.0 < t.lacking_mm[0] < 3.3
    assert t.depletion_mm[0] == pytest.approx(60.0 + 6.0 - t.lacking_mm[0])


def test_an_irrigation_over_midnight_brings_the_rest_the_next_day() -> None:
    t = truth(0.0, 0.0, 30.0)
    _pass_day(t, 0, [PlannedSet(0, 10, 6, 12.0)])
    # Four slots of six are left, and a third is in the soil.
    assert t.depletion_mm[0] == pytest.approx(26.0)
    assert t.running == [PlannedSet(0, 0, 4, pytest.approx(8.0))]
    _pass_day(t, 1, [])
    assert t.depletion_mm[0] == pytest.approx(18.0)
    assert t.running == []
    assert _rest(PlannedSet(0, 14, 3, 9.0)) == PlannedSet(0, 2, 3, 9.0)


def test_what_an_irrigation_costs() -> None:
    t = truth(0.0, 0.0, 30.0)
    source, block = t.shared.sources[0], t.blocks[0]
    sums = {"power": 0.0, "water": 0.0, "labour": 0.0, "kwh": 0.0, "m3": 0.0}
    # Two slots by night at 0.12.
    _pay(t, PlannedSet(0, 0, 2, 10.0), 1, sums)
    m3 = 10.0 * block.gross_m3_mm
    assert sums["m3"] == pytest.approx(m3)
    assert sums["power"] == pytest.approx(m3 * source.kwh_m3 * 0.12)
    assert sums["water"] == pytest.approx(m3 * 0.01)
    assert t.draws_kw[0, 12:14] == pytest.approx(block.flow_l_s * 3.6 * source.kwh_m3)
    assert t.draws_kw[0, [11, 14]].sum() == 0


def test_the_plan_costs_less_than_either_rule_over_a_week() -> None:
    found = {rule: shared_season(rule, 4, 1, 0.95, 3, 7) for rule in SeasonRule}
    plan = found[SeasonRule.PLAN]
    assert plan.total < found[SeasonRule.URGENT].total
    assert plan.total < found[SeasonRule.CALENDAR].total
    assert plan.total == pytest.approx(
        plan.lost + plan.power + plan.water + plan.peak + plan.labour
    )
    assert plan.water_m3 > 0
