"""Block outlines from a file: matched by name, shown first, then saved all or none."""

from dataclasses import dataclass
from typing import Any

from shapely.geometry import MultiPolygon, Polygon

from core.land.outline import OutlineProblem, area_m2, outline_of
from core.land.projection import looks_swapped
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.blocks.models import Block
from server.blocks.services import find_block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.files.confined import read_confined
from server.maps.files import FileFeatures, read_outlines
from server.maps.outlines import block_like, give_outline, outlined, refuse_overlaps, stored_outline
from server.maps.schemas import ImportLine, ImportOut

NAMES = ("name", "block", "field", "label", "title", "id")
MAX_PROBLEMS = 50


@dataclass(frozen=True)
class _Line:
    """A feature understood: its name, its outline, and the block it belongs to."""

    row: int
    name: str
    feature: dict[str, Any]
    outline: Polygon | MultiPolygon
    block: Block | None


def _name_properties(found: FileFeatures, stated: str) -> list[str]:
    """Properties that may hold the name, the likeliest first: the one stated, or all usual ones."""
    if stated:
        if stated not in found.properties:
            raise RequestError(
                sentence("The file was not imported."),
                (
                    Problem(
                        field="name_property",
                        message=sentence("No feature has a “{stated}”.", stated=stated),
                    ),
                ),
            )
        return [stated]
    usual = [p for p in found.properties if p.lower() in NAMES]
    return sorted(usual, key=lambda p: NAMES.index(p.lower()))


def _lines(access: Access, found: FileFeatures, names: list[str]) -> list[_Line]:
    blocks = {b.name.lower(): b for b in Block.objects.for_farm(access.farm)}
    lines: list[_Line] = []
    problems: list[Problem] = []
    seen: dict[str, int] = {}
    for item in found.features:
        properties = item.feature.get("properties")
        given = [properties.get(n) for n in names] if isinstance(properties, dict) else []
        written_name = next((str(g).strip()[:80] for g in given if g not in (None, "")), "")
        name = written_name or f"Outline {item.row}"
        try:
            outline = outline_of(item.feature.get("geometry"))
        except OutlineProblem as problem:
            problems.append(
                Problem(
                    row=item.row,
                    message=sentence("“{name}”: {problem}", name=name, problem=problem.message),
                )
            )
            continue
        if name.lower() in seen:
            problems.append(
                Problem(
                    row=item.row,
                    message=sentence(
                        "“{name}” is the name of feature {number} too; names must differ. Choose "
                        "another property for the name.",
                        name=name,
                        number=seen[name.lower()],
                    ),
                )
            )
            continue
        seen[name.lower()] = item.row
        lines.append(_Line(item.row, name, item.feature, outline, blocks.get(name.lower())))
    if problems:
        raise RequestError(
            sentence("The file was not imported; nothing was changed."),
            tuple(problems[:MAX_PROBLEMS]),
        )
    return lines


def _check_axes(access: Access, lines: list[_Line]) -> None:
    """Refuse a file whose axes seem exchanged, by where the farm's own outlines lie."""
    home = next(iter(outlined(access)), None)
    if home is None or not lines:
        return
    point = stored_outline(home).representative_point()
    first = lines[0].outline.representative_point()
    if looks_swapped((first.x, first.y), (point.x, point.y)):
        raise RequestError(
            sentence("The file was not imported."),
            (
                Problem(
                    row=lines[0].row,
                    field="latitude_first",
                    message=sentence(
                        "The outlines lie far from the farm, but with latitude and longitude "
                        "exchanged they lie on it. Tick “latitude comes first”."
                    ),
                ),
            ),
        )


@dataclass(frozen=True)
class FileReading:
    """A file as it was sent, and how it is to be read; see `read_outlines`."""

    content: bytes
    name: str
    projection: str
    latitude_first: bool


@acting(Action.SET_UP_GROUND)
def import_outlines(
    access: Access,
    file: FileReading,
    name_property: str,
    like_block_id: int | None,
    take_area: bool,
    dry_run: bool,
) -> ImportOut:
    """Say what becomes of each feature, and do it unless this is a dry run.

    Parameters
    ----------
    like_block_id : int, optional
        New blocks take this one's soil and equipment; without it features that match no block
        are left out.
    take_area : bool
        Whether matched blocks take the outline's area for theirs.
    """
    found = read_confined(
        read_outlines, file.content, file.name, file.projection, file.latitude_first
    )
    names = _name_properties(found, name_property)
    lines = _lines(access, found, names)
    pattern = find_block(access, like_block_id) if like_block_id is not None else None
    _check_axes(access, lines)
    used = [x for x in lines if x.block is not None or pattern is not None]
    others = outlined(access, [x.block.pk for x in used if x.block])
    refuse_overlaps(
        [*(x.name for x in used), *(b.name for b in others)],
        [*(x.outline for x in used), *(stored_outline(b) for b in others)],
    )
    if not dry_run:
        for line in used:
            if line.block is not None:
                give_outline(line.block, line.feature)
                if take_area:
                    line.block.area_m2 = area_m2(line.outline)
                line.block.save()
                record(access, Done.OUTLINE_CHANGED, line.block.name, block=line.block.pk)
            elif pattern is not None:
                area = area_m2(line.outline)
                made = block_like(access, pattern, line.name, area, line.feature)
                record(access, Done.BLOCK_ADDED, made.name, block=made.pk)
    return ImportOut(
        projection=found.projection,
        properties=list(found.properties),
        name_property=names[0] if names else "",
        lines=[
            ImportLine(
                row=x.row,
                name=x.name,
                action="outline" if x.block else "new block" if pattern else "left out",
                outline_m2=area_m2(x.outline),
                stated_m2=x.block.area_m2 if x.block else None,
                geometry=x.feature["geometry"],
            )
            for x in lines
        ],
        saved=not dry_run,
    )
