"""Reading out by the OGC SensorThings data model 1.1 (15-078r6): read-only, signed in."""

from typing import Any
from urllib.parse import urlencode

from django.http import HttpRequest
from ninja import Router

from core.sentence import sentence
from server.base.error_schema import ERRORS
from server.base.errors import NotFound
from server.base.signed_in import person
from server.farms.access import enter
from server.instruments.models import Channel
from server.sensorthings.entities import Catalogue, catalogue_of
from server.sensorthings.observations import TIMES, observation_page
from server.sensorthings.options import Options, read_options

router = Router(tags=["sensorthings"])
ROOT = "/farms/{slug}/sensorthings/v1.1"
SETS = ("Things", "Locations", "Sensors", "ObservedProperties", "Datastreams")
_PROPERTIES = frozenset({"id", "name", "description"})
_OBSERVATION_PROPERTIES = frozenset({*TIMES, "id", "result", "resultQuality", "parameters"})
# The keys by which entities know each other; not part of what is sent.
_INNER = frozenset({"thing", "sensor", "observed"})
_EXPANDABLE = {
    "Things": frozenset({"Datastreams", "Locations"}),
    "Datastreams": frozenset({"Thing", "Sensor", "ObservedProperty"}),
    "Locations": frozenset({"Things"}),
}
_ONE = {
    "Thing": ("Things", "thing"),
    "Sensor": ("Sensors", "sensor"),
    "ObservedProperty": ("ObservedProperties", "observed"),
}
Answer = dict[str, Any]


def _base(request: HttpRequest, slug: str) -> str:
    return request.build_absolute_uri(f"/api{ROOT.format(slug=slug)}")


def _open(request: HttpRequest, slug: str) -> Catalogue:
    return catalogue_of(enter(person(request), slug).farm, _base(request, slug))


def _one(catalogue: Catalogue, name: str, key: int) -> Answer:
    for entity in catalogue.set_of(name):
        if entity["@iot.id"] == key:
            return entity
    raise _missing(name, key)


def _missing(name: str, key: int) -> NotFound:
    return NotFound(sentence("There is no {name}({key}) on this farm.", name=name, key=key))


def _related(catalogue: Catalogue, name: str, entity: Answer, other: str) -> Any:
    """Entities that stand in a relation to one."""
    if other in _ONE:
        set_name, link = _ONE[other]
        return _plain(_one(catalogue, set_name, entity[link]))
    if name == "Things":
        return [_plain(e) for e in catalogue.set_of(other) if e["thing"] == entity["@iot.id"]]
    return [_plain(_one(catalogue, "Things", entity["thing"]))]


def _plain(entity: Answer) -> Answer:
    return {k: v for k, v in entity.items() if k not in _INNER}


def _value_of(entity: Answer, name: str) -> Any:
    return entity["@iot.id"] if name == "id" else entity.get(name)


def _listed(
    request: HttpRequest, catalogue: Catalogue, name: str, entities: list[Answer]
) -> Answer:
    options = read_options(request.GET, _PROPERTIES, _EXPANDABLE.get(name, frozenset()))
    kept = [e for e in entities if all(c.holds(_value_of(e, c.name)) for c in options.filters)]
    order = options.order_by or "id"
    kept.sort(key=lambda e: _value_of(e, order), reverse=options.descending)
    page = kept[options.skip : options.skip + options.top]
    out: Answer = {}
    if options.count:
        out["@iot.count"] = len(kept)
    out["value"] = [_shaped(catalogue, name, e, options) for e in page]
    if options.skip + len(page) < len(kept):
        out["@iot.nextLink"] = _next(request, options, {"$skip": str(options.skip + len(page))})
    return out


def _shaped(catalogue: Catalogue, name: str, entity: Answer, options: Options) -> Answer:
    out = _selected(_plain(entity), options)
    for other in options.expand:
        out[other] = _related(catalogue, name, entity, other)
    return out


def _selected(entity: Answer, options: Options) -> Answer:
    if not options.select:
        return entity
    names = {"@iot.id" if s == "id" else s for s in options.select}
    return {k: v for k, v in entity.items() if k in names}


