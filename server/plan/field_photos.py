"""Pictures that somebody in the field took with a report."""

from uuid import UUID

from core.sentence import sentence
from server.base.errors import NotFound
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.rules import Action
from server.files.confined import read_confined
from server.instruments.pictures import small_picture
from server.plan.models import FieldPhoto


# It comes before its report, which is what the change history tells of.
@acting(Action.LOG_WATER, whole=False)
def keep_field_photo(access: Access, key: UUID, data: bytes) -> FieldPhoto:
    """Keep the picture of a report, known by the report's key; sent again it is kept once.

    Raises
    ------
    RequestError
        What is no picture, or too large.
    """
    before: FieldPhoto | None = FieldPhoto.objects.for_farm(access.farm).filter(key=key).first()
    if before is not None:
        return before
    image = read_confined(small_picture, data)
    row = FieldPhoto(
        farm=access.farm, key=key, image=image, received_at=access.now(), made_by=access.user
    )
    row.save()
    return row


def find_field_photo(access: Access, photo_id: int) -> FieldPhoto:
    """A picture of the farm.

    Raises
    ------
    NotFound
    """
    row: FieldPhoto | None = FieldPhoto.objects.for_farm(access.farm).filter(pk=photo_id).first()
    if row is None:
        raise NotFound(sentence("There is no such picture on this farm."))
    return row
