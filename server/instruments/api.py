"""Instruments: their kinds, putting one in, changing it, its pictures."""

from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, Status, UploadedFile

from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.reading_units import units_of
from server.base.error_schema import ERRORS
from server.base.schema import Body, DoneOut
from server.base.signed_in import person
from server.blocks.services import find_block
from server.farms.access import enter
from server.files.confined import content_of
from server.instruments.models import Channel, Instrument, InstrumentPhoto
from server.instruments.photos import add_photo, find_photo, remove_photo
from server.instruments.pictures import picture_answer
from server.instruments.schemas import (
    ChannelOut,
    InstrumentIn,
    InstrumentOut,
    KindOut,
    PhotoOut,
)
from server.instruments.services import (
    add_instrument,
    exclude_sensor,
)

router = Router(tags=["instruments"])


class SuspectIn(Body):
    suspect: bool


def channels_out(row: Instrument) -> list[ChannelOut]:
    """Channels of an instrument, shallow to deep."""
    return [
        ChannelOut(id=c.pk, quantity=Quantity(c.quantity), depth_mm=c.depth_mm, suspect=c.suspect)
        for c in sorted(row.channels.all(), key=lambda c: (c.depth_mm or 0.0, c.quantity))
    ]


def written_quantity(row: Instrument) -> Quantity:
    """What an instrument writes down, its own thermometers aside."""
    kind = InstrumentKind(row.kind)
    own = [Quantity(c.quantity) for c in row.channels.all() if c.quantity != Quantity.TEMPERATURE]
    return own[0] if own else kinds()[kind].quantity


def instrument_out(row: Instrument) -> InstrumentOut:
    """An instrument with its channels."""
    quantity = written_quantity(row)
    return InstrumentOut(
        id=row.pk,
        label=row.label,
        kind=InstrumentKind(row.kind),
        quantity=quantity,
        units=units_of(quantity),
        channels=[c for c in channels_out(row) if c.quantity == quantity],
    )


def user_name(user: object) -> str:
    """Name of a person, empty where there is none."""
    return getattr(user, "name", "") if user else ""


def photo_out(photo: InstrumentPhoto) -> PhotoOut:
    """A picture without its bytes."""
    return PhotoOut(
        id=photo.pk, taken_at=photo.taken_at, note=photo.note, made_by=user_name(photo.made_by)
    )


@router.get(
    "/instrument-kinds", response={200: list[KindOut], **ERRORS}, operation_id="instrument_kinds"
)
def get_kinds(request: HttpRequest) -> list[KindOut]:
    return [
        KindOut(
            kind=kind,
            name=facts.name,
            quantity=facts.quantity,
            raw=[q for q in facts.raw if q is not Quantity.TEMPERATURE],
            units=units_of(facts.quantity),
            has_depths=facts.has_depths,
            in_soil=facts.in_soil,
            logged=facts.logged,
            usual_depths_mm=list(facts.usual_depths_mm),
            lies=facts.lies,
            source=facts.source,
        )
        for kind, facts in kinds().items()
    ]


@router.post(
    "/farms/{slug}/blocks/{block_id}/instruments",
    response={201: InstrumentOut, **ERRORS},
    operation_id="add_instrument",
)
def post_instrument(
    request: HttpRequest, slug: str, block_id: int, data: InstrumentIn
) -> Status[InstrumentOut]:
    access = enter(person(request), slug)
    return Status(201, instrument_out(add_instrument(access, find_block(access, block_id), data)))


@router.post(
    "/farms/{slug}/instruments/{instrument_id}/photos",
    response={201: PhotoOut, **ERRORS},
    operation_id="add_instrument_photo",
)
def post_photo(
    request: HttpRequest,
    slug: str,
    instrument_id: int,
    file: File[UploadedFile],
    note: Form[str] = "",
    key: Form[UUID | None] = None,
) -> Status[PhotoOut]:
    access = enter(person(request), slug)
    return Status(201, photo_out(add_photo(access, instrument_id, content_of(file), note, key)))


@router.get(
    "/farms/{slug}/photos/{photo_id}",
    response={200: bytes, **ERRORS},
    operation_id="instrument_photo",
)
def get_photo(request: HttpRequest, slug: str, photo_id: int) -> HttpResponse:
    """The picture itself, JPEG."""
    photo = find_photo(enter(person(request), slug), photo_id)
    return picture_answer(photo.image)


@router.delete(
    "/farms/{slug}/photos/{photo_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_instrument_photo",
)
def delete_photo(request: HttpRequest, slug: str, photo_id: int) -> DoneOut:
    remove_photo(enter(person(request), slug), photo_id)
    return DoneOut()


@router.patch(
    "/farms/{slug}/channels/{channel_id}",
    response={200: ChannelOut, **ERRORS},
    operation_id="exclude_sensor",
)
def patch_channel(request: HttpRequest, slug: str, channel_id: int, data: SuspectIn) -> Channel:
    """Take a sensor out of the reckoning, or back in; its readings stay."""
    access = enter(person(request), slug)
    return exclude_sensor(access, channel_id, data.suspect)
