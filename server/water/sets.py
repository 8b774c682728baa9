"""Sets planned, begun, ended, logged and mended; what each means for the readings around it."""

import uuid
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from core.sentence import sentence
from core.units import water_depth_mm
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import AHEAD, TOO_FAR_AHEAD, to_instant
from server.blocks.models import Block
from server.blocks.services import find_blocks
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, Entry, record, record_each
from server.farms.models import Farm
from server.farms.past_moment import CLOCK_AHEAD, past_moment
from server.farms.rules import Action
from server.readings.around_water import judge_around_water
from server.water.equipment import block_system
from server.water.meter import beside_on_meter, spread_meter, watered_m2
from server.water.models import Irrigation
from server.water.passes import SeenAt, moves_on, pass_problems

Status = Irrigation.Status
AmountFrom = Irrigation.AmountFrom
LONGEST = timedelta(days=10)
MOST_MM = 1000.0


@dataclass(frozen=True)
class SetFigures:
    """What a person says of a set: when, and how much by one of three ways.

    Times without an offset are farm-local. ``ended_at`` or ``hours``; the depth [mm gross over
    the part watered], or two meter readings [m3] over all its blocks, or neither: then the
    hours at the block's own rate. ``place_from`` and ``place_to`` are shares of the way over a
    block that is watered part by part [-].
    """

    status: str
    started_at: datetime
    ended_at: datetime | None = None
    hours: float | None = None
    gross_mm: float | None = None
    meter_start_m3: float | None = None
    meter_end_m3: float | None = None
    share: float = 1.0
    place_from: float | None = None
    place_to: float | None = None
    note: str = ""


def find_set(access: Access, set_id: int) -> Irrigation:
    """A set of the farm.

    Raises
    ------
    NotFound
    """
    row: Irrigation | None = (
        Irrigation.objects.for_farm(access.farm)
        .select_related("block")
        .select_for_update(of=("self",))
        .filter(pk=set_id)
        .first()
    )
    if row is None:
        raise NotFound(sentence("There is no such irrigation on this farm."))
    return row


def _instant(farm: Farm, at: datetime, field: str) -> datetime:
    moment = to_instant(at, ZoneInfo(farm.time_zone))
    if moment is None:
        raise RequestError(
            sentence("The irrigation was not saved."),
            (
                Problem(
                    field=field,
                    message=sentence("That time was skipped when the clocks went forward."),
                ),
            ),
        )
    return moment


def _times(farm: Farm, figures: SetFigures, usual_hours: float) -> tuple[datetime, datetime]:
    """Start and end as instants, checked against the clock and each other."""
    start = _instant(farm, figures.started_at, "started_at")
    if figures.ended_at is not None:
        end = _instant(farm, figures.ended_at, "ended_at")
    else:
        end = start + timedelta(hours=figures.hours if figures.hours is not None else usual_hours)
    now, problems = farm.now(), []
    if end <= start:
        problems.append(Problem(field="ended_at", message=sentence("It ends before it starts.")))
    elif end - start > LONGEST:
        problems.append(
            Problem(field="ended_at", message=sentence("An irrigation can run ten days at most."))
        )
    if end > now + AHEAD:
        problems.append(Problem(field="started_at", message=TOO_FAR_AHEAD))
    if figures.status == Status.DONE and end > now + CLOCK_AHEAD:
        problems.append(
            Problem(
                field="ended_at",
                message=sentence("It ends in the future; schedule it, or start it."),
            )
        )
    if figures.status == Status.RUNNING and start > now + CLOCK_AHEAD:
        problems.append(
            Problem(
                field="started_at",
                message=sentence("It starts in the future; schedule it instead."),
            )
        )
    if figures.status == Status.PLANNED and end <= now:
        problems.append(
            Problem(
                field="started_at", message=sentence("It is in the past; log it as done instead.")
            )
        )
    if problems:
        raise RequestError(sentence("The irrigation was not saved."), tuple(problems))
    return start, end


def _metered_mm(figures: SetFigures, area_m2: float) -> float | None:
    """Gross depth by the meter over an area; None where it was not read twice."""
    first, last = figures.meter_start_m3, figures.meter_end_m3
    if first is None or last is None:
        return None
    if last <= first:
        raise RequestError(
            sentence("The irrigation was not saved."),
            (
                Problem(
                    field="meter_end_m3",
                    message=sentence(
                        "The meter ran from {first:g} to {last:g} m³: the end must lie above the "
                        "start.",
                        first=first,
                        last=last,
                    ),
                ),
            ),
        )
    return water_depth_mm(last - first, area_m2)


