"""Soil surveys imported: profiles of the library and zones of the plan, surveyed but not seen."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import Count
from shapely.geometry import MultiPolygon, Polygon, mapping
from shapely.geometry.base import BaseGeometry

from core.land.outline import OutlineProblem, area_m2, outline_of
from core.sentence import sentence
from core.soil.profile import MAX_PROFILE_MM
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.files.confined import read_confined
from server.limits.models import BlockSoil
from server.maps.files import FileFeatures, read_outlines
from server.maps.importing import FileReading
from server.maps.models import FeatureKind, MapFeature
from server.maps.outlines import outlined, stored_outline
from server.soils.models import SoilProfile
from server.soils.schemas import SoilIn
from server.soils.services import save_soil
from server.surveys.areas import Area, areas_on, together
from server.surveys.attributes import Understood, understood
from server.surveys.horizons import SurveyedSoil, percent_per_unit, surveyed_soil
from server.surveys.models import SoilSurvey
from server.surveys.schemas import (
    SoilSurveyOut,
    SoilSurveyRead,
    SurveyAttribute,
    SurveySoilOut,
    SurveySoilState,
)

NAME_LENGTH = 80
# Of a soil whose depth the survey does not tell [mm].
LEAST_DEPTH_MM = 200.0


@dataclass(frozen=True)
class _Soil:
    """A soil of a survey: its areas together, and what is told of it."""

    name: str
    areas: list[Area]
    geometry: Polygon | MultiPolygon
    told: SurveyedSoil
    blocks: list[str]
    area_m2: float


def surveys_of(access: Access) -> list[SoilSurveyOut]:
    """The farm's surveys, newest first, with the zones and soils that are there of each."""
    rows = (
        SoilSurvey.objects.for_farm(access.farm)
        .annotate(zones=Count("map_features", distinct=True))
        .annotate(soils=Count("soil_profiles", distinct=True))
        .order_by("-made_at", "-pk")
    )
    names = ("id", "file_name", "made_at", "made_by__name", "zones", "soils")
    return [
        SoilSurveyOut(id=i, file_name=n, made_at=at, made_by=by or "", zones=zones, soils=soils)
        for i, n, at, by, zones, soils in rows.values_list(*names)
    ]


@acting(Action.SET_UP_GROUND)
def import_soil_survey(
    access: Access, file: FileReading, name_property: str, depth_mm: float, dry_run: bool
) -> SoilSurveyRead:
    """Say what a survey holds, and make profiles and zones of it unless this is a dry run.

    Parameters
    ----------
    name_property : str
        The attribute that names the soil; empty for the likeliest.
    depth_mm : float [mm]
        How deep a soil is taken to reach where the survey does not say.

    Raises
    ------
    RequestError
    """
    if not LEAST_DEPTH_MM <= depth_mm <= MAX_PROFILE_MM:
        raise RequestError(
            sentence("The file was not imported."),
            (
                Problem(
                    field="depth_mm",
                    message=sentence(
                        "Enter a depth of {least:g} to {most:g} cm.",
                        least=LEAST_DEPTH_MM / 10,
                        most=MAX_PROFILE_MM / 10,
                    ),
                ),
            ),
        )
    found = read_confined(
        read_outlines, file.content, file.name, file.projection, file.latitude_first
    )
    known = understood(found.properties)
    named_by = _name_property(found, known, name_property)
    blocks = {b.name: stored_outline(b) for b in outlined(access)}
    areas = areas_on(found, list(blocks.values()))
    soils = _soils(areas.kept, known, named_by, depth_mm, blocks)
    library = {
        s.name.lower(): s
        for s in SoilProfile.objects.for_farm(access.farm).filter(superseded=False)
    }
    survey = None if dry_run else _save(access, file.name, soils, library)
    return SoilSurveyRead(
        projection=found.projection,
        properties=list(found.properties),
        name_property=named_by,
        attributes=[
            SurveyAttribute(name=a.name, figure=a.figure, horizon=a.horizon) for a in known.figures
        ],
        ignored=[n for n in (*known.names, *known.others) if n != named_by],
        beyond=areas.beyond,
        soils=[_soil_out(s, library) for s in soils],
        survey=survey.pk if survey else None,
    )


def _name_property(found: FileFeatures, known: Understood, stated: str) -> str:
    if stated and stated not in found.properties:
        raise RequestError(
            sentence("The file was not imported."),
            (
                Problem(
                    field="name_property",
                    message=sentence("No feature has a “{stated}”.", stated=stated),
                ),
            ),
        )
    likely = stated or next(iter(known.names or known.others), "")
    if not likely:
        raise RequestError(
            sentence("The file was not imported."),
            (
                Problem(
                    field="name_property",
                    message=sentence(
                        "No attribute names the soil of an area. Add one, such as “soil”."
                    ),
                ),
            ),
        )
    return likely


