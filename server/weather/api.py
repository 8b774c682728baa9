"""The weather of a farm: on record, ahead, entered, imported; where the station stands."""

from datetime import date, datetime, timedelta

from django.http import HttpRequest
from ninja import Field, File, Form, Query, Router
from ninja.files import UploadedFile

from server.base.error_schema import ERRORS
from server.base.moment import Day
from server.base.schema import Body, Schema
from server.base.signed_in import person
from server.farms.access import enter
from server.files.confined import content_of
from server.weather.days import set_day, set_rain, station_of, worked_out
from server.weather.forecasts import days_ahead
from server.weather.hourly_file import Stamp
from server.weather.models import WeatherDay
from server.weather.recorded import farm_weather
from server.weather.station import import_station_file, set_station
from server.weather.station_day import StationDay

router = Router(tags=["weather"])
SHOWN_FIRST = 8


class StationPlace(Body):
    """Degrees, north and east positive; m above the sea. All or none."""

    latitude: float | None = Field(None, ge=-90, le=90)
    longitude: float | None = Field(None, ge=-180, le=180)
    elevation_m: float | None = Field(None, ge=-430, le=6000)


class DayValues(Body):
    """A day as a station or a person tells it [degrees C, percent, MJ/m2, h, m/s at 2 m, mm];
    null is unknown. With ``et0_mm`` null it is worked out from the rest."""

    t_min_c: float | None = Field(None, ge=-60, le=60)
    t_max_c: float | None = Field(None, ge=-60, le=60)
    dew_c: float | None = Field(None, ge=-60, le=40)
    rh_min: float | None = Field(None, ge=0, le=105)
    rh_max: float | None = Field(None, ge=0, le=105)
    rh_mean: float | None = Field(None, ge=0, le=105)
    solar_mj: float | None = Field(None, ge=0, le=45)
    sunshine_h: float | None = Field(None, ge=0, le=24)
    wind_m_s: float | None = Field(None, ge=0, le=50)
    rain_mm: float | None = Field(None, ge=0, le=500)
    et0_mm: float | None = Field(None, ge=0, le=20)


class WeatherDayOut(DayValues):
    date: date
    source: str
    et_method: str


class DayAhead(Schema):
    """A day of the forecast: ET0 with its tenth and ninetieth percentile, the chance of a
    millimetre of rain or more, what most members bring, and what one in ten does [mm]."""

    date: date
    et0_mm: float
    et0_low_mm: float
    et0_high_mm: float
    rain_chance: float
    rain_likely_mm: float
    rain_high_mm: float


class WeatherOut(Schema):
    now: datetime
    time_zone: str
    station: StationPlace
    days: list[WeatherDayOut]
    ahead: list[DayAhead]
    ahead_source: str


class WeatherStretch(Body):
    days: int = Field(30, ge=1, le=400)


class RainIn(Body):
    rain_mm: float | None = Field(ge=0, le=500)


class FileDay(DayValues):
    date: date
    et_method: str


class StationFileOut(Schema):
    """What a sheet brings, or would; the first days as they were understood.

    ``step_minutes`` between the rows of a sheet of hours, null where each row is a day;
    ``incomplete`` are days left out since hours of them are missing."""

    stored: bool
    days: int
    first: date | None
    last: date | None
    new: int
    changed: int
    unchanged: int
    with_et: int
    columns: list[str]
    ignored: list[str]
    shown: list[FileDay]
    step_minutes: int | None
    incomplete: list[date]


def _day_out(row: WeatherDay) -> WeatherDayOut:
    return WeatherDayOut(
        date=row.date,
        source=row.source,
        et_method=row.et_method,
        et0_mm=row.et0_mm,
        t_min_c=row.t_min_c,
        t_max_c=row.t_max_c,
        rain_mm=row.rain_mm,
        **{k: v for k, v in row.measured.items() if k in DayValues.model_fields},
    )


@router.get("/farms/{slug}/weather", response={200: WeatherOut, **ERRORS}, operation_id="weather")
def weather(request: HttpRequest, slug: str, stretch: Query[WeatherStretch]) -> WeatherOut:
    """Recorded days, the newest first, and the forecast in force."""
    farm = enter(person(request), slug).farm
    now = farm.now()
    found = farm_weather(farm, now, stretch.days)
    since = now.date() - timedelta(days=stretch.days)
    ahead = [
        DayAhead(date=d.on, **{n: getattr(d, n) for n in DayAhead.model_fields if n != "date"})
        for d in days_ahead(found.forecast, now.date())
    ]
    return WeatherOut(
        now=now,
        time_zone=farm.time_zone,
        station=StationPlace(
            latitude=farm.latitude, longitude=farm.longitude, elevation_m=farm.elevation_m
        ),
        days=[_day_out(d) for d in reversed(found.days) if d.date >= since],
        ahead=ahead,
        ahead_source=found.stated.source if found.stated and ahead else "",
    )


@router.put(
    "/farms/{slug}/rain/{on}", response={200: WeatherDayOut, **ERRORS}, operation_id="set_rain"
)
def put_rain(request: HttpRequest, slug: str, on: Day, data: RainIn) -> WeatherDayOut:
    """The rain of a day by the farm's gauge; null takes the figure away."""
    return _day_out(set_rain(enter(person(request), slug), on, data.rain_mm))


@router.put(
    "/farms/{slug}/weather/{on}",
    response={200: WeatherDayOut, **ERRORS},
    operation_id="set_weather_day",
)
def put_day(request: HttpRequest, slug: str, on: Day, data: DayValues) -> WeatherDayOut:
    """A day's weather by hand."""
    station_day = StationDay(on, data.model_dump(exclude_none=True))
    return _day_out(set_day(enter(person(request), slug), station_day))


@router.put(
    "/farms/{slug}/station", response={200: StationPlace, **ERRORS}, operation_id="set_station"
)
def put_station(request: HttpRequest, slug: str, data: StationPlace) -> StationPlace:
    """Where the weather station stands; days on record keep the ET they have."""
    set_station(enter(person(request), slug), data.latitude, data.longitude, data.elevation_m)
    return data


@router.post(
    "/farms/{slug}/weather-file",
    response={200: StationFileOut, **ERRORS},
    operation_id="weather_file",
)
def station_file(
    request: HttpRequest,
    slug: str,
    file: File[UploadedFile],
    dry_run: Form[bool] = True,
    stamp: Form[Stamp] = Stamp.END,
) -> StationFileOut:
    """A station's sheet of days or hours: checked, or checked and stored; all or none.

    ``stamp`` says what the times of hours mark."""
    access = enter(person(request), slug)
    farm = access.farm
    sheet, stored = import_station_file(access, content_of(file), file.name or "", stamp, dry_run)
    et = worked_out(sheet.days[:SHOWN_FIRST], station_of(farm))
    shown = [
        FileDay(
            date=d.on,
            et_method=how,
            **{**d.values, "et0_mm": mm},
        )
        for d, (mm, how) in zip(sheet.days, et, strict=False)
    ]
    return StationFileOut(
        stored=not dry_run,
        days=len(sheet.days),
        first=sheet.days[0].on,
        last=sheet.days[-1].on,
        new=stored.new,
        changed=stored.changed,
        unchanged=stored.unchanged,
        with_et=stored.with_et,
        columns=sheet.columns,
        ignored=sheet.ignored,
        shown=shown,
        step_minutes=sheet.step_minutes,
        incomplete=sheet.incomplete,
    )
