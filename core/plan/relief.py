"""What can't be met, and what would help: more flow, longer hours, another person."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from core.plan.bound import bound_of
from core.plan.make_plan import PlannedSet, worked_out
from core.plan.pattern_cost import followed
from core.plan.plan_block import PlanBlock
from core.plan.reasons import SharedKind, planned_patterns
from core.plan.rows import MONEY_UNITS, rows_of
from core.plan.search import cheapest_fit
from core.plan.shared import Shared
from core.plan.slots import DAYS, SLOT_H, SLOTS_PER_DAY

# Less than this is no lack that anyone sees [mm].
LEAST_LACK_MM = 0.5
# Of flows, mains and licences so much more is tried [-].
MORE = 0.1


@dataclass(frozen=True)
class ShortBlock:
    """A block that lacks water in a plan: how much of its use, the mean of the members [mm], and
    the money that is lost by it."""

    block: int
    lacking_mm: float
    money: float


def short_blocks(blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]) -> list[ShortBlock]:
    """Blocks that lack water in a plan, the costliest first."""
    planned = planned_patterns(blocks, sets)
    out = []
    for b, block in enumerate(blocks):
        lacking = float(followed(block, planned, slice(b, b + 1))[0][0])
        if lacking >= LEAST_LACK_MM:
            out.append(ShortBlock(b, lacking, lacking * block.loss_per_mm))
    return sorted(out, key=lambda s: (-s.money, s.block))


class ReliefKind(StrEnum):
    """What may help and stands in no row of capacity."""

    HOURS = "hours"


@dataclass(frozen=True)
class Relief:
    """More of one shared thing, and what that is worth over the days of the plan.

    name : str, of the source, main or group; empty for people
    more : float, L/s of a source or main, hours of a source each time that it runs, m3 a day or a
        season, blocks of a group, people
    money : what the best plan would cost less, by the bounds
    day : int, the only day of the plan on which it is more; None where it is on all
    """

    kind: SharedKind | ReliefKind
    name: str
    more: float
    money: float
    day: int | None = None


def reliefs(shared: Shared, blocks: Sequence[PlanBlock], gap: float) -> list[Relief]:
    """What would help most, the most worth first.

    Parameters
    ----------
    gap : float, money by which the plan may be above the best there is
        What is worth less could not be told from it, and is left out.

    Notes
    -----
    Each is the difference of two bounds that are worked out anew; prices of shared things hold
    for a first small part alone.
    """
    if not blocks:
        return []
    patterns, cost, rows = worked_out(shared, blocks)
    known = cheapest_fit(patterns, rows, cost).pattern
    proof = bound_of(patterns, rows, cost, known)
    now = proof.cost
    out = []
    for kind, name, more, eased in _eased(shared):
        if kind is ReliefKind.HOURS:
            # What may run at other times has other patterns.
            bound = _bound_of(eased, blocks)
        else:
            bound = bound_of(patterns, rows_of(eased, blocks), cost, known).cost
        money = (now - bound) / MONEY_UNITS
        if money > gap:
            out.append(Relief(kind, name, more, money))
    by_day = proof.prices.rows[-1].reshape(DAYS, -1).sum(axis=1)
    if by_day.any():
        # The day on which another person is worth most, by the price of a first small part.
        day = int(by_day.argmax())
        there = (np.arange(shared.people.size) // SLOTS_PER_DAY == day) & (shared.people > 0)
        eased = replace(shared, people=shared.people + there)
        bound = bound_of(patterns, rows_of(eased, blocks), cost, known).cost
        if (money := (now - bound) / MONEY_UNITS) > gap:
            out.append(Relief(SharedKind.PEOPLE, "", 1.0, money, day))
    return sorted(out, key=lambda r: (-r.money, r.kind, r.name))


def _bound_of(shared: Shared, blocks: Sequence[PlanBlock]) -> float:
    patterns, cost, rows = worked_out(shared, blocks)
    return bound_of(patterns, rows, cost, cheapest_fit(patterns, rows, cost).pattern).cost


def _eased(shared: Shared) -> Iterator[tuple[SharedKind | ReliefKind, str, float, Shared]]:
    """A farm with a little more of each thing that it shares."""
    for k, source in enumerate(shared.sources):

        def with_source(k: int = k, **changes: object) -> Shared:
            eased = list(shared.sources)
            eased[k] = replace(eased[k], **changes)  # type: ignore[arg-type]
            return replace(shared, sources=tuple(eased))

        flow = source.flow_l_s * (1 + MORE)
        more = float(source.flow_l_s.max()) * MORE
        yield SharedKind.SOURCE, source.name, more, with_source(flow_l_s=flow)
        open_now = source.flow_l_s > 0
        longer = open_now | np.roll(open_now, 1)
        longer[0] = open_now[0]
        if (longer & ~open_now).any():
            hours = np.where(longer, source.flow_l_s.max(), 0.0)
            yield ReliefKind.HOURS, source.name, SLOT_H, with_source(flow_l_s=hours)
        if np.isfinite(source.day_m3).any():
            more = float(source.day_m3[np.isfinite(source.day_m3)].max()) * MORE
            day = source.day_m3 * (1 + MORE)
            yield SharedKind.DAY_LICENCE, source.name, more, with_source(day_m3=day)
        if np.isfinite(source.total_m3):
            total = source.total_m3 * (1 + MORE)
            more = source.total_m3 * MORE
            yield SharedKind.SEASON_LICENCE, source.name, more, with_source(total_m3=total)
    for k, main in enumerate(shared.mains):
        mains = list(shared.mains)
        more = main.capacity_l_s * MORE
        mains[k] = replace(main, capacity_l_s=main.capacity_l_s + more)
        yield SharedKind.MAIN, main.name, more, replace(shared, mains=tuple(mains))
    for k, group in enumerate(shared.groups):
        groups = list(shared.groups)
        groups[k] = replace(group, most=group.most + 1)
        yield SharedKind.GROUP, group.name, 1.0, replace(shared, groups=tuple(groups))
    people = np.where(shared.people > 0, shared.people + 1, shared.people)
    yield SharedKind.PEOPLE, "", 1.0, replace(shared, people=people)
