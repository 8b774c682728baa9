"""Rain of the years that layers are of: entered, from a file, or of the farm's weather."""

import re
from collections.abc import Mapping, Sequence

from core.sentence import sentence
from core.units import MM_PER_INCH
from server.base.errors import Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm
from server.farms.rules import Action
from server.files.confined import read_confined
from server.files.table_file import FileProblems, cell_number, delimiter_of, read_rows, read_text
from server.siting.models import RainYear, SitingLayer
from server.siting.rain_schemas import RainYearIn, RainYearOut
from server.weather.models import WeatherDay

# Days of a year's rain that must be known for it to be told from the farm's weather.
ENOUGH_DAYS = 300
EXAMPLE = "year,rain mm"
_YEAR = re.compile(r"year|jahr|season|temporada|a[ñn]o", re.I)
_RAIN = re.compile(r"rain|precip|niederschlag|lluvia|pluie|\bmm\b|\bin\b", re.I)


def rain_by_year(farm: Farm, rows: Sequence[SitingLayer]) -> dict[int, float | None]:
    """Rain of each year with a yield [mm]: as entered with it, else for the year, else of the
    farm's weather. Other years for which rain was entered go with them, to be compared with, unless
    a harvest's own rain is there: that may be of other months."""
    entered = {r.year: r.rain_mm for r in rows if r.year is not None}
    wanted = [y for y, mm in entered.items() if mm is None]
    stated = dict(RainYear.objects.for_farm(farm).values_list("year", "rain_mm"))
    weather = _of_weather(farm, [y for y in wanted if y not in stated])
    others = stated if len(wanted) == len(entered) else {}
    return others | {
        year: mm if mm is not None else stated.get(year, weather.get(year))
        for year, mm in sorted(entered.items())
    }


def _of_weather(farm: Farm, years: Sequence[int]) -> dict[int, float]:
    """Rain of years of which enough days are known [mm]."""
    known: dict[int, list[float]] = {}
    days = WeatherDay.objects.for_farm(farm).filter(date__year__in=years, rain_mm__isnull=False)
    for day, mm in days.values_list("date", "rain_mm") if years else ():
        known.setdefault(day.year, []).append(mm)
    return {year: sum(mm) for year, mm in known.items() if len(mm) >= ENOUGH_DAYS}


def rain_years(access: Access) -> list[RainYearOut]:
    """Years with a yield or with rain that was entered, the newest first."""
    stated = dict(RainYear.objects.for_farm(access.farm).values_list("year", "rain_mm"))
    layers = SitingLayer.objects.for_farm(access.farm).filter(year__isnull=False)
    years = sorted({*stated, *layers.values_list("year", flat=True)}, reverse=True)
    weather = _of_weather(access.farm, years)
    return [RainYearOut(year=y, rain_mm=stated.get(y), weather_mm=weather.get(y)) for y in years]


@acting(Action.SET_UP_GROUND)
def put_rain_years(access: Access, years: Sequence[RainYearIn]) -> None:
    """Say how much it rained in each year; years that are not told are forgotten.

    Raises
    ------
    RequestError
        When a year is told twice.
    """
    told = {y.year: y.rain_mm for y in years}
    if len(told) < len(years):
        raise RequestError(
            sentence("The rain was not saved."),
            (Problem(field="years", message=sentence("A year appears twice.")),),
        )
    for row in RainYear.objects.for_farm(access.farm).exclude(year__in=told):
        row.delete()
    _write(access, told)


def _write(access: Access, told: Mapping[int, float]) -> None:
    rows = {r.year: r for r in RainYear.objects.for_farm(access.farm)}
    for year, mm in told.items():
        row = rows.get(year) or RainYear(farm=access.farm, year=year)
        if row.pk is None or row.rain_mm != mm:
            row.rain_mm = mm
            row.save()
    record(access, Done.RAIN_YEARS_CHANGED, ", ".join(str(y) for y in sorted(told)[-5:]))


@acting(Action.SET_UP_GROUND)
def import_rain_years(access: Access, content: bytes, dry_run: bool) -> list[RainYearIn]:
    """Years and their rain in a file, added to those of the farm unless this is a dry run.

    Raises
    ------
    RequestError
        With row, column and cure of each problem.
    """
    years = read_confined(read_rain_file, content)
    if not dry_run:
        _write(access, {y.year: y.rain_mm for y in years})
    return years


def read_rain_file(data: bytes) -> list[RainYearIn]:
    """A table of years and rain, in mm or in inches as its heading says.

    Raises
    ------
    RequestError
    """
    text = read_text(data)
    first = next((x for x in text.split("\n") if x.strip()), "")
    delimiter = delimiter_of(first, EXAMPLE)
    rows = read_rows(text, delimiter)
    number, heading = rows[0]
    problems = FileProblems()
    year_at = next((i for i, h in enumerate(heading) if _YEAR.search(h)), None)
    rain_at = next((i for i, h in enumerate(heading) if _RAIN.search(h) and i != year_at), None)
    for name, place in (("year", year_at), ("rain", rain_at)):
        if place is None:
            missing = sentence(
                "There is no column “{name}”; expected e.g. {example}.",
                name=name,
                example=EXAMPLE,
            )
            problems.add(number, name, missing)
    if year_at is None or rain_at is None:
        raise problems.refuse()
    size = MM_PER_INCH if re.search(r"\bin(ch(es)?)?\b", heading[rain_at], re.I) else 1.0
    found: dict[int, float] = {}
    for row, cells in rows[1:]:
        year = _cell(cells, year_at, delimiter)
        mm = _cell(cells, rain_at, delimiter)
        if year is None or not 1950 <= year <= 2100 or year != int(year):
            problems.add(row, heading[year_at].strip(), sentence("This is no year."))
        elif mm is None or not 0 <= mm * size <= 20_000:
            problems.add(
                row, heading[rain_at].strip(), sentence("Enter the year's rain, 0 to 20,000 mm.")
            )
        elif int(year) in found:
            problems.add(
                row,
                heading[year_at].strip(),
                sentence("{year} appears twice; one row for each year is needed.", year=int(year)),
            )
        else:
            found[int(year)] = round(mm * size, 1)
    if problems.found:
        raise problems.refuse()
    return [RainYearIn(year=y, rain_mm=mm) for y, mm in sorted(found.items())]


def _cell(cells: Sequence[str], place: int, delimiter: str) -> float | None:
    text = cells[place].strip() if place < len(cells) else ""
    return cell_number(text, decimal_comma=delimiter != ",")
