"""Pictures of instruments, as a person in the field takes them."""

from uuid import UUID

from core.sentence import sentence
from server.base.errors import NotFound, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.files.confined import read_confined
from server.instruments.models import InstrumentPhoto
from server.instruments.pictures import small_picture
from server.instruments.services import find_instrument

MAX_PHOTOS = 30


@acting(Action.RECORD_READINGS, whole=False)
def add_photo(
    access: Access, instrument_id: int, data: bytes, note: str, key: UUID | None = None
) -> InstrumentPhoto:
    """Keep a picture of an instrument; one with a key is kept once, however often it is sent.

    Raises
    ------
    RequestError
    """
    row = find_instrument(access, instrument_id)
    if key is not None and (before := row.photos.filter(key=key).first()):
        return before
    if row.photos.count() >= MAX_PHOTOS:
        raise RequestError(
            sentence(
                "{instrument} has {max_photos} pictures. Remove one first.",
                instrument=row.label,
                max_photos=MAX_PHOTOS,
            )
        )
    photo = InstrumentPhoto(
        instrument=row,
        taken_at=access.now(),
        key=key,
        image=read_confined(small_picture, data),
        note=note.strip()[:200],
        made_by=access.user,
    )
    photo.save()
    record(access, Done.PHOTO_ADDED, row.label, block=row.block_id)
    return photo


@acting(Action.SET_UP_GROUND)
def remove_photo(access: Access, photo_id: int) -> None:
    """Take a picture away.

    Raises
    ------
    NotFound
    """
    photo = find_photo(access, photo_id)
    photo.delete()
    about = photo.instrument
    record(access, Done.PHOTO_REMOVED, about.label, block=about.block_id)


def find_photo(access: Access, photo_id: int) -> InstrumentPhoto:
    """A picture of the farm."""
    photo: InstrumentPhoto | None = (
        InstrumentPhoto.objects.for_farm(access.farm).filter(pk=photo_id).first()
    )
    if photo is None:
        raise NotFound(sentence("There is no such picture on this farm."))
    return photo
