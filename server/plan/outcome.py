"""How a plan was found, what it can't meet and what would help, as it is stored: format 2; in
format 1 nothing was known of groups, hours and minimum flows."""

from collections.abc import Sequence
from datetime import date, datetime, timedelta
from typing import Literal

from core.plan.make_plan import Method, Plan, PlannedSet
from core.plan.plan_block import PlanBlock
from core.plan.reasons import SharedKind
from core.plan.relief import Relief, ReliefKind, reliefs, short_blocks
from core.plan.sheet import peak_of
from server.base.schema import Schema
from server.plan.assemble import PlanInputs
from server.plan.money import money_by_block

# What would help is worked out for farms of so many blocks at most: each thing takes another bound.
MOST_FOR_RELIEF = 80


class ShortBlockOut(Schema):
    """A block that lacks water in the plan: of its use [mm], and the money lost by it."""

    block_id: int
    lacking_mm: float
    money: float


class ReliefOut(Schema):
    """More of something, and what it is worth over the days of the plan; ``more`` in L/s of a
    source or main, hours of a source each time it runs, m3 of a licence, blocks of a group, or
    people; ``on`` the only day on which it is more, null where it is on all."""

    kind: SharedKind | ReliefKind
    name: str
    more: float
    money: float
    on: date | None = None


class Outcome(Schema):
    """``cost`` and ``bound`` in money; ``bound`` is null where none was found. ``by_urgency_*`` are
    of what would run if the most urgent block came first. ``reliefs`` is null where it was not
    worked out."""

    format: Literal[1, 2] = 2
    method: Method
    cost: float
    bound: float | None
    by_urgency_total: float
    by_urgency_power: float
    by_urgency_lost: float
    total: float
    reliefs: list[ReliefOut] | None


def _relief(found: Relief, first_at: datetime) -> ReliefOut:
    on = None if found.day is None else first_at.date() + timedelta(days=found.day)
    return ReliefOut(
        kind=found.kind, name=found.name, more=found.more, money=round(found.money, 2), on=on
    )


def outcome_of(
    inputs: PlanInputs, blocks: Sequence[PlanBlock], plan: Plan, sets: Sequence[PlannedSet]
) -> Outcome:
    """What there is to say of a plan.

    Parameters
    ----------
    blocks : sequence of PlanBlock
        As they are on the sheet, where pinned irrigations are among the ``sets``.
    """
    shared = inputs.shared
    short = short_blocks(blocks, sets)
    now, rule = (money_by_block(shared, blocks, s) for s in (sets, plan.by_urgency))
    gap = plan.cost - plan.bound
    helps = reliefs(shared, inputs.blocks, gap) if short and len(blocks) <= MOST_FOR_RELIEF else []
    return Outcome(
        method=plan.method,
        cost=round(plan.cost, 2),
        bound=None if plan.bound <= 0 else round(plan.bound, 2),
        total=round(sum(m.total for m in now) + peak_of(shared, blocks, sets), 2),
        by_urgency_total=round(
            sum(m.total for m in rule) + peak_of(shared, blocks, plan.by_urgency), 2
        ),
        by_urgency_power=round(sum(m.power for m in rule), 2),
        by_urgency_lost=round(sum(m.lost for m in rule), 2),
        reliefs=[_relief(r, inputs.first_at) for r in helps]
        if len(blocks) <= MOST_FOR_RELIEF
        else None,
    )
