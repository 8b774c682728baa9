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
from core.siting.spots import Scores
from core.siting.stability import Stability
from core.siting.years import YearKind
from server.blocks.models import Block
from server.siting.analysis import BlockSiting
from server.siting.models import ProbeSpot, SitingLayer, SitingSettings
from server.siting.schemas import (
    LayerFacts,
    OffMedian,
    PairOut,
    Position,
    ProbeSpotOut,
    RasterData,
    RasterOut,
    SitingLayerOut,
    SitingOut,
    SitingSettingsIn,
    SitingSpotOut,
    SitingTermOut,
    SitingZoneOut,
)


def siting_out(
    block: Block, siting: BlockSiting, settings: SitingSettings, chosen: Sequence[ProbeSpot]
) -> SitingOut:
    """Everything that the page of a block's siting shows."""
    raster, years, zones = siting.raster, siting.years, siting.zones
    stability = None
    if years is not None:
        stability = _data(_known(years.classes), raster, 0, len(Stability) - 1)
    pair = siting.pair
    return SitingOut(
        raster=_raster(raster),
        outline=(block.outline or {})["geometry"],
        layers=_layers(siting),
        years=years.years if years else 0,
        difference=years.difference if years else None,
        difference_told=bool(years and years.difference_told),
        mean=_data(years.mean, raster) if years else None,
        stability=stability,
        zone_raster=_data(_known(zones.label, -1), raster, 0, 5) if zones else None,
        zones=_zones(siting, settings),
        index=zones.index if zones else {},
        suggested=zones.suggested if zones else None,
        zone=siting.zone,
        excluded=_data(_known(siting.excluded, NOT_EXCLUDED), raster, 0, len(KINDS) - 1),
        score=_data(siting.scores.score, raster, 0, 100) if siting.scores else None,
        spots=[spot_out(siting, cell) for cell in siting.spots],
        pair=PairOut(spot=spot_out(siting, pair.cell, pair.scores), gain=pair.gain.gain)
        if pair
        else None,
        settings=settings_out(settings, siting),
        usual_distances=dict(USUAL_M),
        chosen=[chosen_out(s) for s in chosen],
    )


def settings_out(settings: SitingSettings, siting: BlockSiting) -> SitingSettingsIn:
    """What a person may change; names and merges of other zones are left out."""
    out = SitingSettingsIn.model_validate(settings)
    if settings.zones_of != siting.zones_of:
        out.zone_names, out.merged = [], {}
    return out


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


def _raster(raster: Raster) -> RasterOut:
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


def _layers(siting: BlockSiting) -> list[SitingLayerOut]:
    shown = {row.pk: layer.value for row, layer in siting.layers}
    rows = [row for row, _ in siting.layers]
    return [
        _layer(row, siting, shown.get(row.pk))
        for row in sorted([*rows, *siting.stale, *siting.unused], key=_place)
    ]


def _place(row: SitingLayer) -> tuple[str, int, str, int]:
    return row.kind, row.year or 0, row.name, row.pk


def _layer(row: SitingLayer, siting: BlockSiting, values: Floats | None) -> SitingLayerOut:
    return SitingLayerOut(
        id=row.pk,
        kind=LayerKind(row.kind),
        name=row.name,
        year=row.year,
        year_kind=siting.kinds.get(row.year) if row.year is not None else None,
        unit=row.unit,
        rain_mm=row.rain_mm,
        used=row.used,
        stale=row in siting.stale,
        point_count=row.point_count,
        cleaning=row.cleaning,
        facts=LayerFacts.model_validate(row.facts),
        raster=None if values is None else _data(values, siting.raster),
    )


def _zones(siting: BlockSiting, settings: SitingSettings) -> list[SitingZoneOut]:
    if siting.zones is None:
        return []
    names = settings.zone_names if settings.zones_of == siting.zones_of else []
    found = []
    for zone in (int(z) for z in np.unique(siting.zones.label[siting.zones.label >= 0])):
        cells = siting.zones.label == zone
        flips = siting.years is not None and bool(
            (siting.years.classes[cells] == Stability.FLIP_FLOP).mean() > 0.5
        )
        found.append(
            SitingZoneOut(
                zone=zone,
                name=names[zone] if zone < len(names) else "",
                area_m2=float(cells.sum() * siting.raster.cell_m2),
                flips=flips,
                level=_levels(siting, cells),
                medians={
                    layer.name: _median(layer.value, cells)
                    for _, layer in siting.layers
                    if layer.year is None
                },
            )
        )
    return found


def _levels(siting: BlockSiting, cells: Bools) -> dict[str, float | None]:
    years = siting.years
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
    x, y = siting.raster.middles()
    lon, lat = siting.raster.frame.degrees(x[[cell]], y[[cell]])
    position: Position = (float(lon[0]), float(lat[0]))
    scores, zones = of_zone or siting.scores, siting.zones
    kept_off = int(siting.excluded[cell])
    zone = int(zones.label[cell]) if zones else -1
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
