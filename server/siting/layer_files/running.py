"""The long steps of a layer file, as a worker runs them: looked at, then read whole and stored.

Each can be broken off at any point and begun again; its state says which it is.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from types import MappingProxyType
from typing import Any

import numpy as np
from django.db import transaction
from django.db.models import F

from core.land.outline import outline_of
from core.sentence import Sentence, sentence
from core.siting.layer import LayerKind
from core.siting.problem import SitingProblem
from core.siting.raster import raster_over
from server.base.errors import RequestError
from server.base.hold import held
from server.base.incident import NOBODYS, record_incident
from server.blocks.models import Block
from server.files.confined import confined, confined_parts
from server.files.kept_file import drop_file, kept_file
from server.siting.layer_files.first_look import first_look
from server.siting.layer_files.places import FAR_KM, Place, nearest_place
from server.siting.layer_files.read_layer import LayerPoints, read_layer
from server.siting.layer_files.reading import LayerReading
from server.siting.making import MadeLayer, made_layer, points_of_block
from server.siting.models import AT_WORK, LayerFile, LayerFileState, SitingLayer

# A step that its worker or the database did not survive as often is not tried again by itself.
MAX_ATTEMPTS = 3
# A block with fewer points of a file than these is not meant by it.
FEWEST_POINTS = 20


def run_step(file_id: int) -> None:
    """Do what a file's state asks for; nothing when another worker does, or it was deleted."""
    with held(f"layer-file-{file_id}") as is_held:
        if not is_held:
            return
        rows = LayerFile.unscoped.filter(pk=file_id, state__in=AT_WORK)
        if not rows.update(attempts=F("attempts") + 1):
            return
        row: LayerFile = rows.select_related("farm").get()
        if row.attempts > MAX_ATTEMPTS:
            _fail(row, sentence("Reading the file failed several times. Delete it and try again."))
            return
        try:
            _WORK[LayerFileState(row.state)](row)
        except RequestError as refused:
            _fail(row, " ".join([refused.message, *(p.message for p in refused.problems[:3])]))
        except SitingProblem as problem:
            _fail(row, problem.message)
        except NOBODYS:
            raise
        except Exception:
            number = record_incident(f"layer file {file_id}, {row.state}")
            _fail(row, sentence("Reading the file failed, incident {number}.", number=number))


def _fail(row: LayerFile, message: str | Sentence) -> None:
    """Put a file back to where a person can go on from."""
    back = LayerFileState.LOOKED if row.look is not None else LayerFileState.FAILED
    LayerFile.unscoped.filter(pk=row.pk, state=row.state).update(
        state=back, problem=str(message)[:500]
    )


def _blocks(row: LayerFile) -> list[Block]:
    return list(Block.objects.for_farm(row.farm).exclude(outline=None).order_by("name"))


def _places(blocks: list[Block]) -> list[Place]:
    return [Place(b.name, outline_of((b.outline or {}).get("geometry"))) for b in blocks]


def _look(row: LayerFile) -> None:
    reading = LayerReading.model_validate(row.reading) if row.reading else None
    places = _places(_blocks(row))
    with kept_file(row) as path:
        look, used = confined(first_look, path, row.file_name, places, reading)
    LayerFile.unscoped.filter(pk=row.pk, state=LayerFileState.LOOKING).update(
        state=LayerFileState.LOOKED,
        look=look.model_dump(mode="json"),
        reading=used.model_dump(mode="json"),
        problem="",
    )


@dataclass(frozen=True)
class _Read:
    """Points of a file, and rows left out because their position can't be read."""

    points: int
    without_position: int


def _made_of_block(
    found: LayerPoints, kind: LayerKind, geometry: dict[str, Any]
) -> MadeLayer | str | None:
    """A block's layer, or why it can't be made; None where too few points lie in it."""
    outline = outline_of(geometry)
    try:
        raster = raster_over(outline)
        points = points_of_block(found, outline, raster)
        inside = raster.cell_at(points.x, points.y) >= 0
        if inside.sum() < FEWEST_POINTS:
            return None
        return made_layer(points, kind, outline, {}, [], [])
    except SitingProblem as problem:
        return str(problem.message)


