"""The daily summary: what to irrigate today, what is next, what changed, what needs attention."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import date, datetime, timedelta
from enum import StrEnum

from core.advice.holds import HoldKind
from core.advice.questions import QuestionKind
from core.advice.vocabulary import Reason, State
from core.instrument.life import LifeStatus
from server.advice.board_schemas import BoardRow
from server.advice.kept import state_of
from server.advice.models import Advice
from server.advice.schemas import DecisionOut, GivenSet
from server.base.schema import Schema
from server.farms.models import Farm
from server.fieldwork.health import health_of
from server.fieldwork.schemas import HealthOut
from server.water.models import Irrigation
from server.weather.forecasts import days_ahead
from server.weather.recorded import FarmWeather, farm_weather

DAY = timedelta(days=1)
# What starts within a day is today's; what starts within three is next.
NEXT = timedelta(days=3)
# A latest start that moved by less is no news (working assumption, no source).
MOVED = timedelta(hours=12)
# What starts sooner starts now.
SOON = timedelta(hours=1)
WEATHER_BEFORE, WEATHER_AHEAD = 1, 3
# Of an answer's reasons so many are told, the weightiest first.
MOST_REASONS = 2


class ChangeKind(StrEnum):
    BELOW_REFILL = "below_refill"
    NO_LONGER_BELOW = "no_longer_below"
    NEWLY_DUE = "newly_due"
    EARLIER = "earlier"
    LATER = "later"
    NO_LONGER_DUE = "no_longer_due"
    DATA_LOST = "data_lost"
    DATA_BACK = "data_back"


class SummaryLine(Schema):
    """A block to irrigate; ``scheduled`` is the irrigation that is scheduled or running for it."""

    block_id: int
    block: str
    crop: str | None
    state: State
    start_at: datetime | None
    hours: float | None
    gross_mm: float | None
    volume_m3: float | None
    supply: str
    irrigator: str | None
    why: list[Reason]
    decision: DecisionOut | None
    scheduled: GivenSet | None


class SummaryTotal(Schema):
    """Of today's irrigation, by water supply or by irrigator; an empty name: not assigned."""

    name: str
    blocks: int
    hours: float
    volume_m3: float


class Change(Schema):
    """A block's advice against yesterday's."""

    block_id: int
    block: str
    kind: ChangeKind
    was_at: datetime | None
    now_at: datetime | None


class Applied(Schema):
    block_id: int
    block: str
    ended_at: datetime
    gross_mm: float


class NoData(Schema):
    block_id: int
    block: str
    reasons: list[Reason]


class OnHold(Schema):
    block_id: int
    block: str
    hold: HoldKind
    until: datetime | None


class Asked(Schema):
    """Readings and log contradict each other; a person can settle it on the block's page."""

    block_id: int
    block: str
    kind: QuestionKind


class InstrumentConcern(Schema):
    """``silent`` where it was never read or not lately; ``reliable`` is the share of the past
    week's readings, None where there were none."""

    instrument_id: int
    label: str
    block: str
    silent: bool
    needs_calibration: bool
    reliable: float | None


class SummaryDay(Schema):
    """A day's weather: recorded where it is over, else forecast. None where it is not known."""

    on: date
    recorded: bool
    et0_mm: float | None
    rain_mm: float | None
    rain_chance: float | None


class SummaryOut(Schema):
    farm: str
    time_zone: str
    now: datetime
    simulated: bool
    below_refill: int
    today: list[SummaryLine]
    by_supply: list[SummaryTotal]
    by_irrigator: list[SummaryTotal]
    next: list[SummaryLine]
    changes: list[Change]
    applied: list[Applied]
    no_data: list[NoData]
    on_hold: list[OnHold]
    asked: list[Asked]
    instruments: list[InstrumentConcern]
    overdue_tasks: int
    weather: list[SummaryDay]


