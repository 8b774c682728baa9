"""A block's siting as it goes out."""

import base64
from collections.abc import Sequence

import numpy as np

from core.arrays import Bools, Floats, Ints
from core.land.outline import WGS84 as GEOD
from core.siting.compact import compact
from core.siting.exclusions import KINDS, NOT_EXCLUDED, USUAL_M
from core.siting.layer import LayerKind
from core.siting.purpose import Purpose
from core.siting.raster import Raster
from core.siting.soil_zones import ZoneSource
from core.siting.spots import Scores
from core.siting.stability import Stability
from core.siting.years import YearKind
from core.siting.zones import MOST_ZONES
from server.blocks.models import Block
from server.siting.analysis import BlockSiting, ZonedBlock
from server.siting.ground import Ground
from server.siting.layer_schemas import LayerFacts, RasterData, RasterOut, SitingLayerOut
from server.siting.models import ProbeSpot, SitingLayer, SitingSettings
from server.siting.schemas import (
    OffMedian,
    PairOut,
    SitingOut,
    SitingSettingsIn,
    SitingSoilOut,
    SitingSpotOut,
    SitingTermOut,
    SitingZoneOut,
)
from server.siting.spots.schemas import Position, ProbeSpotOut
from server.siting.zoning import ZoneInputs


def siting_out(
    block: Block, siting: BlockSiting, settings: SitingSettings, chosen: Sequence[ProbeSpot]
) -> SitingOut:
    """Everything that the page of a block's siting shows."""
    ground, found = siting.ground, siting.zoned
    raster, years = ground.raster, ground.years
    stability = None
    if years is not None:
        stability = _data(_known(years.classes), raster, 0, len(Stability) - 1)
    pair = found.pair if found else None
    return SitingOut(
        raster=raster_out(raster),
        outline=(block.outline or {})["geometry"],
        layers=_layers(ground),
        years=years.years if years else 0,
        difference=years.difference if years else None,
        difference_told=bool(years and years.difference_told),
        mean=_data(years.mean, raster) if years else None,
        stability=stability,
        soils=_soils(ground),
        soil_raster=_soil_raster(ground),
        zones_from=found.source if found else ZoneSource.LAYERS,
        zone_raster=_data(_known(found.zones.label, -1), raster, 0, MOST_ZONES - 1)
        if found
        else None,
        zones=_zones(ground, found) if found else [],
        index=found.zones.index if found else {},
        suggested=found.zones.suggested if found else None,
        zone=found.zone if found else 0,
        excluded=_data(_known(ground.excluded, NOT_EXCLUDED), raster, 0, len(KINDS) - 1),
        score=_data(found.scores.score, raster, 0, 100) if found else None,
        spots=[spot_out(siting, cell) for cell in found.spots] if found else [],
        pair=PairOut(spot=spot_out(siting, pair.cell, pair.scores), gain=pair.gain.gain)
        if pair
        else None,
        settings=settings_out(settings, found),
        usual_distances=dict(USUAL_M),
        chosen=[chosen_out(s) for s in chosen],
    )


def settings_out(settings: SitingSettings, found: ZonedBlock | None) -> SitingSettingsIn:
    """What a person may change; what was said of zones is by the numbers that they have now."""
    told = found.told if found else ZoneInputs({}, {}, [], None)
    stored = SitingSettingsIn.model_validate(settings).model_dump()
    return SitingSettingsIn.model_validate(stored | told.as_stored())


def _soils(ground: Ground) -> list[SitingSoilOut]:
    if ground.soils is None:
        return []
    counts = np.bincount(ground.soils.label[ground.soils.label >= 0])
    return [
        SitingSoilOut(
            name=zone.name,
            soil=zone.soil.name if zone.soil else "",
            soil_id=zone.soil_id,
            surveyed=zone.survey_id is not None,
            area_m2=float(count * ground.raster.cell_m2),
        )
        for zone, count in zip(ground.soils.zones, counts, strict=True)
    ]


def _soil_raster(ground: Ground) -> RasterData | None:
    if ground.soils is None:
        return None
    label = np.minimum(ground.soils.label, MOST_ZONES - 1)
    return _data(_known(label, -1), ground.raster, 0, MOST_ZONES - 1)


def chosen_out(row: ProbeSpot) -> ProbeSpotOut:
    """A spot that a person chose."""
    return ProbeSpotOut(
        id=row.pk,
        name=row.name,
        position=row.position,
        purpose=Purpose(row.purpose),
        score=row.score,
        why=row.why,
        made_at=row.made_at,
        made_by=row.made_by.name if row.made_by else "",
        instrument=row.instrument_id,
    )


def raster_out(raster: Raster) -> RasterOut:
    """Where a raster's cells lie."""
    lon, lat = raster.frame.lon, raster.frame.lat
    step = 1e-3
    _, _, east = GEOD.inv(lon, lat, lon + step, lat)
    _, _, north = GEOD.inv(lon, lat - step / 2, lon, lat + step / 2)
    return RasterOut(
        zero=(lon, lat),
        metres_per_degree=(east / step, north / step),
        west=raster.west,
        north=raster.north,
        cell_m=raster.cell_m,
        rows=raster.rows,
        cols=raster.cols,
    )


