"""Soil surveys: looked at, imported, taken back."""

from django.http import HttpRequest
from ninja import File, Form, Router, UploadedFile

from server.base.error_schema import ERRORS
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.farms.access import enter
from server.files.confined import content_of
from server.maps.importing import FileReading
from server.surveys.schemas import SoilSurveyOut, SoilSurveyRead
from server.surveys.services import delete_soil_survey, import_soil_survey, surveys_of

router = Router(tags=["soil surveys"])
# Roots seldom go deeper; what a survey describes often ends here [mm].
USUAL_DEPTH_MM = 1000.0


@router.get(
    "/farms/{slug}/soil-surveys",
    response={200: list[SoilSurveyOut], **ERRORS},
    operation_id="soil_surveys",
)
def get_surveys(request: HttpRequest, slug: str) -> list[SoilSurveyOut]:
    return surveys_of(enter(person(request), slug))


@router.post(
    "/farms/{slug}/soil-surveys",
    response={200: SoilSurveyRead, **ERRORS},
    operation_id="import_soil_survey",
)
def post_survey(
    request: HttpRequest,
    slug: str,
    file: File[UploadedFile],
    projection: Form[str] = "",
    latitude_first: Form[bool] = False,
    name_property: Form[str] = "",
    depth_mm: Form[float] = USUAL_DEPTH_MM,
    dry_run: Form[bool] = True,
) -> SoilSurveyRead:
    """Areas of a soil survey; saved only when asked, and then all or none."""
    reading = FileReading(content_of(file), file.name or "", projection, latitude_first)
    access = enter(person(request), slug)
    return import_soil_survey(access, reading, name_property, depth_mm, dry_run)


@router.delete(
    "/farms/{slug}/soil-surveys/{survey_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="delete_soil_survey",
)
def remove_survey(request: HttpRequest, slug: str, survey_id: int) -> DoneOut:
    delete_soil_survey(enter(person(request), slug), survey_id)
    return DoneOut()
