"""The points of a layer on a plan: what becomes of each under rules that are only tried."""

import base64

import numpy as np
from shapely import make_valid
from shapely.geometry import shape

from core.arrays import Ints
from core.land.outline import outline_of
from core.siting.clean import Cleaned, Dropped
from core.siting.layer import LayerKind
from core.siting.raster import Raster, raster_over
from core.siting.soil_zones import holds
from core.siting.yield_points import YieldPoints
from server.farms.access import Access
from server.siting.answer import raster_out
from server.siting.layer_schemas import LayerPointsOut, LayerTrial, PointArea
from server.siting.layers import choices_of, find_layer
from server.siting.making import cleaned
from server.siting.models import SitingLayer
from server.siting.packing import counts, unpacked_points

# Points that a screen draws; of more, some of those that are used are left undrawn.
MOST_DRAWN = 60_000
# A point's place on the plan is told to this much [m].
STEP_M = 0.25


def tried_points(access: Access, layer_id: int, data: LayerTrial) -> LayerPointsOut:
    """What becomes of a layer's points under other rules; nothing is stored.

    Raises
    ------
    NotFound
    """
    row = find_layer(access, layer_id)
    outline = outline_of((row.block.outline or {}).get("geometry"))
    raster = raster_over(outline)
    points = unpacked_points(row.points)
    rules, back, aside = choices_of(row, data)
    back, aside = [n for n in back if n < len(points)], [n for n in aside if n < len(points)]
    if data.area is not None:
        back, aside = _moved(data.area, points, raster, back, aside)
    found = cleaned(points, LayerKind(row.kind), outline, raster, rules, back, aside)
    return _out(row, points, raster, found, back, aside)


def _moved(
    area: PointArea, points: YieldPoints, raster: Raster, back: list[int], aside: list[int]
) -> tuple[list[int], list[int]]:
    """Points put back and aside, with those of an area moved to one of the two."""
    ring = make_valid(shape({"type": "Polygon", "coordinates": [[*area.ring, area.ring[0]]]}))
    inside = holds(raster.frame.geometry(ring), points.x, points.y)
    meant = {int(n) for n in np.flatnonzero(inside)}
    if area.leave_out:
        return sorted(set(back) - meant), sorted(set(aside) | meant)
    return sorted(set(back) | meant), sorted(set(aside) - meant)


def _drawn(found: Cleaned) -> Ints:
    """The points to draw: all, or all that are left out and every so many-th of the others."""
    if len(found.why) <= MOST_DRAWN:
        return np.arange(len(found.why))
    out = np.flatnonzero(~found.kept)
    out = out[:: max(1, -(-len(out) * 2 // MOST_DRAWN))]
    kept = np.flatnonzero(found.kept)
    kept = kept[:: max(1, -(-len(kept) // (MOST_DRAWN - len(out))))]
    return np.sort(np.concatenate([kept, out]))


def _out(
    row: SitingLayer,
    points: YieldPoints,
    raster: Raster,
    found: Cleaned,
    back: list[int],
    aside: list[int],
) -> LayerPointsOut:
    drawn = _drawn(found)
    # Beyond the outline lie points too, up to 60 m.
    west, north = float(points.x.min()), float(points.y.max())
    east_of = np.round((points.x[drawn] - west) / STEP_M).astype("<u2")
    south_of = np.round((north - points.y[drawn]) / STEP_M).astype("<u2")
    return LayerPointsOut(
        name=row.name,
        kind=LayerKind(row.kind),
        rain_mm=row.rain_mm,
        used=row.used,
        unit=row.unit,
        raster=raster_out(raster),
        outline=(row.block.outline or {})["geometry"],
        west=west,
        north=north,
        step_m=STEP_M,
        x=_text(east_of),
        y=_text(south_of),
        why=_text(found.why[drawn].astype(np.uint8)),
        value=_text(points.value[drawn].astype("<f4")),
        number=None if len(drawn) == len(points) else _text(drawn.astype("<u4")),
        reasons=[d.name.lower() for d in Dropped],
        count=len(points),
        dropped=counts(found.why),
        not_checked=[d.name.lower() for d in found.not_checked],
        cleaning=row.cleaning,
        put_back=back,
        put_aside=aside,
    )


def _text(values: "np.ndarray[tuple[int], np.dtype[np.generic]]") -> str:
    return base64.b64encode(values.tobytes()).decode()
