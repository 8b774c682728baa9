"""Whole seasons in the small: following the advice beats every simpler rule.

The large trial is `bench/bench_closed_loop.py`; its table stands in docs/closed-loop.md.
"""

import pytest

from core.soil.texture import TextureClass
from core.world.climates import Climate
from core.world.trial import Rule, Trial, make_farm, run_trial

TEXTURES = (TextureClass.SANDY_LOAM, TextureClass.CLAY_LOAM)
CROPS = ("maize-grain", "potato")


@pytest.fixture(scope="module")
def trials() -> dict[Rule, Trial]:
    farm = make_farm(Climate.MIXED, TEXTURES, CROPS, 80, seed=3)
    return {rule: run_trial(farm, rule, seed=5) for rule in Rule}


def cost(trial: Trial, perfect: Trial) -> float:
    """Percent of days past refill plus percent of water beyond perfect knowledge."""
    stress = 100 * float(trial.stress_days.mean()) / trial.days
    return stress + 100 * (float(trial.given_mm.sum() / perfect.given_mm.sum()) - 1)


@pytest.mark.parametrize("rule", [Rule.CALENDAR, Rule.THRESHOLD, Rule.BALANCE])
def test_the_advice_beats_a_simpler_rule(trials: dict[Rule, Trial], rule: Rule) -> None:
    perfect = trials[Rule.PERFECT]
    assert cost(trials[Rule.APP], perfect) < cost(trials[rule], perfect)


def test_it_is_seldom_late_and_wastes_little(trials: dict[Rule, Trial]) -> None:
    app, perfect = trials[Rule.APP], trials[Rule.PERFECT]
    assert app.stress_days.mean() / app.days < 0.08
    assert app.given_mm.sum() / perfect.given_mm.sum() < 1.2