def _soils(
    areas: Sequence[Area],
    known: Understood,
    named_by: str,
    depth_mm: float,
    blocks: Mapping[str, BaseGeometry],
) -> list[_Soil]:
    """Areas by soil: one name with different figures is as many soils."""
    percent = percent_per_unit([a.properties for a in areas], known)
    groups: dict[str, list[tuple[SurveyedSoil, list[Area]]]] = {}
    for area in areas:
        name = _name_of(area.properties.get(named_by), area.row)
        told = surveyed_soil(area.properties, known, percent, depth_mm)
        same = groups.setdefault(name, [])
        there = next((of for t, of in same if t == told), None)
        if there is None:
            same.append((told, [area]))
        else:
            there.append(area)
    made = []
    for name, different in groups.items():
        for number, (told, of) in enumerate(different, start=1):
            title = name if len(different) == 1 else f"{name[: NAME_LENGTH - 6]} ({number})"
            made.append(_soil(title, of, told, blocks))
    return made


def _name_of(value: Any, row: int) -> str:
    text = "" if value is None else str(value).strip()
    return text[:NAME_LENGTH] or f"Area {row}"


def _soil(
    name: str, areas: list[Area], told: SurveyedSoil, blocks: Mapping[str, BaseGeometry]
) -> _Soil:
    geometry = together(areas)
    shared = {b: area for b, o in blocks.items() if (area := _shared_m2(geometry, o)) > 0}
    return _Soil(name, areas, geometry, told, sorted(shared), sum(shared.values()))


def _shared_m2(geometry: BaseGeometry, outline: BaseGeometry) -> float:
    if not geometry.intersects(outline):
        return 0.0
    try:
        return float(area_m2(outline_of(mapping(geometry.intersection(outline)))))
    except OutlineProblem:
        # A sliver, or a corner that two areas share.
        return 0.0


def _state(soil: _Soil, library: Mapping[str, SoilProfile]) -> SurveySoilState:
    if soil.name.lower() in library:
        return SurveySoilState.IN_LIBRARY
    return SurveySoilState.NEW if soil.told.horizons else SurveySoilState.NO_TEXTURE


def _soil_out(soil: _Soil, library: Mapping[str, SoilProfile]) -> SurveySoilOut:
    return SurveySoilOut(
        name=soil.name,
        areas=len(soil.areas),
        area_m2=soil.area_m2,
        blocks=soil.blocks,
        state=_state(soil, library),
        horizons=soil.told.horizons,
        depth_assumed=soil.told.depth_assumed,
        problem=soil.told.problem or "",
    )


def _save(
    access: Access, file_name: str, soils: Sequence[_Soil], library: Mapping[str, SoilProfile]
) -> SoilSurvey:
    survey = SoilSurvey(
        farm=access.farm,
        file_name=file_name[:255] or "file",
        made_at=access.now(),
        made_by=access.user,
    )
    survey.save()
    taken = {
        n.lower()
        for n in MapFeature.objects.for_farm(access.farm)
        .filter(kind=FeatureKind.SOIL_ZONE)
        .values_list("name", flat=True)
    }
    for soil in soils:
        name = _free(soil.name, taken)
        taken.add(name.lower())
        MapFeature(
            farm=access.farm,
            kind=FeatureKind.SOIL_ZONE,
            name=name,
            geometry=mapping(soil.geometry),
            soil=_profile(access, survey, soil, library),
            survey=survey,
        ).save()
    record(access, Done.SURVEY_IMPORTED, survey.file_name)
    return survey


def _profile(
    access: Access, survey: SoilSurvey, soil: _Soil, library: Mapping[str, SoilProfile]
) -> SoilProfile | None:
    """The library's soil of that name, or a new one of what the survey tells; None of neither."""
    state = _state(soil, library)
    if state is SurveySoilState.IN_LIBRARY:
        return library[soil.name.lower()]
    if state is SurveySoilState.NO_TEXTURE:
        return None
    made = save_soil(access, SoilIn(name=soil.name, horizons=soil.told.horizons))
    made.survey = survey
    made.save()
    return made


def _free(name: str, taken: set[str]) -> str:
    if name.lower() not in taken:
        return name
    tries = (f"{name[: NAME_LENGTH - 5]} ({n})" for n in range(2, 1000))
    return next(t for t in tries if t.lower() not in taken)


@acting(Action.SET_UP_GROUND)
def delete_soil_survey(access: Access, survey_id: int) -> None:
    """Take a survey back: its zones, and its soils that no block ever stood on.

    Raises
    ------
    NotFound
    """
    survey = SoilSurvey.objects.for_farm(access.farm).filter(pk=survey_id).first()
    if survey is None:
        raise NotFound(sentence("There is no such soil survey on this farm."))
    for zone in MapFeature.objects.for_farm(access.farm).filter(survey=survey):
        zone.delete()
    used = BlockSoil.objects.for_farm(access.farm).values("soil_id")
    soils = SoilProfile.objects.for_farm(access.farm).filter(survey=survey)
    for soil in soils.exclude(pk__in=used):
        soil.delete()
    record(access, Done.SURVEY_DELETED, survey.file_name)
    survey.delete()
