"""What is to be run today and tomorrow, for whoever runs it; and what did not go as announced."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from enum import StrEnum
from typing import TypeVar

from django.db.models import Model, Q, QuerySet

from server.accounts.models import User
from server.base.schema import Schema
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.models import Farm, Role
from server.plan.clock import midnight_before
from server.plan.models import Announcement
from server.water.equipment import block_system
from server.water.models import Irrigation

M = TypeVar("M", bound=Model)
Status = Irrigation.Status
# An irrigation is late, or runs over, after so long: within it people are on their way.
GRACE = timedelta(minutes=30)
AHEAD = timedelta(days=2)
# One that was planned and never began is told of for so long.
FORGOTTEN = timedelta(days=2)
# Less than so much of what was planned is a cut.
WHOLE = 0.9


class JobOut(Schema):
    """An irrigation to be started or stopped; what it draws [m3/h], depth over the block [mm]."""

    id: int
    block_id: int
    block: str
    supply: str
    irrigator: str | None
    running: bool
    starts_at: datetime
    ends_at: datetime
    hours: float
    gross_mm: float
    volume_m3: float
    flow_m3_h: float
    meter_start_m3: float | None
    note: str


def told_lately(access: Access) -> tuple[Announcement | None, list[dict[str, object]]]:
    """The newest announcement of the last two days and what it changed of a person's jobs."""
    rows = Announcement.objects.for_farm(access.farm).filter(made_at__gt=access.now() - FORGOTTEN)
    newest: Announcement | None = rows.order_by("-number").first()
    if newest is None:
        return None, []
    blocks = Block.objects.for_farm(access.farm)
    own = set(of_reader(blocks, access.role, access.user, "").values_list("pk", flat=True))
    return newest, [c for c in newest.changes if c["block_id"] in own]


def of_reader(rows: QuerySet[M], role: str, reader: User, block: str) -> QuerySet[M]:
    """Of an irrigator what is of his blocks, and of blocks that are nobody's; else all of it.

    ``block`` is the path to a row's block.
    """
    if role != Role.IRRIGATOR:
        return rows
    return rows.filter(Q(**{f"{block}irrigator": reader}) | Q(**{f"{block}irrigator": None}))


class AlarmKind(StrEnum):
    """What did not go as announced."""

    NOT_STARTED = "not started"
    OVERRUN = "overrun"
    CUT_SHORT = "cut short"


class AlarmOut(Schema):
    """An irrigation that did not go as announced; ``since`` when it should have begun or ended, or
    was ended."""

    alarm: AlarmKind
    irrigation_id: int
    block_id: int
    block: str
    irrigator: str | None
    since: datetime


def _rows(farm: Farm) -> QuerySet[Irrigation]:
    rows: QuerySet[Irrigation] = Irrigation.objects.for_farm(farm)
    return rows.select_related("block", "block__irrigator").defer("block__outline")


def jobs(access: Access) -> list[JobOut]:
    """Irrigations that run, or begin before the day after tomorrow, in the order in which they do;
    for an irrigator those of his blocks and of blocks that are nobody's."""
    now = access.now()
    until = midnight_before(now) + AHEAD
    rows = _rows(access.farm).filter(
        Q(status=Status.RUNNING)
        | Q(status=Status.PLANNED, started_at__lt=until, ended_at__gt=now - FORGOTTEN)
    )
    mine = of_reader(rows, access.role, access.user, "block__")
    return [_job(row) for row in mine.order_by("started_at", "pk")]


def _job(row: Irrigation) -> JobOut:
    block = row.block
    return JobOut(
        id=row.pk,
        block_id=block.pk,
        block=block.name,
        supply=block.supply,
        irrigator=block.irrigator.name if block.irrigator else None,
        running=row.status == Status.RUNNING,
        starts_at=row.started_at,
        ends_at=row.ended_at,
        hours=round((row.ended_at - row.started_at) / timedelta(hours=1), 3),
        gross_mm=row.gross_mm,
        volume_m3=row.gross_mm / 1000 * block.area_m2,
        flow_m3_h=block_system(block).application_rate_mm_h * block.area_m2 / 1000,
        meter_start_m3=row.meter_start_m3,
        note=row.note,
    )


def alarms(farm: Farm, now: datetime) -> list[AlarmOut]:
    """What did not go as announced, the newest first."""
    late = _rows(farm).filter(
        status=Status.PLANNED, started_at__lt=now - GRACE, ended_at__gt=now - FORGOTTEN
    )
    over = _rows(farm).filter(status=Status.RUNNING, ended_at__lt=now - GRACE)
    ended = _rows(farm).filter(
        status=Status.DONE, ended_at__gt=now - FORGOTTEN, planned_gross_mm__isnull=False
    )
    cut = [r for r in ended if is_cut_short(r)]
    found: Sequence[tuple[AlarmKind, Irrigation, datetime]] = [
        *((AlarmKind.NOT_STARTED, r, r.started_at) for r in late),
        *((AlarmKind.OVERRUN, r, r.ended_at) for r in over),
        *((AlarmKind.CUT_SHORT, r, r.ended_at) for r in cut),
    ]
    return [
        AlarmOut(
            alarm=kind,
            irrigation_id=r.pk,
            block_id=r.block_id,
            block=r.block.name,
            irrigator=r.block.irrigator.name if r.block.irrigator else None,
            since=since,
        )
        for kind, r, since in sorted(found, key=lambda f: (f[2], f[1].pk), reverse=True)
    ]


def is_cut_short(row: Irrigation) -> bool:
    """Whether an irrigation that ended brought clearly less than was planned."""
    return row.planned_gross_mm is not None and row.gross_mm < WHOLE * row.planned_gross_mm
