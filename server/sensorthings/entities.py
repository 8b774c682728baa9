"""The farm as SensorThings entities: an instrument is a Thing, a channel a Datastream."""

from dataclasses import dataclass
from typing import Any

from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.reading_units import units_of
from server.farms.models import Farm
from server.instruments.models import Channel, Instrument
from server.readings.channels import meaning

MEASUREMENT = "http://www.opengis.net/def/observationType/OGC-OM/2.0/OM_Measurement"
GEOJSON = "application/geo+json"
# UCUM codes of the core's units, where they are not the same.
_UCUM = {"degC": "Cel"}
_UNIT_NAMES = {
    "m3/m3": "cubic metre of water per cubic metre of soil",
    "kPa": "kilopascal",
    "degC": "degree Celsius",
    "mm": "millimetre",
    "m3": "cubic metre",
    "MPa": "megapascal",
}
_OBSERVED: dict[Quantity, tuple[str, str]] = {
    Quantity.THETA: ("Volumetric water content", "Volume of water over volume of soil"),
    Quantity.TENSION: ("Soil-water tension", "Matric potential of the soil water, positive"),
    Quantity.COUNTS: ("Raw counts", "What a probe writes down before calibration"),
    Quantity.PERMITTIVITY: ("Permittivity", "Relative dielectric permittivity of the soil"),
    Quantity.RESISTANCE: ("Resistance", "Electrical resistance of a granular-matrix sensor"),
    Quantity.TEMPERATURE: ("Soil temperature", "Temperature of the soil beside the sensor"),
    Quantity.WATER_DEPTH: ("Water depth", "Depth of water"),
    Quantity.VOLUME: ("Water volume", "Volume that passed a meter"),
    Quantity.LEAF_POTENTIAL: ("Leaf water potential", "Water potential of a leaf, negative"),
    Quantity.AVAILABLE: ("Share of available water", "Water above wilting over what can be held"),
}


@dataclass(frozen=True)
class Catalogue:
    """Everything of a farm but its observations; ``base`` is the service's address."""

    base: str
    things: list[dict[str, Any]]
    locations: list[dict[str, Any]]
    sensors: list[dict[str, Any]]
    observed: list[dict[str, Any]]
    datastreams: list[dict[str, Any]]

    def set_of(self, name: str) -> list[dict[str, Any]]:
        """An entity set by its name in the service."""
        return {
            "Things": self.things,
            "Locations": self.locations,
            "Sensors": self.sensors,
            "ObservedProperties": self.observed,
            "Datastreams": self.datastreams,
        }[name]


def catalogue_of(farm: Farm, base: str) -> Catalogue:
    """A farm's entities, in two queries."""
    rows = list(
        Instrument.objects.for_farm(farm)
        .select_related("block")
        .defer("block__outline")
        .prefetch_related("channels")
        .order_by("pk")
    )
    kinds_here = sorted({InstrumentKind(r.kind) for r in rows})
    channels = [c for r in rows for c in r.channels.all()]
    quantities = sorted({meaning(Quantity(c.quantity)) for c in channels})
    sensor_ids = {k: n for n, k in enumerate(InstrumentKind, start=1)}
    observed_ids = {q: n for n, q in enumerate(Quantity, start=1)}
    return Catalogue(
        base=base,
        things=[_thing(r, farm, base) for r in rows],
        locations=[_location(r, base) for r in rows if r.position],
        sensors=[_sensor(k, sensor_ids[k], base) for k in kinds_here],
        observed=[_observed(q, observed_ids[q], base) for q in quantities],
        datastreams=[
            _datastream(c, r, sensor_ids, observed_ids, base)
            for r in rows
            for c in r.channels.all()
        ],
    )


def _self(base: str, name: str, key: object) -> dict[str, Any]:
    return {"@iot.id": key, "@iot.selfLink": f"{base}/{name}({key})"}


def _thing(row: Instrument, farm: Farm, base: str) -> dict[str, Any]:
    return {
        **_self(base, "Things", row.pk),
        "name": f"{row.label}, {row.block.name}",
        "description": kinds()[InstrumentKind(row.kind)].name,
        "properties": {
            "block": row.block.name,
            "label": row.label,
            "serial": row.serial,
            "site": row.site,
            "farm": farm.name,
            "simulated": farm.simulated,
        },
        "Locations@iot.navigationLink": f"{base}/Things({row.pk})/Locations",
        "Datastreams@iot.navigationLink": f"{base}/Things({row.pk})/Datastreams",
    }


def _location(row: Instrument, base: str) -> dict[str, Any]:
    return {
        **_self(base, "Locations", row.pk),
        "name": row.site or row.label,
        "description": f"Where {row.label} stands in {row.block.name}",
        "encodingType": GEOJSON,
        "location": {"type": "Point", "coordinates": row.position},
        "thing": row.pk,
    }


def _sensor(kind: InstrumentKind, key: int, base: str) -> dict[str, Any]:
    facts = kinds()[kind]
    return {
        **_self(base, "Sensors", key),
        "name": facts.name,
        "description": f"Reads from {facts.low:g} to {facts.high:g} {units_of(facts.quantity)[0]}",
        "encodingType": "text/plain",
        "metadata": str(kind),
    }


def _observed(quantity: Quantity, key: int, base: str) -> dict[str, Any]:
    name, meaning = _OBSERVED[quantity]
    return {
        **_self(base, "ObservedProperties", key),
        "name": name,
        "definition": f"urn:even-furrow:quantity:{quantity}",
        "description": meaning,
    }


def _datastream(
    channel: Channel,
    row: Instrument,
    sensor_ids: dict[InstrumentKind, int],
    observed_ids: dict[Quantity, int],
    base: str,
) -> dict[str, Any]:
    quantity = meaning(Quantity(channel.quantity))
    unit = str(units_of(quantity)[0])
    depth = "" if channel.depth_mm is None else f" at {channel.depth_mm / 10:g} cm"
    key = channel.pk
    return {
        **_self(base, "Datastreams", key),
        "name": f"{row.label}{depth}, {row.block.name}",
        "description": f"{_OBSERVED[quantity][0]}{depth}",
        "observationType": MEASUREMENT,
        "unitOfMeasurement": {
            "name": _UNIT_NAMES.get(unit, unit),
            "symbol": unit,
            "definition": f"ucum:{_UCUM.get(unit, unit)}",
        },
        "properties": {
            "depth_mm": channel.depth_mm,
            "written_as": channel.quantity,
            "suspect": channel.suspect,
        },
        "thing": row.pk,
        "sensor": sensor_ids[InstrumentKind(row.kind)],
        "observed": observed_ids[quantity],
        "Thing@iot.navigationLink": f"{base}/Datastreams({key})/Thing",
        "Sensor@iot.navigationLink": f"{base}/Datastreams({key})/Sensor",
        "ObservedProperty@iot.navigationLink": f"{base}/Datastreams({key})/ObservedProperty",
        "Observations@iot.navigationLink": f"{base}/Datastreams({key})/Observations",
    }
