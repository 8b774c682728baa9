"""Rounds of leaf readings: recorded, kept or not, taken out."""

from datetime import datetime, timedelta
from typing import Annotated
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction
from ninja import Field

from core.leaf.round import DRIEST_MPA, WETTEST_MPA, Sky, impossible
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import Moment, to_instant
from server.base.schema import Body
from server.blocks.models import Block
from server.blocks.services import find_block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.past_moment import CLOCK_AHEAD
from server.farms.rules import Action
from server.leaves.models import LONGEST_NAME, StemLeaf, StemRound

MOST_LEAVES = 120
LONGEST = timedelta(hours=12)


class LeafIn(Body):
    """One bagged leaf, potential below zero [MPa]."""

    zone: str = Field("", max_length=LONGEST_NAME)
    plant: str = Field("", max_length=LONGEST_NAME)
    mpa: float


class StemRoundIn(Body):
    """A round; times without an offset are farm-local. ``key`` is made where it was written down:
    sent again, the round is known."""

    key: UUID
    started_at: Moment
    ended_at: Moment
    sky: Sky = Sky.CLEAR
    bagged_min: float | None = Field(None, ge=0, le=1440)
    air_c: float | None = Field(None, ge=-20, le=60)
    humidity: float | None = Field(None, ge=0, le=100)
    note: str = Field("", max_length=300)
    leaves: Annotated[list[LeafIn], Field(min_length=1, max_length=MOST_LEAVES)]


def _problems(
    data: StemRoundIn, start: datetime | None, end: datetime | None, now: datetime
) -> list[Problem]:
    out = []
    if start is None or end is None:
        field = "started_at" if start is None else "ended_at"
        out.append(Problem(field=field, message=sentence("The clocks skipped that time.")))
    elif end < start or end - start > LONGEST:
        out.append(
            Problem(
                field="ended_at",
                message=sentence("A round ends after it starts, within twelve hours."),
            )
        )
    elif end > now + CLOCK_AHEAD:
        out.append(Problem(field="ended_at", message=sentence("That lies in the future.")))
    for k in impossible([leaf.mpa for leaf in data.leaves]):
        out.append(
            Problem(
                field=f"leaves.{k}.mpa",
                message=sentence(
                    "{value:g} MPa in row {row} is no reading of a leaf; they lie between {low:g} "
                    "and {high:g} MPa. 10 bar are 1 MPa.",
                    value=data.leaves[k].mpa,
                    row=k + 1,
                    low=DRIEST_MPA,
                    high=WETTEST_MPA,
                ),
            )
        )
    return out


@acting(Action.RECORD_READINGS)
def add_stem_round(access: Access, block_id: int, data: StemRoundIn) -> StemRound:
    """Record a round; all of it or nothing. One that is known is left as it is.

    Raises
    ------
    RequestError
    """
    block = find_block(access, block_id)
    known = StemRound.objects.for_farm(access.farm).filter(block=block, key=data.key).first()
    if known is not None:
        return known
    zone = ZoneInfo(access.farm.time_zone)
    start, end = to_instant(data.started_at, zone), to_instant(data.ended_at, zone)
    found = _problems(data, start, end, access.now())
    if found or start is None or end is None:
        raise RequestError(sentence("The round was not saved."), tuple(found))
    with transaction.atomic():
        row = StemRound(
            block=block,
            key=data.key,
            started_at=start,
            ended_at=end,
            sky=data.sky,
            bagged_min=data.bagged_min,
            air_c=data.air_c,
            humidity=data.humidity,
            note=data.note,
            made_by=access.user,
        )
        row.save()
        StemLeaf.unscoped.bulk_create(
            StemLeaf(round=row, place=k, zone=x.zone.strip(), plant=x.plant.strip(), mpa=x.mpa)
            for k, x in enumerate(data.leaves, start=1)
        )
        record(access, Done.STEM_ROUND_ADDED, block.name, row.pk, block.pk)
    return row


def find_stem_round(access: Access, block: Block, round_id: int) -> StemRound:
    """A round of a block.

    Raises
    ------
    NotFound
    """
    row = StemRound.objects.for_farm(access.farm).filter(block=block, pk=round_id).first()
    if row is None:
        raise NotFound(sentence("There is no such round in this block."))
    return row


@acting(Action.RECORD_READINGS)
def keep_stem_round(access: Access, block_id: int, round_id: int, kept: bool) -> StemRound:
    """Take a round for good whatever speaks against it, or leave that to the checks."""
    block = find_block(access, block_id)
    row = find_stem_round(access, block, round_id)
    row.kept = kept
    row.save()
    done = Done.STEM_ROUND_KEPT if kept else Done.STEM_ROUND_UNKEPT
    record(access, done, block.name, row.pk, block.pk)
    return row


@acting(Action.RECORD_READINGS)
def remove_stem_round(access: Access, block_id: int, round_id: int) -> None:
    """Take a round out; the change history keeps that it was there."""
    block = find_block(access, block_id)
    row = find_stem_round(access, block, round_id)
    record(access, Done.STEM_ROUND_REMOVED, block.name, row.pk, block.pk)
    row.delete()
