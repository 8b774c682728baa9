"""Instruments: put one in, mark a sensor as doubtful."""

from django.db import transaction
from django.http import HttpRequest
from ninja import Field, Router, Schema, Status

from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.reading_units import ReadingUnit, units_of
from server.blocks.services import find_block
from server.farms.access import Access, enter
from server.farms.rules import Action
from server.instruments.models import Channel, Instrument
from server.refusal import NotThere, Problem, Refused
from server.refusal_schema import REFUSALS
from server.signed_in import person

router = Router(tags=["instruments"])


class InstrumentIn(Schema):
    """Depths in mm."""

    label: str = Field(max_length=80)
    kind: InstrumentKind
    depths_mm: list[float]


class ChannelOut(Schema):
    id: int
    quantity: Quantity
    depth_mm: float | None
    suspect: bool


class InstrumentOut(Schema):
    id: int
    label: str
    kind: InstrumentKind
    quantity: Quantity
    units: list[ReadingUnit]
    channels: list[ChannelOut]


class SuspectIn(Schema):
    suspect: bool


def instrument_out(row: Instrument) -> InstrumentOut:
    """An instrument with its channels, shallow to deep."""
    kind = InstrumentKind(row.kind)
    return InstrumentOut(
        id=row.pk,
        label=row.label,
        kind=kind,
        quantity=kinds()[kind].quantity,
        units=units_of(kinds()[kind].quantity),
        channels=[
            ChannelOut(
                id=c.pk, quantity=Quantity(c.quantity), depth_mm=c.depth_mm, suspect=c.suspect
            )
            for c in sorted(row.channels.all(), key=lambda c: c.depth_mm or 0.0)
        ],
    )


def find_instrument(access: Access, instrument_id: int) -> Instrument:
    """An instrument of the farm with its channels."""
    row: Instrument | None = (
        Instrument.objects.for_farm(access.farm)
        .select_related("block")
        .prefetch_related("channels")
        .filter(pk=instrument_id)
        .first()
    )
    if row is None:
        raise NotThere("There is no such instrument on this farm.")
    return row


@router.post(
    "/farms/{slug}/blocks/{block_id}/instruments",
    response={201: InstrumentOut, **REFUSALS},
    operation_id="make_instrument",
)
def make_instrument(
    request: HttpRequest, slug: str, block_id: int, data: InstrumentIn
) -> Status[InstrumentOut]:
    access = enter(person(request), slug, Action.SET_UP_GROUND)
    block = find_block(access, block_id)
    problems = []
    label = data.label.strip()
    if not label:
        problems.append(Problem(field="label", message="Give the instrument a name."))
    elif block.instruments.filter(label__iexact=label).exists():
        problems.append(Problem(field="label", message=f"{block.name} has a {label} already."))
    if not data.depths_mm or len(data.depths_mm) > 30:
        problems.append(Problem(field="depths_mm", message="Give one to thirty depths."))
    if any(not 0 < d <= 5000 for d in data.depths_mm):
        problems.append(
            Problem(field="depths_mm", message="Depths lie below the surface, down to 5 m.")
        )
    if len(set(data.depths_mm)) < len(data.depths_mm):
        problems.append(Problem(field="depths_mm", message="A depth is given twice."))
    if problems:
        raise Refused("The instrument was not saved.", tuple(problems))
    with transaction.atomic():
        row = Instrument(block=block, label=label, kind=str(data.kind))
        row.save()
        for depth in sorted(data.depths_mm):
            quantity = str(kinds()[data.kind].quantity)
            Channel(instrument=row, quantity=quantity, depth_mm=depth).save()
    return Status(201, instrument_out(row))


@router.patch(
    "/farms/{slug}/channels/{channel_id}",
    response={200: ChannelOut, **REFUSALS},
    operation_id="mark_channel",
)
def mark_channel(request: HttpRequest, slug: str, channel_id: int, data: SuspectIn) -> Channel:
    """Take a sensor out of the reckoning, or back in; its readings stay."""
    access = enter(person(request), slug, Action.RECORD_READINGS)
    channel: Channel | None = Channel.objects.for_farm(access.farm).filter(pk=channel_id).first()
    if channel is None:
        raise NotThere("There is no such sensor on this farm.")
    channel.suspect = data.suspect
    channel.save(update_fields=["suspect"])
    return channel