def _made(
    path: Path, reading: LayerReading, geometries: list[dict[str, Any]], places: list[Place]
) -> Iterator[_Read | MadeLayer | str | None]:
    """What was read, then for each block its layer, or why there is none."""
    found = read_layer(path, reading)
    yield _Read(len(found.lon), found.without_position)
    reasons: list[str | None] = []
    for geometry in geometries:
        made = _made_of_block(found, reading.kind, geometry)
        reasons.append(made if isinstance(made, str) else None)
        if isinstance(made, MadeLayer):
            reasons = [""]
        yield made
    if "" not in reasons:
        first = next((r for r in reasons if r), None)
        raise RequestError(
            Sentence("{reason}", {"reason": first}) if first else _far(found, places)
        )


def _far(found: LayerPoints, places: list[Place]) -> Sentence:
    name, away = nearest_place(found.lon, found.lat, places)
    exchanged = np.abs(found.lon).max() <= 90
    if away > FAR_KM and exchanged and nearest_place(found.lat, found.lon, places)[1] < FAR_KM:
        return sentence(
            "The points lie {away:,.0f} km from {name}, but on it with their axes exchanged. Tick "
            "“latitude comes first”.",
            away=away,
            name=name,
        )
    if away > FAR_KM:
        return sentence(
            "The points lie {away:,.0f} km from {name}, the nearest block. Is it another "
            "projection? Enter its EPSG number.",
            away=away,
            name=name,
        )
    return sentence("Too few points lie in any block: at least {few}.", few=FEWEST_POINTS)


def _store(row: LayerFile) -> None:
    reading = LayerReading.model_validate(row.reading)
    blocks = _blocks(row)
    if not blocks:
        raise RequestError(
            sentence("No block has an outline. Draw one on the map, or import outlines.")
        )
    geometries = [(b.outline or {})["geometry"] for b in blocks]
    LayerFile.unscoped.filter(pk=row.pk).update(total=len(blocks), done=0)
    rows: list[SitingLayer] = []
    lines: list[dict[str, Any]] = []
    read = _Read(0, 0)
    with kept_file(row) as path:
        parts = confined_parts(_made, path, reading, geometries, _places(blocks))
        for number, part in enumerate(parts):
            if isinstance(part, _Read):
                read = part
                continue
            block = blocks[number - 1]
            if isinstance(part, MadeLayer):
                rows.append(_layer_row(row, block, reading, part))
                lines.append({"block": block.name, "points": part.point_count, "problem": ""})
            elif part is not None:
                lines.append({"block": block.name, "points": 0, "problem": part})
            LayerFile.unscoped.filter(pk=row.pk).update(done=number)
    with transaction.atomic():
        for layer in rows:
            layer.save()
        LayerFile.unscoped.filter(pk=row.pk, state=LayerFileState.STORING).update(
            state=LayerFileState.STORED,
            problem="",
            report={
                "points": read.points,
                "without_position": read.without_position,
                "blocks": lines,
            },
        )
        drop_file(row)


def _layer_row(
    row: LayerFile, block: Block, reading: LayerReading, layer: MadeLayer
) -> SitingLayer:
    outline = outline_of((block.outline or {}).get("geometry"))
    is_yield = reading.kind is LayerKind.YIELD
    return SitingLayer(
        block=block,
        layer_file=row,
        kind=str(reading.kind),
        name=reading.name,
        year=reading.year if is_yield else None,
        unit=("%" if reading.unit == "%" else "t/ha") if is_yield else "",
        rain_mm=reading.rain_mm if is_yield else None,
        points=layer.points,
        point_count=layer.point_count,
        grid=layer.grid,
        cell_m=raster_over(outline).cell_m,
        outline_m2=block.outline_m2 or 0.0,
        facts=layer.facts,
    )


_WORK: Mapping[LayerFileState, Callable[[LayerFile], None]] = MappingProxyType(
    {LayerFileState.LOOKING: _look, LayerFileState.STORING: _store}
)