def _figures(
    block: Block, figures: SetFigures, metered: float | None, hours: float
) -> tuple[float, str]:
    """Gross depth over the whole block [mm], and how it is known; ``metered`` on the part that
    was watered."""
    if metered is not None:
        return metered * figures.share, AmountFrom.METER
    if figures.gross_mm is not None:
        return figures.gross_mm * figures.share, AmountFrom.DEPTH
    return block_system(block).application_rate_mm_h * hours * figures.share, AmountFrom.HOURS


def _check(access: Access, figures: SetFigures) -> None:
    action = Action.DECIDE if figures.status == Status.PLANNED else Action.LOG_WATER
    access.require(action)
    problems = []
    if not 0 < figures.share <= 1:
        problems.append(Problem(field="share", message=sentence("Enter 1 to 100 % of the block.")))
    if figures.gross_mm is not None and not 0 < figures.gross_mm <= MOST_MM:
        problems.append(
            Problem(
                field="gross_mm",
                message=sentence(
                    "{gross_mm:g} mm is not a possible depth of one irrigation.",
                    gross_mm=figures.gross_mm,
                ),
            )
        )
    if figures.hours is not None and not 0 < figures.hours <= LONGEST / timedelta(hours=1):
        problems.append(
            Problem(field="hours", message=sentence("Enter hours above 0, ten days at most."))
        )
    if problems:
        raise RequestError(sentence("The irrigation was not saved."), tuple(problems))


def _check_way(row: Irrigation) -> None:
    """Refuse places that can't be; also where nothing moves yet, for another system may be put
    on the block."""
    if problems := pass_problems(row):
        raise RequestError(sentence("The irrigation was not saved."), problems)


_ENTRY: dict[str, Done] = {
    Status.PLANNED: Done.IRRIGATION_SCHEDULED,
    Status.RUNNING: Done.IRRIGATION_STARTED,
    Status.DONE: Done.IRRIGATION_LOGGED,
    Status.CANCELLED: Done.IRRIGATION_CANCELLED,
}


@acting(Action.LOG_WATER)
def add_sets(access: Access, block_ids: Sequence[int], figures: SetFigures) -> list[Irrigation]:
    """Schedule, start or log the same irrigation on one block or several; all or none.

    A meter's volume is spread over all of them by area.

    Raises
    ------
    RequestError
    """
    rows = make_sets(access, block_ids, figures)
    record_each(
        access, _ENTRY[figures.status], (Entry(r.block.name, r.pk, r.block_id) for r in rows)
    )
    return rows


def make_sets(access: Access, block_ids: Sequence[int], figures: SetFigures) -> list[Irrigation]:
    """The irrigations of `add_sets`, or of an act that has an entry of its own for them."""
    _check(access, figures)
    blocks = find_blocks(access, block_ids)
    if not blocks:
        raise RequestError(
            sentence("The irrigation was not saved."),
            (Problem(field="block_ids", message=sentence("Choose a block.")),),
        )
    metered = _metered_mm(figures, figures.share * sum(b.area_m2 for b in blocks))
    together = uuid.uuid4() if len(blocks) > 1 else None
    rows = []
    for block in blocks:
        rate = block_system(block).application_rate_mm_h
        start, end = _times(access.farm, figures, (figures.gross_mm or 0.0) / rate)
        gross, known_by = _figures(block, figures, metered, (end - start) / timedelta(hours=1))
        planned = figures.status == Status.PLANNED
        row = Irrigation(
            block=block,
            status=figures.status,
            started_at=start,
            ended_at=end,
            gross_mm=gross,
            share=figures.share,
            place_from=figures.place_from,
            place_to=figures.place_to,
            amount_from=known_by,
            planned_start_at=start if planned else None,
            planned_gross_mm=gross if planned else None,
            meter_start_m3=figures.meter_start_m3,
            meter_end_m3=figures.meter_end_m3,
            note=figures.note.strip(),
            together=together,
            made_by=access.user,
        )
        _check_way(row)
        row.save()
        rows.append(row)
    judge_around(access.farm, rows)
    return rows


@acting(Action.LOG_WATER)
def start_set(
    access: Access, set_id: int, at: datetime | None, meter_m3: float | None = None
) -> Irrigation:
    """A planned set has been turned on; it is expected to run as long as was planned.

    Raises
    ------
    RequestError
        When it is not a planned one.
    """
    row = find_set(access, set_id)
    if row.status != Status.PLANNED:
        raise RequestError(
            sentence(
                "This irrigation is {status}; only a scheduled one can be started.",
                status=row.status,
            )
        )
    runs = row.ended_at - row.started_at
    start = past_moment(access, at, "started_at", sentence("The irrigation was not started."))
    row.status, row.started_at, row.ended_at = Status.RUNNING, start, start + runs
    row.meter_start_m3 = meter_m3 if meter_m3 is not None else row.meter_start_m3
    row.save()
    judge_around(access.farm, [row])
    _record(access, Done.IRRIGATION_STARTED, row)
    return row


