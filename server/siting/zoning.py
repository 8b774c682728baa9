"""A block's zones: of its layers or its soils, and as people changed them."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from shapely import make_valid
from shapely.geometry import shape
from shapely.geometry.base import BaseGeometry

from core.arrays import Ints
from core.siting.soil_zones import ZoneSource
from core.siting.zone_edits import ZoneEdit, edited, merged, same_zones
from core.siting.zones import MOST_ZONES, Zones, zones_of
from server.siting.ground import Ground
from server.siting.models import SitingSettings
from server.siting.packing import packed_label, unpacked_label


@dataclass(frozen=True)
class ZoneInputs:
    """What people said of zones, by the numbers that these have now.

    ``edits`` are as they are stored: a zone and a ring of [longitude, latitude].
    """

    names: dict[int, str]
    merged: dict[int, int]
    edits: list[dict[str, Any]]
    zone: int | None

    def as_stored(self) -> dict[str, Any]:
        """The same by the names and in the form of the settings."""
        last = max(self.names, default=-1)
        return {
            "zone_names": [self.names.get(z, "") for z in range(last + 1)],
            "merged": {str(zone): into for zone, into in self.merged.items()},
            "zone_edits": self.edits,
            "zone": self.zone,
        }


def source_of(ground: Ground, settings: SitingSettings) -> ZoneSource:
    """What zones are made of: as a person said, or of what there is."""
    if ground.soils is None:
        return ZoneSource.LAYERS
    return ZoneSource(settings.zones_from) if ground.has_layers else ZoneSource.SOILS


def plain_zones(ground: Ground, settings: SitingSettings) -> Zones | None:
    """The zones before any merge or edit; None where nothing tells any."""
    if source_of(ground, settings) is ZoneSource.SOILS and ground.soils is not None:
        # The soils of least area go together.
        label = np.minimum(ground.soils.label, MOST_ZONES - 1)
        return Zones(label, {}, int(label.max()) + 1)
    if not ground.features:
        return None
    zones = zones_of(ground.features, ground.raster, settings.zone_count)
    return zones if zones.count >= 1 else None


def zone_inputs(settings: SitingSettings, plain: Zones) -> ZoneInputs:
    """What people said of a block's zones, for the zones that it has now."""
    # What was told before the zones were kept is of those that are there.
    were = plain.label if settings.zones_were is None else unpacked_label(settings.zones_were)
    if were.shape != plain.label.shape:
        return ZoneInputs({}, {}, [], None)
    now = _now(were, plain.label)
    into = {int(zone): int(other) for zone, other in settings.merged.items()}
    return ZoneInputs(
        names={now[z]: n for z, n in enumerate(settings.zone_names) if n and z in now},
        merged={now[z]: now[o] for z, o in into.items() if z in now and o in now},
        edits=[{**e, "zone": now[e["zone"]]} for e in settings.zone_edits if e["zone"] in now],
        zone=now.get(settings.zone) if settings.zone is not None else None,
    )


def _now(were: Ints, plain: Ints) -> dict[int, int]:
    """The number that each zone has now; one that an edit alone made keeps its own."""
    found = same_zones(were, plain)
    there = set(range(int(max(were.max(), plain.max())) + 1))
    return found | {z: z for z in range(MOST_ZONES) if z not in there}


def zones_changed(plain: Zones, told: ZoneInputs, ground: Ground) -> Zones:
    """The zones as they are used: merged, then edited."""
    edits = [ZoneEdit(e["zone"], _area(e["ring"], ground)) for e in told.edits]
    label = edited(merged(plain.label, told.merged), edits, ground.raster)
    return replace(plain, label=label)


def _area(ring: list[list[float]], ground: Ground) -> BaseGeometry:
    # A ring drawn by hand may cross itself.
    drawn = make_valid(shape({"type": "Polygon", "coordinates": [ring]}))
    return ground.raster.frame.geometry(drawn)


def keep_zones(settings: SitingSettings, plain: Zones | None) -> None:
    """Note the zones that names, merges and edits are told of; the caller saves."""
    settings.zones_were = None if plain is None else packed_label(plain.label)