def _known(values: Floats | Ints, unknown: int | None = None) -> Floats:
    """Whole numbers as values, NaN where they say that nothing is known."""
    found = np.asarray(values, float)
    return found if unknown is None else np.where(found == unknown, np.nan, found)


def _data(
    values: Floats, raster: Raster, low: float | None = None, high: float | None = None
) -> RasterData:
    if low is None or high is None:
        known = values[np.isfinite(values)]
        low, high = (float(v) for v in np.percentile(known, [2, 98])) if len(known) else (0.0, 1.0)
    made = compact(values, raster, low, high)
    return RasterData(data=base64.b64encode(made.data).decode(), low=low, high=high)


def _layers(ground: Ground) -> list[SitingLayerOut]:
    shown = {row.pk: layer.value for row, layer in ground.layers}
    rows = [row for row, _ in ground.layers]
    return [
        _layer(row, ground, shown.get(row.pk))
        for row in sorted([*rows, *ground.stale, *ground.unused], key=_place)
    ]


def _place(row: SitingLayer) -> tuple[str, int, str, int]:
    return row.kind, row.year or 0, row.name, row.pk


def _layer(row: SitingLayer, ground: Ground, values: Floats | None) -> SitingLayerOut:
    return SitingLayerOut(
        id=row.pk,
        kind=LayerKind(row.kind),
        name=row.name,
        year=row.year,
        year_kind=ground.kinds.get(row.year) if row.year is not None else None,
        unit=row.unit,
        rain_mm=row.rain_mm,
        used=row.used,
        stale=row in ground.stale,
        point_count=row.point_count,
        cleaning=row.cleaning,
        facts=LayerFacts.model_validate(row.facts),
        raster=None if values is None else _data(values, ground.raster),
    )


def _zones(ground: Ground, found: ZonedBlock) -> list[SitingZoneOut]:
    label = found.zones.label
    out = []
    for zone in (int(z) for z in np.unique(label[label >= 0])):
        cells = label == zone
        flips = ground.years is not None and bool(
            (ground.years.classes[cells] == Stability.FLIP_FLOP).mean() > 0.5
        )
        out.append(
            SitingZoneOut(
                zone=zone,
                name=found.told.names.get(zone, _soil_of(ground, found, zone)),
                area_m2=float(cells.sum() * ground.raster.cell_m2),
                flips=flips,
                level=_levels(ground, cells),
                medians={
                    layer.name: _median(layer.value, cells)
                    for _, layer in ground.layers
                    if layer.year is None
                },
                soils=_shares(ground, cells),
            )
        )
    return out


def _soil_of(ground: Ground, found: ZonedBlock, zone: int) -> str:
    """The soil that a zone made of soils is of; the last one holds all that are left."""
    if found.source is not ZoneSource.SOILS or ground.soils is None:
        return ""
    names = [z.name for z in ground.soils.zones]
    if zone == MOST_ZONES - 1:
        return ", ".join(names[zone:])[:60]
    return names[zone] if zone < len(names) else ""


def _shares(ground: Ground, cells: Bools) -> dict[str, float]:
    if ground.soils is None:
        return {}
    label = ground.soils.label[cells]
    shares = {z.name: float((label == n).mean()) for n, z in enumerate(ground.soils.zones)}
    return {name: share for name, share in shares.items() if share > 0}


def _levels(ground: Ground, cells: Bools) -> dict[str, float | None]:
    years = ground.years
    if years is None:
        return {}
    by_kind = {
        "all": years.mean,
        str(YearKind.DRY): years.dry,
        str(YearKind.USUAL): years.usual,
        str(YearKind.WET): years.wet,
    }
    return {k: _median(v, cells) for k, v in by_kind.items() if v is not None}


def _median(values: Floats, cells: Bools) -> float | None:
    known = values[cells & np.isfinite(values)]
    return float(np.median(known)) if len(known) else None


def spot_out(siting: BlockSiting, cell: int, of_zone: Scores | None = None) -> SitingSpotOut:
    """A cell as a spot: its score and what it is made of; of another zone by that one's scores."""
    ground, found = siting.ground, siting.zoned
    x, y = ground.raster.middles()
    lon, lat = ground.raster.frame.degrees(x[[cell]], y[[cell]])
    position: Position = (float(lon[0]), float(lat[0]))
    scores = of_zone or (found.scores if found else None)
    kept_off = int(ground.excluded[cell])
    zone = int(found.zones.label[cell]) if found else -1
    return SitingSpotOut(
        position=position,
        zone=zone if zone >= 0 else None,
        score=_finite(scores.score[cell]) if scores else None,
        kept_off=KINDS[kept_off] if kept_off != NOT_EXCLUDED else None,
        terms=[SitingTermOut(term=t, value=_finite(v[cell])) for t, v in scores.terms.items()]
        if scores
        else [],
        off_median=[
            OffMedian(layer=f.name, spreads=float(off[cell]))
            for f, off in zip(scores.features, scores.off_median, strict=True)
            if np.isfinite(off[cell])
        ]
        if scores
        else [],
    )


def _finite(value: float) -> float | None:
    return float(value) if np.isfinite(value) else None
