"""Pictures made small, and stripped of where and with what they were taken."""

import io

from django.http import HttpResponse
from PIL import Image, ImageOps

from core.sentence import sentence
from server.base.errors import RequestError
from server.files.broken_file import refuse_broken

MAX_BYTES = 15 * 1024 * 1024
# Decoded at four bytes each; a JPEG is decoded at an eighth of its size where that will do, and
# counts by that.
MAX_PIXELS = 25_000_000
LONG_SIDE = 1600
TOO_MANY = sentence("The picture has too many pixels. Send a smaller one.")


def small_picture(data: bytes) -> bytes:
    """The picture upright, at most 1600 pixels wide or high, as JPEG without metadata.

    Raises
    ------
    RequestError
        What is no picture, or too large.
    """
    if len(data) > MAX_BYTES:
        raise RequestError(sentence("The picture is larger than 15 MB. Send a smaller one."))
    with refuse_broken(sentence("This is not a picture. Send a JPEG, PNG or WebP.")):
        try:
            with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as image:
                image.draft("RGB", (LONG_SIDE, LONG_SIDE))
                if image.width * image.height > MAX_PIXELS:
                    raise RequestError(TOO_MANY)
                image.thumbnail((LONG_SIDE, LONG_SIDE))
                upright = ImageOps.exif_transpose(image).convert("RGB")
        except Image.DecompressionBombError:
            raise RequestError(TOO_MANY) from None
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82)
    return out.getvalue()


def picture_answer(image: bytes | memoryview) -> HttpResponse:
    """A kept picture as a browser takes it; it never changes."""
    answer = HttpResponse(bytes(image), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=86400"
    return answer