@acting(Action.LOG_WATER)
def correct_set(access: Access, set_id: int, figures: SetFigures) -> Irrigation:
    """End a running set, or correct any set; what it said before stays in its history."""
    row = find_set(access, set_id)
    if row.status == Status.CANCELLED:
        raise RequestError(sentence("This irrigation was cancelled; log another."))
    _check(access, figures)
    before = row.started_at, row.ended_at
    others = beside_on_meter(row)
    rate = block_system(row.block).application_rate_mm_h
    usual = row.gross_mm / row.share / rate
    start, end = _times(access.farm, figures, usual)
    row.share, row.note = figures.share, figures.note.strip()
    metered = _metered_mm(figures, watered_m2([row, *others]))
    row.gross_mm, row.amount_from = _figures(
        row.block, figures, metered, (end - start) / timedelta(hours=1)
    )
    row.status, row.started_at, row.ended_at = figures.status, start, end
    row.place_from, row.place_to = figures.place_from, figures.place_to
    row.meter_start_m3, row.meter_end_m3 = figures.meter_start_m3, figures.meter_end_m3
    if figures.status == Status.PLANNED:
        row.planned_start_at, row.planned_gross_mm = start, row.gross_mm
    _check_way(row)
    row.save()
    if metered is not None:
        # A meter is read once for all that it counts.
        for other in others:
            other.meter_start_m3, other.meter_end_m3 = row.meter_start_m3, row.meter_end_m3
    spread_meter(others, metered)
    judge_around(access.farm, [row, *others], before)
    _record(access, Done.IRRIGATION_CHANGED, row)
    return row


@acting(Action.LOG_WATER)
def add_position(access: Access, set_id: int, seen: SeenAt) -> Irrigation:
    """A machine was seen at a place of its way: from there its water is credited and foreseen.

    Raises
    ------
    RequestError
        Where it does not move on, did not run then, or was seen later already.
    """
    row = find_set(access, set_id)
    if not moves_on(row.block):
        raise RequestError(
            sentence("This block is not irrigated part by part: it has no positions.")
        )
    if row.status not in (Status.RUNNING, Status.DONE):
        raise RequestError(
            sentence("This irrigation is {status}; start it first.", status=row.status)
        )
    at = past_moment(access, seen.at, "at", sentence("The position was not saved."))
    kept = seen.model_copy(update={"at": at})
    row.positions = [*row.positions, kept.model_dump(mode="json")]
    if problems := pass_problems(row):
        fields = tuple(Problem(field="at", message=p.message) for p in problems)
        raise RequestError(sentence("The position was not saved."), fields)
    return _on_its_way(access, row, Done.POSITION_ADDED)


@acting(Action.LOG_WATER)
def remove_position(access: Access, set_id: int) -> Irrigation:
    """Take back the place at which a machine was seen last."""
    row = find_set(access, set_id)
    if not row.positions:
        raise RequestError(sentence("This irrigation has no position to remove."))
    row.positions = row.positions[:-1]
    return _on_its_way(access, row, Done.POSITION_REMOVED)


def _on_its_way(access: Access, row: Irrigation, done: Done) -> Irrigation:
    row.save()
    judge_around(access.farm, [row])
    _record(access, done, row)
    return row


def _record(access: Access, done: Done, row: Irrigation) -> None:
    record(access, done, row.block.name, thing=row.pk, block=row.block_id)


@acting(Action.LOG_WATER)
def cancel_set(access: Access, set_id: int) -> Irrigation:
    """A scheduled irrigation will not run, or a logged one never did; it stays on record."""
    row = find_set(access, set_id)
    if row.status == Status.PLANNED:
        access.require(Action.DECIDE)
    was, others = row.status, beside_on_meter(row)
    row.status = Status.CANCELLED
    row.save()
    # What the meter counted went to the others then.
    spread_meter(others)
    if was in (Status.DONE, Status.RUNNING):
        judge_around(access.farm, [row, *others])
    _record(access, Done.IRRIGATION_CANCELLED, row)
    return row


def judge_around(
    farm: Farm, rows: Iterable[Irrigation], before: tuple[datetime, datetime] | None = None
) -> None:
    """Judge the readings around sets again: a rise has its reason now, or has lost it."""
    spans = [(r.block_id, r.started_at, r.ended_at) for r in rows]
    if before is not None:
        spans += [(block, *before) for block, _, _ in spans[:1]]
    for block_id in {s[0] for s in spans}:
        own_spans = [s for s in spans if s[0] == block_id]
        first, last = min(s[1] for s in own_spans), max(s[2] for s in own_spans)
        judge_around_water(farm, first, last, block_id)
