"""Less water by plan: what is due, and what it leaves of the yield."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from core.advice.answer import Assessment
from core.advice.inputs import BlockInputs
from core.advice.vocabulary import Reason, Regime, State
from core.crop.catalogue import crop
from core.crop.season import CropSeason, Stage
from core.deficit.owed import owed_mm
from core.deficit.plan import DeficitPlan, DeficitProblem, StageWater
from core.deficit.yield_expected import mean_ks, yield_expected
from core.regime.assess import assess, assess_blocks, needs_ahead
from tests.core.blocks import NOW, block, lived
from tests.core.test_working import redo

SHARE = DeficitPlan({Stage.MID: StageWater(use_share=0.6)}, application_mm=12.0)
LOWER = DeficitPlan({Stage.MID: StageWater(allowed=0.7)})


def test_what_is_due_adds_up_day_by_day() -> None:
    use = np.array([5.0, 5.0, 6.0, 6.0, 4.0])
    water = np.array([0.0, 10.0, 0.0, 0.0, 0.0])
    due = owed_mm(2.0, use, 0.5, water, 100.0)
    # 2 + 2.5; + 2.5 - 10 is none; + 3; + 3; + 2.
    assert due.tolist() == [2.0, 4.5, 0.0, 3.0, 6.0, 8.0]


def test_no_more_is_due_than_is_missing() -> None:
    assert owed_mm(0.0, np.full(3, 6.0), 1.0, np.zeros(3), np.array([20.0, 8.0, 9.0])).tolist() == [
        0.0,
        6.0,
        8.0,
        9.0,
    ]


def test_mean_ks() -> None:
    assert mean_ks(0.5, 0.4) == 1.0
    # 0.5 at full use, then from 0.5 to 0.75 in 0.5 x ln(0.5 / 0.25) = 0.3466 of it.
    assert mean_ks(0.5, 0.75) == pytest.approx(0.75 / (0.5 + 0.3466), abs=1e-4)


def test_yield_of_a_plan_by_windows() -> None:
    maize = crop("maize-grain")
    # Vegetative growth covers the initial stage and 0.8 of development: all of it at 0.8 of ETc,
    # Ky 0.4: 1 - 0.4 x 0.2. The window of flowering begins in development's last fifth.
    ends = maize.stage_ends
    day = np.arange(ends[-1]) + 0.5
    use = maize.kc_on(day)
    flowering = (day >= ends[1] + 0.8 * (ends[2] - ends[1])) & (
        day < ends[2] + 0.4 * (ends[3] - ends[2])
    )
    early = flowering & (day < ends[2])
    lacking = 0.2 * use[early].sum() / use[flowering].sum()
    plan = {
        Stage.INITIAL: StageWater(use_share=0.8),
        Stage.DEVELOPMENT: StageWater(use_share=0.8),
    }
    assert yield_expected(maize, plan) == pytest.approx((1 - 0.4 * 0.2) * (1 - 1.5 * lacking))


def test_yield_of_a_plan_by_the_season_alone() -> None:
    lucerne = crop("lucerne-hay")
    every = {
        s: StageWater(use_share=0.7)
        for s in (Stage.INITIAL, Stage.DEVELOPMENT, Stage.MID, Stage.LATE)
    }
    # FAO-33, from memory: Ky of lucerne 1.1; 1 - 1.1 x 0.3.
    assert yield_expected(lucerne, every) == pytest.approx(0.67, abs=0.005)
    assert yield_expected(crop("lettuce"), every) is None


@pytest.mark.parametrize(
    "made",
    [
        StageWater,
        lambda: StageWater(0.5, 0.5),
        lambda: StageWater(use_share=0.1),
        lambda: StageWater(use_share=1.1),
        lambda: StageWater(allowed=0.95),
        lambda: StageWater(allowed=0.05),
        lambda: DeficitPlan({}),
        lambda: DeficitPlan({Stage.OVER: StageWater(use_share=0.5)}),
        lambda: DeficitPlan({Stage.MID: StageWater(use_share=0.5)}, application_mm=0.0),
    ],
)
def test_plans_that_are_none_are_refused(made: object) -> None:
    with pytest.raises(DeficitProblem):
        made()  # type: ignore[operator]


def planned(plan: DeficitPlan | None, **more: object) -> BlockInputs:
    """Potatoes in mid season, 30 days followed."""
    return lived(**more).assuming(deficit=plan)


def usable(answer: Assessment) -> np.ndarray:
    assert answer.outlook is not None
    return answer.outlook.usable_mm


def test_a_lower_refill_point_waits_longer() -> None:
    usual, later = (assess(block().assuming(deficit=p)) for p in (None, LOWER))
    assert later.deficit is not None
    assert later.deficit.allowed == 0.7
    assert later.deficit_mm == pytest.approx(usual.deficit_mm)
    assert usual.limits is not None
    assert later.limits is not None
    lowest = 0.7 * float(usual.limits.taw_mm)
    assert float(later.limits.raw_mm) == pytest.approx(lowest)
    assert usable(later)[0] == pytest.approx(lowest - (usual.deficit_mm or 0.0))
    assert usual.refill_at is not None
    assert later.refill_at is None or later.refill_at > usual.refill_at
    assert Reason.LESS_BY_PLAN in later.reasons
    assert Reason.CRITICAL_STAGE not in later.reasons


def test_a_share_of_the_use_is_given_when_an_application_is_due() -> None:
    answer = assess(planned(SHARE))
    assert answer.deficit is not None
    assert answer.deficit.use_share == 0.6
    assert answer.deficit.application_mm == 12.0
    due = answer.deficit.due_mm
    assert due is not None
    assert usable(answer)[0] == pytest.approx(12.0 - due)
    assert answer.amount is not None
    # It brings what is due at the start, and not the whole deficit.
    assert answer.amount.net_mm == pytest.approx(12.0, abs=4.5)
    assert answer.amount.net_mm < (answer.deficit_mm or 0.0)


def test_it_is_counted_from_the_day_that_was_said() -> None:
    today = replace(SHARE, since=NOW.date())
    assert assess(planned(today)).deficit.due_mm == 0.0  # type: ignore[union-attr]
    week = replace(SHARE, since=NOW.date() - timedelta(days=5))
    assert 0 < assess(planned(week)).deficit.due_mm <= 12.0 * 4  # type: ignore[union-attr, operator]


@pytest.mark.parametrize("plan", [SHARE, LOWER])
def test_the_working_is_redone_by_hand(plan: DeficitPlan) -> None:
    answer = assess(planned(plan))
    assert answer.steps
    for step in answer.steps:
        assert redo(step) == pytest.approx(step.value, rel=1e-6, abs=1e-6), step.key


@pytest.mark.parametrize("plan", [SHARE, LOWER])
def test_a_plan_of_all_blocks_is_told_of_it(plan: DeficitPlan) -> None:
    found = needs_ahead([planned(plan)], 10)[0]
    usual = needs_ahead([planned(None)], 10)[0]
    assert found is not None
    assert usual is not None
    if plan is SHARE:
        assert found.raw_mm[0] == 12.0
        assert found.use_mm.sum() == pytest.approx(0.6 * usual.use_mm.sum())
    else:
        assert found.raw_mm[0] == pytest.approx(0.7 * usual.taw_mm[0], rel=0.02)


def test_stages_without_a_word_are_watered_as_usual() -> None:
    late = DeficitPlan({Stage.LATE: StageWater(use_share=0.5)})
    usual, same = assess(planned(None)), assess(planned(late))
    assert same.deficit is not None
    assert same.deficit.stage is None
    assert same.start_at == usual.start_at
    assert same.amount == usual.amount


def test_blocks_of_a_farm_are_answered_like_one() -> None:
    several = assess_blocks([planned(SHARE), planned(LOWER), planned(None)])
    alone = [assess(planned(p)) for p in (SHARE, LOWER, None)]
    assert [a.start_at for a in several] == [a.start_at for a in alone]
    assert [a.state for a in several] == [a.state for a in alone]


def test_without_a_state_nothing_is_said() -> None:
    bare = planned(SHARE, sites=(), waterings=(), past=None)
    assert bare.assumed.regime is Regime.DEFICIT
    answer = assess(bare)
    assert answer.state is State.NO_RELIABLE_DATA
    assert answer.deficit is None
    none = bare.assuming(season=None)
    assert assess(none).reasons == (Reason.NO_CROP_IN_SEASON,)
    over = bare.assuming(season=CropSeason(crop("potato"), date(2025, 3, 1)))
    assert assess(over).state is State.NO_RELIABLE_DATA
