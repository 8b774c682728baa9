"""The crops a farm can choose from, and changing its own."""

from typing import Any

from django.db.models import Count, QuerySet

from core.crop.catalogue import Crop, CropProblem, crops
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.crops.models import FarmCrop
from server.crops.own import differences, own_crop, own_key, with_values
from server.crops.schemas import CropIn
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action

_FIELD = {"root": "root_schedule_mm"}


def own_crops(access: Access) -> QuerySet[FarmCrop]:
    """The farm's own crops, by name."""
    rows: QuerySet[FarmCrop] = FarmCrop.objects.for_farm(access.farm)
    return rows.order_by("name")


def with_seasons(rows: QuerySet[FarmCrop]) -> list[tuple[FarmCrop, int]]:
    """Each crop with the number of seasons that grow it."""
    counted = rows.annotate(n=Count("seasons")).values_list("pk", "n")
    count = dict(counted)
    return [(row, count[row.pk]) for row in rows]


def find_own(access: Access, key: str) -> FarmCrop:
    """A crop of the farm's own by its key.

    Raises
    ------
    NotFound
    """
    number = key.removeprefix("own-")
    row = None
    if key.startswith("own-") and number.isdigit() and len(number) < 15:
        row = own_crops(access).filter(pk=int(number)).first()
    if row is None:
        raise NotFound(sentence("There is no such crop on this farm."))
    return row


def crop_by_key(access: Access, key: str) -> Crop:
    """A crop of the book or the farm's own.

    Raises
    ------
    RequestError
        On the field ``crop_key``.
    """
    if key in crops():
        return crops()[key]
    try:
        return own_crop(find_own(access, key))
    except NotFound:
        raise RequestError(
            sentence("The crop is not known."),
            (
                Problem(
                    field="crop_key",
                    message=sentence("There is no such crop; choose one of the list."),
                ),
            ),
        ) from None


def season_columns(access: Access, key: str) -> dict[str, Any]:
    """A chosen crop as columns of a season."""
    crop_by_key(access, key)
    if key in crops():
        return {"crop_key": key, "farm_crop": None}
    return {"crop_key": "", "farm_crop": find_own(access, key)}


@acting(Action.SET_UP_GROUND)
def save_own(access: Access, data: CropIn, key: str | None = None) -> FarmCrop:
    """Make or change a crop of the farm's own; only what differs from the book is kept."""
    row = find_own(access, key) if key else FarmCrop(farm=access.farm)
    name = data.name.strip()
    problems = []
    same = FarmCrop.objects.for_farm(access.farm).filter(name__iexact=name).exclude(pk=row.pk)
    if not name:
        problems.append(Problem(field="name", message=sentence("Enter a name for the crop.")))
    elif same.exists() or name.lower() in {c.name.lower() for c in crops().values()}:
        problems.append(
            Problem(
                field="name",
                message=sentence("{name} exists already. Choose another name.", name=name),
            )
        )
    if data.book_key not in crops():
        problems.append(
            Problem(field="book_key", message=sentence("There is no such published crop."))
        )
    if problems:
        raise RequestError(sentence("The crop was not saved."), tuple(problems))
    typed = data.model_dump(mode="json", exclude={"name", "book_key", "reason"}, exclude_unset=True)
    if typed.get("height_m") is None:
        typed.pop("height_m", None)
    values = differences(typed, data.book_key)
    try:
        with_values(data.book_key, values, own_key(row), name, "the farm's own")
    except CropProblem as problem:
        field = _FIELD.get(problem.field, problem.field)
        raise RequestError(
            sentence("The crop was not saved."), (Problem(field=field, message=problem.message),)
        ) from None
    row.name, row.book_key, row.values = name, data.book_key, values
    row.reason = data.reason.strip()
    row.save()
    record(access, Done.CROP_CHANGED if key else Done.CROP_ADDED, name)
    return row


@acting(Action.SET_UP_GROUND)
def delete_own(access: Access, key: str) -> None:
    """Take a crop of the farm's own away; refused while a season grows it."""
    row = find_own(access, key)
    if row.seasons.exists():
        raise RequestError(
            sentence(
                "The crop was not removed: blocks grow it. Choose another crop for them first."
            )
        )
    row.delete()
    record(access, Done.CROP_REMOVED, row.name)