def summary_of(farm: Farm, rows: Sequence[BoardRow]) -> SummaryOut:
    """The summary as of now, from the board's lines."""
    now = farm.now()
    lines = sorted((_line(r, now) for r in rows), key=lambda x: _begin(x, now))
    today = [x for x in lines if _is_todays(x, now)]
    named = {x.block_id for x in today}
    after = [x for x in lines if x.block_id not in named and _is_next(x, now)]
    health = health_of(farm)
    return SummaryOut(
        farm=farm.name,
        time_zone=farm.time_zone,
        now=now,
        simulated=farm.simulated,
        below_refill=sum(r.answer.state is State.BELOW_REFILL for r in rows),
        today=today,
        by_supply=_totals((x.supply, x) for x in today),
        by_irrigator=_totals((x.irrigator or "", x) for x in today),
        next=after,
        changes=_changes(farm, rows, now),
        applied=_applied(rows, now),
        no_data=[
            NoData(block_id=r.id, block=r.name, reasons=r.answer.reasons[:MOST_REASONS])
            for r in rows
            if r.answer.state is State.NO_RELIABLE_DATA
        ],
        on_hold=[
            OnHold(block_id=r.id, block=r.name, hold=r.answer.hold, until=r.answer.hold_until)
            for r in rows
            if r.answer.hold is not None
        ],
        asked=[
            Asked(block_id=r.id, block=r.name, kind=r.answer.question.kind)
            for r in rows
            if r.answer.question is not None
        ],
        instruments=[x for h in health if (x := _concern(h)) is not None],
        overdue_tasks=sum(h.next_task is not None and h.next_task.overdue for h in health),
        weather=_weather(farm_weather(farm, now, WEATHER_BEFORE + 1), now.date()),
    )


def _concern(health: HealthOut) -> InstrumentConcern | None:
    """What is wrong with an instrument in use; None where nothing is."""
    if health.status is LifeStatus.RETIRED:
        return None
    silent = health.silent or health.last_at is None
    if not (silent or health.unreliable or health.needs_calibration):
        return None
    return InstrumentConcern(
        instrument_id=health.id,
        label=health.label,
        block=health.block,
        silent=silent,
        needs_calibration=health.needs_calibration,
        reliable=health.trusted,
    )


def _line(row: BoardRow, now: datetime) -> SummaryLine:
    a = row.answer
    coming = [
        s
        for s in row.sets
        if s.status == Irrigation.Status.RUNNING
        or (s.status == Irrigation.Status.PLANNED and s.ends_at > now)
    ]
    scheduled = min(coming, key=lambda s: s.starts_at, default=None)
    advised = a.amount
    hours = a.run.total_hours if a.run else (advised.hours if advised else None)
    if scheduled is not None:
        hours = scheduled.end_hours - scheduled.start_hours
    gross = scheduled.gross_mm if scheduled else (advised.gross_mm if advised else None)
    return SummaryLine(
        block_id=row.id,
        block=row.name,
        crop=row.crop,
        state=a.state,
        start_at=a.start_at,
        hours=hours,
        gross_mm=gross,
        volume_m3=None if gross is None else gross * row.area_m2 / 1000,
        supply=row.supply,
        irrigator=row.irrigator,
        why=a.reasons[:MOST_REASONS],
        decision=row.decision,
        scheduled=scheduled,
    )


def _begin(line: SummaryLine, now: datetime) -> datetime:
    """When it starts: as scheduled, else the latest it should."""
    return line.scheduled.starts_at if line.scheduled else (line.start_at or now)


def _is_skipped(line: SummaryLine) -> bool:
    """Whether a person decided against what is advised today, and scheduled nothing else."""
    declined = line.decision is not None and line.decision.kind == "declined"
    return declined and line.scheduled is None


def _is_todays(line: SummaryLine, now: datetime) -> bool:
    """Whether it starts, runs or is due within a day; what a person skipped today does not."""
    if line.scheduled is not None:
        return line.scheduled.starts_at <= now + DAY
    if _is_skipped(line):
        return False
    due = line.state in (State.BELOW_REFILL, State.IRRIGATE_NOW)
    return due and line.hours is not None


