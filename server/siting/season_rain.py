"""Rain of the years that layers are of."""

from collections.abc import Sequence

from server.farms.models import Farm
from server.siting.models import SitingLayer
from server.weather.models import WeatherDay

# Days of a year's rain that must be known for it to be told from the farm's weather.
ENOUGH_DAYS = 300


def rain_by_year(farm: Farm, rows: Sequence[SitingLayer]) -> dict[int, float | None]:
    """Rain of each year with a yield [mm]: as entered with it, else of the farm's weather."""
    entered = {r.year: r.rain_mm for r in rows if r.year is not None}
    wanted = [y for y, mm in entered.items() if mm is None]
    known: dict[int, list[float]] = {}
    days = WeatherDay.objects.for_farm(farm).filter(date__year__in=wanted, rain_mm__isnull=False)
    for day, mm in days.values_list("date", "rain_mm") if wanted else ():
        known.setdefault(day.year, []).append(mm)
    return {
        y: mm if mm is not None else sum(known[y]) if len(known.get(y, ())) >= ENOUGH_DAYS else None
        for y, mm in sorted(entered.items())
    }