def _next(request: HttpRequest, options: Options, changes: dict[str, str]) -> str:
    query = urlencode({**options.asked, **changes}, safe="$")
    return request.build_absolute_uri(f"{request.path}?{query}")


def _observations(request: HttpRequest, slug: str, key: int | None) -> Answer:
    """Observations of one datastream or of all, by time; nothing else of the farm is loaded."""
    farm = enter(person(request), slug).farm
    of_farm = Channel.objects.for_farm(farm)
    channels = list(
        (of_farm if key is None else of_farm.filter(pk=key)).values_list("pk", flat=True)
    )
    if key is not None and not channels:
        raise _missing("Datastreams", key)
    options = read_options(request.GET, _OBSERVATION_PROPERTIES, frozenset())
    rows, total, more = observation_page(channels, options, _base(request, slug))
    out: Answer = {} if total is None else {"@iot.count": total}
    out["value"] = [_selected(r, options) for r in rows]
    if more:
        skip = str(options.skip + len(rows))
        out["@iot.nextLink"] = _next(request, options, {"$skip": skip})
    return out


@router.get(ROOT, response={200: dict, **ERRORS}, operation_id="sensorthings")
def get_service(request: HttpRequest, slug: str) -> Answer:
    """The entity sets that can be read."""
    catalogue = _open(request, slug)
    sets = [{"name": n, "url": f"{catalogue.base}/{n}"} for n in (*SETS, "Observations")]
    return {"value": sets}


@router.get(
    f"{ROOT}/Observations", response={200: dict, **ERRORS}, operation_id="sensorthings_readings"
)
def get_observations(request: HttpRequest, slug: str) -> Answer:
    """Observations of all datastreams, by time."""
    return _observations(request, slug, None)


@router.get(
    f"{ROOT}/Datastreams({{key}})/Observations",
    response={200: dict, **ERRORS},
    operation_id="sensorthings_datastream_readings",
)
def get_observations_of(request: HttpRequest, slug: str, key: int) -> Answer:
    """Observations of one datastream, by time."""
    return _observations(request, slug, key)


@router.get(f"{ROOT}/{{name}}", response={200: dict, **ERRORS}, operation_id="sensorthings_set")
def get_set(request: HttpRequest, slug: str, name: str) -> Answer:
    """An entity set, or one entity as ``Things(1)``."""
    catalogue = _open(request, slug)
    set_name, key = _split(name)
    if key is None:
        return _listed(request, catalogue, set_name, catalogue.set_of(set_name))
    options = read_options(request.GET, _PROPERTIES, _EXPANDABLE.get(set_name, frozenset()))
    return _shaped(catalogue, set_name, _one(catalogue, set_name, key), options)


@router.get(
    f"{ROOT}/{{name}}/{{other}}",
    response={200: dict, **ERRORS},
    operation_id="sensorthings_related",
)
def get_related(request: HttpRequest, slug: str, name: str, other: str) -> Answer:
    """What stands in a relation to one entity."""
    catalogue = _open(request, slug)
    set_name, key = _split(name)
    if key is None or other not in _EXPANDABLE.get(set_name, frozenset()):
        raise NotFound(sentence("There is no such relation."))
    found = _related(catalogue, set_name, _one(catalogue, set_name, key), other)
    if isinstance(found, dict):
        return found
    keys = {e["@iot.id"] for e in found}
    entities = [e for e in catalogue.set_of(other) if e["@iot.id"] in keys]
    return _listed(request, catalogue, other, entities)


def _split(name: str) -> tuple[str, int | None]:
    """``Things`` or ``Things(1)``."""
    set_name, bracket, rest = name.partition("(")
    key = rest.removesuffix(")")
    well = set_name in SETS and (not bracket or (rest.endswith(")") and key.isdecimal()))
    if not well or len(key) > 18:
        raise NotFound(sentence("There is no {name} here.", name=name[:40]))
    return set_name, int(key) if bracket else None
