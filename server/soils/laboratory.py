"""Soils of a laboratory's sheet: checked line by line, saved all or none."""

from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.rules import Action
from server.files.confined import read_confined
from server.soils.convert import typed_profile
from server.soils.laboratory_file import Sheet, SheetSoil, read_laboratory_file
from server.soils.models import SoilProfile
from server.soils.schemas import HorizonIn, SoilIn
from server.soils.services import save_soil


def _wrong_with(soil: SheetSoil, sheet: Sheet) -> list[Problem]:
    """What is wrong with a soil, at its lines and under the sheet's headings: with each of its
    horizons for itself, or else with how they follow each other."""
    found: list[Problem] = []

    def check(horizons: list[HorizonIn], rows: list[int]) -> None:
        try:
            typed_profile(horizons)
        except RequestError as refused:
            for problem in refused.problems:
                _, at, field = problem.field.split(".", 2)
                column = sheet.headings.get(field, field)
                found.append(Problem(row=rows[int(at)], column=column, message=problem.message))

    for horizon, row in zip(soil.horizons, soil.rows, strict=True):
        thick = {"top_mm": 0.0, "bottom_mm": horizon.bottom_mm - horizon.top_mm}
        check([horizon.model_copy(update=thick)], [row])
    if not found:
        check(soil.horizons, soil.rows)
    return found


@acting(Action.SET_UP_GROUND)
def import_laboratory_sheet(
    access: Access, content: bytes, dry_run: bool
) -> tuple[Sheet, frozenset[str]]:
    """The sheet, its soils saved unless this is a dry run; and the names, in small letters, of the
    soils that the farm had before.

    Raises
    ------
    RequestError
        With the line and heading of each problem.
    """
    sheet = read_confined(read_laboratory_file, content)
    problems = [p for found in sheet.soils for p in _wrong_with(found, sheet)]
    if problems:
        raise RequestError(
            sentence("The sheet needs correcting; nothing was saved."), tuple(problems)
        )
    names = SoilProfile.objects.for_farm(access.farm).filter(superseded=False)
    there = frozenset(n.lower() for n in names.values_list("name", flat=True))
    if not dry_run:
        for found in sheet.soils:
            note = "from a laboratory sheet"
            save_soil(access, SoilIn(name=found.name, note=note, horizons=found.horizons))
    return sheet, there
