"""What a plan can't meet and what would help, on two blocks of which all is known; by hand."""

from dataclasses import replace

import numpy as np
import pytest

from core.plan.make_plan import PlannedSet, make_plan
from core.plan.plan_block import PlanBlock
from core.plan.reasons import SharedKind
from core.plan.relief import reliefs, short_blocks
from core.plan.shared import PlanMain, PlanSource, Shared
from core.plan.slots import DAYS, SLOTS
from core.world.plan_farms import drawn_farm

DRY = PlanBlock(
    name="Upper",
    source=0,
    mains=(),
    machine=None,
    people=1,
    flow_l_s=10.0,
    net_mm_h=5.0,
    gross_m3_mm=7.2,
    smallest_mm=10.0,
    largest_mm=60.0,
    allowed=np.ones(SLOTS, bool),
    depletion_mm=np.array([60.0]),
    use_mm=np.full((1, DAYS), 4.0),
    rain_mm=np.zeros((1, DAYS)),
    raw_mm=np.full(DAYS, 40.0),
    taw_mm=np.full(DAYS, 80.0),
    loss_per_mm=100.0,
)


def shared_with(**changes: object) -> Shared:
    source = PlanSource(
        name="River pump",
        flow_l_s=np.full(SLOTS, 10.0),
        day_m3=np.full(DAYS, np.inf),
        price_kwh=np.full(SLOTS, 0.1),
    )
    return Shared((replace(source, **changes),), (), (), np.full(SLOTS, 9.0))  # type: ignore[arg-type]


def test_what_a_block_without_water_lacks() -> None:
    """Ks falls from a half as what is missing comes up to 80 mm, by a quarter of a day: missing
    grows by (80 - d) / 40 of 1 mm each, so 80 - d shrinks by 1/40 of itself; over 40 steps from 20
    to 20 * (1 - 1/40) ** 40 = 7.265. Used are 12.735 of 40 mm."""
    (one,) = short_blocks([DRY], [])
    assert one.lacking_mm == pytest.approx(40 - (20 - 20 * (1 - 1 / 40) ** 40))
    assert one.money == pytest.approx(100 * one.lacking_mm)


def test_the_costliest_first_and_no_trifles() -> None:
    dearer = replace(DRY, loss_per_mm=200.0)
    watered = PlannedSet(2, 0, 6, 60.0)
    found = short_blocks([DRY, dearer, DRY], [watered])
    # 60 mm from 60 leave it well above refill for ten days of 4 mm; its first hours are short by
    # less than a half millimetre a slot, and those of the first quarter day by 0.5.
    assert [s.block for s in found][:2] == [1, 0]
    assert all(s.lacking_mm >= 0.5 for s in found)


def test_more_flow_lets_two_run_at_once() -> None:
    """Two dry blocks of 10 L/s on 19: a tenth more lets both run from the first slot."""
    shared = shared_with(flow_l_s=np.full(SLOTS, 19.0))
    blocks = [DRY, replace(DRY, name="Lower")]
    (found,) = reliefs(shared, blocks, 0.0)
    assert (found.kind, found.name) == (SharedKind.SOURCE, "River pump")
    assert found.more == pytest.approx(1.9)
    before = make_plan(shared, blocks, looks=300_000)
    after = make_plan(shared_with(flow_l_s=np.full(SLOTS, 20.9)), blocks, looks=300_000)
    assert before.cost > after.cost
    # The bounds say what the plans do, or less.
    assert 0 < found.money <= before.cost - after.cost + 0.01
    assert reliefs(shared, blocks, found.money + 0.01) == []


@pytest.mark.parametrize(
    "kind, changes",
    [
        (SharedKind.DAY_LICENCE, {"day_m3": np.full(DAYS, 150.0)}),
        (SharedKind.SEASON_LICENCE, {"total_m3": 300.0}),
    ],
)
def test_a_licence_that_is_too_small(kind: SharedKind, changes: dict[str, object]) -> None:
    """432 m3 bring the 60 mm that are missing, and 216 of them before midnight."""
    found = reliefs(shared_with(**changes), [DRY], 0.0)
    assert [(r.kind, r.more) for r in found] == [
        (kind, pytest.approx(15.0 if kind is SharedKind.DAY_LICENCE else 30.0))
    ]


def test_another_person_and_a_wider_main() -> None:
    wide = shared_with(flow_l_s=np.full(SLOTS, 99.0))
    blocks = [DRY, replace(DRY, name="Lower")]
    alone = replace(wide, people=np.ones(SLOTS))
    found = reliefs(alone, blocks, 0.0)
    assert {(r.kind, r.more) for r in found} == {(SharedKind.PEOPLE, 1.0)}
    assert {r.day for r in found} == {None, 0}
    main = replace(wide, mains=(PlanMain("North main", 19.0),))
    blocks = [replace(b, mains=(0,)) for b in blocks]
    (found,) = reliefs(main, blocks, 0.0)
    assert (found.kind, found.name) == (SharedKind.MAIN, "North main")


def test_nothing_is_short() -> None:
    shared, _ = drawn_farm(2, 1, 1.0, 1)
    assert reliefs(shared, [], 0.0) == []
    full = replace(DRY, depletion_mm=np.array([0.0]), use_mm=np.zeros((1, DAYS)))
    assert short_blocks([full], []) == []
    assert reliefs(shared_with(), [full], 0.0) == []
