"""What was advised on past days, what was done with it, what came of it, and what now says."""

from collections.abc import Sequence
from datetime import date, datetime, timedelta

import numpy as np
from ninja import Field

from core.advice.version import RULES_VERSION
from core.advice.vocabulary import State
from core.regime.assess import block_past
from core.sentence import sentence
from server.advice.answers import answer_with_working, load_whole
from server.advice.assumed import Assumed, assumed_out
from server.advice.kept import AtHand, WorkingOut, read, state_of
from server.advice.models import Advice, Decision
from server.advice.present import answer_out, decision_out, given_sets
from server.advice.schemas import AnswerOut, DecisionOut, GivenSet
from server.base.errors import NotFound
from server.base.schema import Body, Schema
from server.blocks.models import Block
from server.farms.access import Access
from server.water.models import Irrigation

# What is counted as come of an advice: so many days after it.
AFTER_DAYS = 5


class HistoryStretch(Body):
    days: int = Field(28, ge=1, le=366)


class HistoryRow(Schema):
    """One day's advice, the decision, the water given that day, and what came of it.

    ``low_mm`` is the least usable water of the following days as it is known now, with how many
    of them were below refill; null where nothing is known.
    """

    id: int
    day: date
    made_at: datetime
    state: State
    start_at: datetime | None
    gross_mm: float | None
    hours: float | None
    decisions: list[DecisionOut]
    sets: list[GivenSet]
    given_mm: float
    low_mm: float | None
    below_refill_days: float | None


class HistoryOut(Schema):
    block: str
    time_zone: str
    now: datetime
    rows: list[HistoryRow]


class PastAdviceOut(Schema):
    """A day's advice as it was given, and what the same morning would be told with today's
    records, assumptions and rules; ``same_rules`` where they are still those."""

    id: int
    block: str
    time_zone: str
    day: date
    made_at: datetime
    version: str
    same_rules: bool
    answer: AnswerOut
    inputs: AtHand
    working: WorkingOut
    decisions: list[DecisionOut]
    now_says: AnswerOut
    now_assumed: Assumed


def _came_of(
    past: tuple[np.ndarray, np.ndarray] | None, since: datetime, now: datetime
) -> tuple[float | None, float | None]:
    """Least usable water of the days after an advice, and days of them below refill."""
    if past is None:
        return None, None
    hours, usable = past
    start = (since - now).total_seconds() / 3600
    inside = (hours >= start) & (hours <= start + 24 * AFTER_DAYS) & ~np.isnan(usable)
    if not inside.any():
        return None, None
    step = float(hours[1] - hours[0]) if hours.size > 1 else 0.0
    return float(usable[inside].min()), float((usable[inside] < 0).sum() * step / 24)


def _on_day(sets: Sequence[Irrigation], start: datetime) -> list[Irrigation]:
    """Sets that ended in the day that an advice spoke for."""
    return [
        s
        for s in sets
        if s.status == Irrigation.Status.DONE and start < s.ended_at <= start + timedelta(days=1)
    ]


def _decisions(rows: Sequence[Decision]) -> list[DecisionOut]:
    found = [decision_out(d) for d in sorted(rows, key=lambda d: d.made_at) if d.undone_at is None]
    return [d for d in found if d is not None]


def block_history(access: Access, block: Block, days: int) -> HistoryOut:
    """The block's advice of the past days, the newest first."""
    farm, now = access.farm, access.now()
    loaded = load_whole(farm, [block], now)
    rows = list(
        Advice.objects.for_farm(farm)
        .filter(block=block, day__gt=now.date() - timedelta(days=days))
        .defer("working", "inputs", "answer")
        .prefetch_related("decisions__made_by")
        .order_by("-day")
    )
    found = block_past(loaded.inputs[block.pk], float(min(days + 1, 60)))
    past = (found[1].hours, found[1].usable_mm) if found else None
    sets = loaded.sets.get(block.pk, [])
    out = []
    for row in rows:
        on_day = _on_day(sets, row.made_at)
        low, dry = _came_of(past, row.made_at, now)
        out.append(
            HistoryRow(
                id=row.pk,
                day=row.day,
                made_at=row.made_at,
                state=state_of(row),
                start_at=row.start_at,
                gross_mm=row.gross_mm,
                hours=row.hours,
                decisions=_decisions(list(row.decisions.all())),
                sets=given_sets(on_day, now),
                given_mm=sum(s.gross_mm for s in on_day),
                low_mm=low,
                below_refill_days=dry,
            )
        )
    return HistoryOut(block=block.name, time_zone=farm.time_zone, now=now, rows=out)


def past_advice(access: Access, block: Block, advice_id: int) -> PastAdviceOut:
    """A day's advice as it was given, and what it would be now.

    Raises
    ------
    NotFound
    """
    farm = access.farm
    row: Advice | None = (
        Advice.objects.for_farm(farm)
        .filter(block=block, pk=advice_id)
        .prefetch_related("decisions__made_by")
        .first()
    )
    if row is None:
        raise NotFound(sentence("There is no such advice on this block."))
    then = row.made_at.astimezone(farm.now().tzinfo)
    again = load_whole(farm, [block], then, as_known_then=True)
    inputs, answer = again.inputs[block.pk], answer_with_working(again, block)
    kept = read(row.format, {"answer": row.answer, "working": row.working, "inputs": row.inputs})
    return PastAdviceOut(
        id=row.pk,
        block=block.name,
        time_zone=farm.time_zone,
        day=row.day,
        made_at=row.made_at,
        version=row.version,
        same_rules=row.version == RULES_VERSION,
        answer=kept.answer,
        inputs=kept.inputs,
        working=kept.working,
        decisions=_decisions(list(row.decisions.all())),
        now_says=answer_out(block, inputs, answer),
        now_assumed=assumed_out(inputs.assumed, then.date()),
    )
