"""The farm's weather station: where it stands, and the sheets that it writes."""

from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.files.confined import read_confined
from server.weather.days import DaysStored, station_of, store_days
from server.weather.hourly_file import Stamp
from server.weather.station_file import StationSheet, read_station_file


@acting(Action.RECORD_WEATHER)
def set_station(
    access: Access, latitude: float | None, longitude: float | None, elevation_m: float | None
) -> None:
    """Keep where the station stands; days on record keep the ET they have.

    Raises
    ------
    RequestError
    """
    given = [v for v in (latitude, longitude, elevation_m) if v is not None]
    if given and len(given) < 3:
        raise RequestError(
            sentence("The station was not saved."),
            (
                Problem(
                    field="latitude",
                    message=sentence("Enter latitude, longitude and elevation, or none of them."),
                ),
            ),
        )
    farm = access.farm
    farm.latitude, farm.longitude, farm.elevation_m = latitude, longitude, elevation_m
    farm.save(update_fields=["latitude", "longitude", "elevation_m"])
    record(access, Done.STATION_CHANGED)


# The sheet is read before anything is stored, and what is stored of it is whole by itself.
@acting(Action.RECORD_WEATHER, whole=False)
def import_station_file(
    access: Access, content: bytes, name: str, stamp: Stamp, dry_run: bool
) -> tuple[StationSheet, DaysStored]:
    """Days of a station's sheet, stored unless this is a dry run; all or none.

    Raises
    ------
    RequestError
    """
    farm = access.farm
    sheet = read_confined(read_station_file, content, farm.now(), stamp, station_of(farm))
    if not sheet.days:
        raise RequestError(sentence("The file holds no complete day with a value."))
    stored = store_days(farm, sheet.days, f"station file {name}".strip(), dry_run)
    if not dry_run:
        record(access, Done.WEATHER_IMPORTED, name)
    return sheet, stored
