"""Why a block is watered when it is, on two blocks of which all is known; money by hand."""

from dataclasses import replace

import numpy as np
import pytest

from core.plan.make_plan import PlannedSet, make_plan
from core.plan.plan_block import PlanBlock
from core.plan.reasons import SharedKind, block_reason
from core.plan.shared import PlanMachine, PlanMain, PlanSource, Shared
from core.plan.slots import DAYS, SLOTS

# A kWh costs 0.10 in the first three slots of the plan and 0.30 after; 0.5 kWh lift a m3.
CHEAP, DEAR, KWH_M3 = 0.10, 0.30, 0.5
# 1 ha, 10 m3 for a mm: 5 mm/h net are 50 m3/h, 13.9 L/s. 30 mm take three slots.
HELD = np.zeros(SLOTS, bool)
HELD[:12] = True


def block(name: str, value: float) -> PlanBlock:
    return PlanBlock(
        name=name,
        source=0,
        mains=(),
        machine=None,
        people=0,
        flow_l_s=50 / 3.6,
        net_mm_h=5.0,
        gross_m3_mm=10.0,
        smallest_mm=25.0,
        largest_mm=30.0,
        allowed=HELD,
        depletion_mm=np.array([30.0]),
        use_mm=np.zeros((1, DAYS)),
        rain_mm=np.zeros((1, DAYS)),
        raw_mm=np.full(DAYS, 40.0),
        taw_mm=np.full(DAYS, 80.0),
        loss_per_mm=value,
    )


def shared_with(**changes: object) -> Shared:
    price = np.full(SLOTS, DEAR)
    price[:3] = CHEAP
    source = PlanSource(
        name="River pump",
        flow_l_s=np.full(SLOTS, 20.0),
        day_m3=np.full(DAYS, np.inf),
        price_kwh=price,
        kwh_m3=KWH_M3,
    )
    return Shared((replace(source, **changes),), (), (), np.full(SLOTS, 9.0))  # type: ignore[arg-type]


BLOCKS = [block("Upper", 10.0), block("Lower", 10.0)]
# 300 m3 at 0.5 kWh: 15 in the cheap slots, 45 after.
UPPER, LOWER = PlannedSet(0, 0, 3, 30.0), PlannedSet(1, 3, 3, 30.0)


def test_one_after_the_other_since_the_pump_is_full() -> None:
    reason = block_reason(shared_with(), BLOCKS, [UPPER, LOWER], 1)
    assert reason.cost == pytest.approx(45.0)
    assert reason.rather == (PlannedSet(1, 0, 3, 30.0),)
    assert reason.rather_cost == pytest.approx(15.0)
    (one,) = reason.in_the_way
    assert (one.kind, one.name) == (SharedKind.SOURCE, "River pump")
    assert one.slots == (0, 1, 2)
    assert one.blocks == (0,)


def test_where_it_would_rather_be() -> None:
    reason = block_reason(shared_with(), BLOCKS, [UPPER, LOWER], 0)
    assert reason.in_the_way == ()
    assert reason.rather == (UPPER,)
    # A slot later, a third of it is dear: 5 more than 15 become 15.
    assert reason.later == pytest.approx(10.0)
    assert reason.earlier is None


def test_a_slot_earlier_and_later() -> None:
    """A third of 300 m3 would be cheap: 10 less."""
    reason = block_reason(shared_with(), BLOCKS, [UPPER, LOWER], 1)
    assert reason.earlier == pytest.approx(-10.0)
    assert reason.later == pytest.approx(0.0)
    late = block_reason(shared_with(), BLOCKS, [PlannedSet(1, 9, 3, 30.0)], 1)
    assert late.later is None


def test_nothing_is_planned() -> None:
    reason = block_reason(shared_with(), BLOCKS, [UPPER], 1)
    assert (reason.earlier, reason.later) == (None, None)
    # 30 mm left at the mean price of a slot: (3 * 0.1 + 117 * 0.3) / 120 * 0.5 * 10 = 1.475 a mm.
    assert reason.cost == pytest.approx(44.25)
    assert reason.in_the_way[0].kind is SharedKind.SOURCE


def test_a_main_a_machine_and_people() -> None:
    wide = shared_with(flow_l_s=np.full(SLOTS, 99.0))
    main = replace(wide, mains=(PlanMain("North main", 20.0),))
    both = [replace(b, mains=(0,)) for b in BLOCKS]
    (one,) = block_reason(main, both, [UPPER, LOWER], 1).in_the_way
    assert (one.kind, one.name) == (SharedKind.MAIN, "North main")
    machine = replace(wide, machines=(PlanMachine("Traveller", 1),))
    both = [replace(b, machine=0) for b in BLOCKS]
    sets = [UPPER, replace(LOWER, start=4)]
    (one,) = block_reason(machine, both, sets, 1).in_the_way
    assert (one.kind, one.name, one.blocks) == (SharedKind.MACHINE, "Traveller", (0,))
    # It moves to the other block just when this one would still run.
    sets = [replace(UPPER, start=3), replace(LOWER, start=7)]
    (one,) = block_reason(machine, both, sets, 1).in_the_way
    assert (one.slots, one.blocks) == ((2,), (0,))
    people = replace(wide, people=np.ones(SLOTS))
    both = [replace(b, people=1) for b in BLOCKS]
    (one,) = block_reason(people, both, [UPPER, LOWER], 1).in_the_way
    assert (one.kind, one.slots, one.blocks) == (SharedKind.PEOPLE, (0,), (0,))


def test_licences() -> None:
    wide = np.full(SLOTS, 99.0)
    day = shared_with(flow_l_s=wide, day_m3=np.full(DAYS, 500.0))
    (one,) = block_reason(day, BLOCKS, [UPPER], 1).in_the_way
    assert (one.kind, one.slots) == (SharedKind.DAY_LICENCE, tuple(range(12)))
    season = shared_with(flow_l_s=wide, total_m3=500.0)
    (one,) = block_reason(season, BLOCKS, [UPPER], 1).in_the_way
    assert (one.kind, one.slots, one.blocks) == (SharedKind.SEASON_LICENCE, (), (0,))


def test_a_peak_that_is_not_worth_it() -> None:
    """Both at once draw 50 kW, one 25 (50 m3/h at 0.5 kWh): 25 kW more at 2 are 50, beside 30 that
    power is cheaper then."""
    peak = shared_with(flow_l_s=np.full(SLOTS, 99.0), peak_price=2.0)
    reason = block_reason(peak, BLOCKS, [UPPER, LOWER], 1)
    assert [x.kind for x in reason.in_the_way] == [SharedKind.PEAK]
    # What it makes of the peak where it is: nothing, since the other draws as much before.
    assert reason.cost == pytest.approx(45.0)


def test_no_plan_without_time_to_move() -> None:
    """Six slots are enough for two sets of three, but not for moving between them."""
    free = np.zeros(SLOTS, bool)
    free[:6] = True
    # Half a mm is used each day, and dear.
    use = np.full((1, DAYS), 0.5)
    dry = [
        replace(b, machine=0, allowed=free, use_mm=use, depletion_mm=np.array([60.0]))
        for b in BLOCKS
    ]
    wide = shared_with(flow_l_s=np.full(SLOTS, 99.0))
    for moving, watered in ((0, 2), (1, 1)):
        shared = replace(wide, machines=(PlanMachine("Traveller", moving),))
        plan = make_plan(shared, [replace(b, loss_per_mm=500.0) for b in dry])
        assert len({s.block for s in plan.sets}) == watered
