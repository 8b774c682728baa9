"""Things on the plan beside the blocks: pipes, pumps, tree lines, soil zones, instruments."""

from typing import Any

from shapely.errors import GEOSException
from shapely.geometry import shape

from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.maps.models import FeatureKind, MapFeature
from server.maps.outlines import check_outline, drawn
from server.maps.schemas import FeatureIn

TYPES = {
    FeatureKind.SOIL_ZONE: "Polygon",
    FeatureKind.PIPE: "LineString",
    FeatureKind.PUMP: "Point",
    FeatureKind.INSTRUMENT: "Point",
    FeatureKind.TREE_LINE: "LineString",
    FeatureKind.FENCE: "LineString",
    FeatureKind.TRACK: "LineString",
    FeatureKind.BUILDING: "Polygon",
    FeatureKind.WET_SPOT: "Polygon",
    FeatureKind.SPRING: "Point",
    FeatureKind.NO_PROBE: "Polygon",
    FeatureKind.PIVOT: "Point",
    FeatureKind.GATE: "Point",
    FeatureKind.BASE_STATION: "Point",
}


def _check(kind: FeatureKind, geometry: dict[str, Any]) -> None:
    wanted = TYPES[kind]
    if geometry.get("type") != wanted:
        raise RequestError(
            sentence("It was not added to the map."),
            (
                Problem(
                    field="geometry",
                    message=sentence("A {kind} is drawn as a {wanted}.", kind=kind, wanted=wanted),
                ),
            ),
        )
    if wanted == "Polygon":
        check_outline(geometry)
        return
    try:
        west, south, east, north = shape(geometry).bounds
        inside = -180 <= west <= east <= 180 and -90 <= south <= north <= 90
    except (ValueError, TypeError, KeyError, IndexError, OverflowError, GEOSException):
        inside = False
    if not inside:
        raise RequestError(
            sentence("It was not added to the map."),
            (
                Problem(
                    field="geometry",
                    message=sentence(
                        "Its coordinates are not longitude and latitude. Draw it again."
                    ),
                ),
            ),
        )


@acting(Action.SET_UP_GROUND)
def add_feature(access: Access, data: FeatureIn) -> MapFeature:
    """Put something on the plan."""
    name = data.name.strip()
    rows = MapFeature.objects.for_farm(access.farm)
    if not name or rows.filter(kind=data.kind, name__iexact=name).exists():
        problem = (
            sentence("There is a {kind} {name} already.", kind=data.kind, name=name)
            if name
            else sentence("Enter a name.")
        )
        raise RequestError(
            sentence("It was not added to the map."), (Problem(field="name", message=problem),)
        )
    _check(data.kind, data.geometry)
    made = MapFeature(
        farm=access.farm, kind=str(data.kind), name=name, geometry=drawn(data.geometry)
    )
    made.save()
    record(access, Done.MAP_FEATURE_ADDED, name)
    return made


@acting(Action.SET_UP_GROUND)
def delete_feature(access: Access, feature_id: int) -> None:
    """Take something off the plan.

    Raises
    ------
    NotFound
    """
    found = MapFeature.objects.for_farm(access.farm).filter(pk=feature_id).first()
    if found is None:
        raise NotFound(sentence("There is no such feature on the map."))
    found.delete()
    record(access, Done.MAP_FEATURE_REMOVED, found.name)
