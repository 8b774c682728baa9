"""Irrigations that move over their block: where the machine was seen, and its water by place."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from ninja import Field

from core.advice.inputs import PlannedSet, Watering
from core.irrigation.passes import Arrival, Going, Pass, PassProblem, Position
from server.base.errors import Problem
from server.base.moment import Moment
from server.base.schema import Body
from server.blocks.models import Block
from server.instruments.models import Instrument
from server.water.equipment import block_system
from server.water.models import Irrigation

Status = Irrigation.Status
# A pass that takes longer is seen by sensors at a time of its own; and for how long after it what
# they saw is asked about.
LONG_PASS, LATELY = timedelta(hours=12), timedelta(days=7)


class SeenAt(Body):
    """Where a machine was seen, a share of the way over the block [-], and where it went on to.

    What `Irrigation.positions` holds.
    """

    at: Moment
    place: float = Field(ge=0, le=1)
    going: Going = Going.FORWARD


def hours_to(moment: datetime, now: datetime) -> float:
    """Hours from now to a moment, below zero where it is over [h]."""
    return (moment - now).total_seconds() / 3600


def moves_on(block: Block) -> bool:
    """Whether the block is wetted part by part."""
    return block_system(block).moves


def pass_of(row: Irrigation, now: datetime) -> Pass:
    """An irrigation as a way over its block, hours counted from now.

    Raises
    ------
    PassProblem
    """
    first = 0.0 if row.place_from is None else row.place_from
    last = min(first + row.share, 1.0) if row.place_to is None else row.place_to
    seen = [SeenAt.model_validate(p) for p in row.positions]
    return Pass(
        start_hours=hours_to(row.started_at, now),
        end_hours=hours_to(row.ended_at, now),
        first=first,
        last=last,
        seen=tuple(Position(hours_to(s.at, now), s.place, s.going) for s in seen),
        ended=row.status == Status.DONE,
    )


def pass_problems(row: Irrigation) -> tuple[Problem, ...]:
    """What is wrong with the places of an irrigation; empty where nothing is."""
    try:
        pass_of(row, row.started_at)
    except PassProblem as problem:
        return (Problem(field=problem.field, message=problem.message),)
    return ()


def _in_soil(block: Block) -> list[Instrument]:
    return [
        i for i in block.instruments.all() if any(c.depth_mm is not None for c in i.channels.all())
    ]


def known_places(block: Block) -> tuple[float, ...]:
    """Where the block's instruments in the soil stand on the way over it [-], where that is known
    of all of them."""
    stand = [i.pass_place for i in _in_soil(block)]
    known = tuple(p for p in stand if p is not None)
    return known if len(known) == len(stand) else ()


def crosses_unseen(rows: Iterable[Irrigation], block: Block, now: datetime) -> bool:
    """Whether a long pass crossed the block lately, and nobody knows when it came over the
    sensors."""
    if not _in_soil(block) or not moves_on(block) or known_places(block):
        return False
    return any(
        row.status in (Status.DONE, Status.RUNNING)
        and row.ended_at - row.started_at > LONG_PASS
        and now - LATELY < row.ended_at
        and row.started_at < now
        for row in rows
    )


def arrivals(
    row: Irrigation, efficiency: float, places: tuple[float, ...], now: datetime
) -> tuple[Arrival, ...]:
    """When an irrigation that moves comes over places, and what it brings."""
    return pass_of(row, now).arrivals(row.gross_mm * efficiency, places)


def waterings(rows: Iterable[Irrigation], block: Block, now: datetime) -> list[Watering]:
    """What reached the root zone until now, hour by hour.

    What stands still waters the block at once, and counts when it has ended; what moves on, where
    it is, also while it runs.
    """
    out = []
    moving, places = moves_on(block), known_places(block)
    for row in rows:
        if moving and row.status in (Status.DONE, Status.RUNNING) and row.started_at <= now:
            met = arrivals(row, block.efficiency, places, now)
            out += [Watering(a.hours, a.depth_mm) for a in met if a.hours <= 0]
        elif not moving and row.status == Status.DONE and row.ended_at <= now:
            begun, ended = hours_to(row.started_at, now), hours_to(row.ended_at, now)
            net = row.gross_mm * block.efficiency
            out.append(Watering(ended, net, begun_hours=begun))
    return out


def planned(rows: Iterable[Irrigation], block: Block, now: datetime) -> tuple[PlannedSet, ...]:
    """What is still to come of irrigations that run or are planned; one whose time went by
    without a word is not counted on."""
    out = []
    moving, places = moves_on(block), known_places(block)
    for row in rows:
        if row.status not in (Status.PLANNED, Status.RUNNING):
            continue
        start = hours_to(row.started_at, now)
        if moving and (row.status == Status.RUNNING or row.ended_at > now):
            met = arrivals(row, block.efficiency, places, now)
            out += [PlannedSet(start, a.hours, a.depth_mm) for a in met if a.hours > 0]
        elif not moving and row.ended_at > now:
            end = hours_to(row.ended_at, now)
            out.append(PlannedSet(start, end, row.gross_mm * block.efficiency))
    return tuple(out)