def _is_next(line: SummaryLine, now: datetime) -> bool:
    return (
        line.state is not State.ON_HOLD
        and not _is_skipped(line)
        and line.hours is not None
        and now - DAY < _begin(line, now) <= now + NEXT
        and (line.scheduled is not None or line.start_at is not None)
    )


def _totals(lines: Iterable[tuple[str, SummaryLine]]) -> list[SummaryTotal]:
    """Sums by name, the longest first; who is not named comes last."""
    by_name: dict[str, list[SummaryLine]] = defaultdict(list)
    for name, line in lines:
        by_name[name].append(line)
    found = [
        SummaryTotal(
            name=name,
            blocks=len(own),
            hours=sum(x.hours or 0.0 for x in own),
            volume_m3=sum(x.volume_m3 or 0.0 for x in own),
        )
        for name, own in by_name.items()
    ]
    return sorted(found, key=lambda x: (x.name == "", -x.hours, x.name))


def _changes(farm: Farm, rows: Sequence[BoardRow], now: datetime) -> list[Change]:
    """What yesterday's advice said otherwise; nothing of blocks that had none."""
    yesterday = Advice.objects.for_farm(farm).filter(day=now.date() - DAY)
    was = {a.block_id: a for a in yesterday.only("block_id", "state", "format", "start_at")}
    out = []
    for row in rows:
        old = was.get(row.id)
        kind = None if old is None else _changed(old, row, now)
        if old is not None and kind is not None:
            out.append(
                Change(
                    block_id=row.id,
                    block=row.name,
                    kind=kind,
                    was_at=old.start_at,
                    now_at=row.answer.start_at,
                )
            )
    return out


def _changed(old: Advice, row: BoardRow, now_at: datetime) -> ChangeKind | None:
    was, now = state_of(old), row.answer.state
    if was is not now:
        for state, into, out in (
            (State.NO_RELIABLE_DATA, ChangeKind.DATA_LOST, ChangeKind.DATA_BACK),
            (State.BELOW_REFILL, ChangeKind.BELOW_REFILL, ChangeKind.NO_LONGER_BELOW),
        ):
            if now is state:
                return into
            if was is state:
                return out
    before, after = old.start_at, row.answer.start_at
    if now is State.BELOW_REFILL or (before is None and after is None):
        return None
    if before is None:
        return ChangeKind.NEWLY_DUE
    if after is None:
        return ChangeKind.NO_LONGER_DUE
    # What is due now, and was yesterday already, is still due and no later.
    if abs(after - before) < MOVED or before < after <= now_at + SOON:
        return None
    return ChangeKind.EARLIER if after < before else ChangeKind.LATER


def _applied(rows: Sequence[BoardRow], now: datetime) -> list[Applied]:
    """Irrigation that ended within the past day, the newest first."""
    found = [
        Applied(block_id=r.id, block=r.name, ended_at=s.ends_at, gross_mm=s.gross_mm)
        for r in rows
        for s in r.sets
        if s.status == Irrigation.Status.DONE and now - DAY < s.ends_at <= now
    ]
    return sorted(found, key=lambda x: x.ended_at, reverse=True)


def _weather(weather: FarmWeather, today: date) -> list[SummaryDay]:
    """Yesterday as it was recorded, today and the next days as they are forecast."""
    past = [
        SummaryDay(on=d.date, recorded=True, et0_mm=d.et0_mm, rain_mm=d.rain_mm, rain_chance=None)
        for d in weather.days
        if today - DAY <= d.date < today
    ]
    ahead = [
        SummaryDay(
            on=d.on,
            recorded=False,
            et0_mm=d.et0_mm,
            rain_mm=d.rain_likely_mm,
            rain_chance=d.rain_chance,
        )
        for d in days_ahead(weather.forecast, today)[:WEATHER_AHEAD]
    ]
    return [*past, *ahead]
