"""Pictures of instruments: made small, stripped of where and with what they were taken."""

import io
from uuid import UUID

from PIL import Image, ImageOps, UnidentifiedImageError

from server.farms.access import Access
from server.farms.rules import Action
from server.instruments.models import InstrumentPhoto
from server.instruments.services import find_instrument
from server.refusal import NotThere, Refused

MAX_BYTES = 15 * 1024 * 1024
# Decoded at four bytes each; a JPEG is decoded at an eighth of its size where that will do, and
# counts by that.
MAX_PIXELS = 25_000_000
LONG_SIDE = 1600
MAX_PHOTOS = 30


def _small(data: bytes) -> bytes:
    """The picture upright, at most 1600 pixels wide or high, as JPEG without metadata."""
    if len(data) > MAX_BYTES:
        raise Refused("The picture is larger than 15 MB. Send a smaller one.")
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as image:
            image.draft("RGB", (LONG_SIDE, LONG_SIDE))
            if image.width * image.height > MAX_PIXELS:
                raise Refused("The picture has too many pixels. Send a smaller one.")
            image.thumbnail((LONG_SIDE, LONG_SIDE))
            upright = ImageOps.exif_transpose(image).convert("RGB")
    except Image.DecompressionBombError:
        raise Refused("The picture has too many pixels. Send a smaller one.") from None
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError):
        raise Refused("This is no picture. Send a JPEG, PNG or WebP.") from None
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82)
    return out.getvalue()


def add_photo(
    access: Access, instrument_id: int, data: bytes, note: str, key: UUID | None = None
) -> InstrumentPhoto:
    """Keep a picture of an instrument; one with a key is kept once, however often it is sent.

    Raises
    ------
    Refused
    """
    access.require(Action.RECORD_READINGS)
    row = find_instrument(access, instrument_id)
    if key is not None and (before := row.photos.filter(key=key).first()):
        return before
    if row.photos.count() >= MAX_PHOTOS:
        raise Refused(f"{row.label} has {MAX_PHOTOS} pictures. Remove one first.")
    photo = InstrumentPhoto(
        instrument=row,
        taken_at=access.farm.now(),
        key=key,
        image=_small(data),
        note=note.strip()[:200],
        made_by=access.user,
    )
    photo.save()
    return photo


def find_photo(access: Access, photo_id: int) -> InstrumentPhoto:
    """A picture of the farm."""
    photo: InstrumentPhoto | None = (
        InstrumentPhoto.objects.for_farm(access.farm).filter(pk=photo_id).first()
    )
    if photo is None:
        raise NotThere("There is no such picture on this farm.")
    return photo
