"""Irrigations and rain of a block as they may have wetted its instruments."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

import numpy as np

from core.events.supply import Supply
from core.weather.effective_rain import effective_rain
from server.blocks.models import Block
from server.events.models import Wetting
from server.farms.models import Farm
from server.instruments.models import Instrument
from server.water.models import Irrigation
from server.water.passes import arrivals, hours_to, moves_on
from server.weather.models import WeatherDay

# A machine waters one place within about an hour; common practice, no source.
PASSING_H = 1.0


@dataclass(frozen=True)
class Logged:
    """A supply and the record that it stands for."""

    supply: Supply
    irrigation_id: int | None = None
    rain_on: date | None = None


def irrigations_at(
    rows: Iterable[Irrigation], block: Block, instrument: Instrument, now: datetime
) -> list[Logged]:
    """Irrigations that ran, as water at one instrument; hours from now.

    Where a machine crosses the block and it is not known where the instrument stands, the water
    came at some time of the pass.
    """
    out = []
    moving, place = moves_on(block), instrument.pass_place
    for row in rows:
        if row.status != Irrigation.Status.DONE or row.ended_at > now:
            continue
        start, end = hours_to(row.started_at, now), hours_to(row.ended_at, now)
        if moving and place is not None:
            out += [
                Logged(Supply(a.hours - PASSING_H, a.hours, a.depth_mm), irrigation_id=row.pk)
                for a in arrivals(row, block.efficiency, (place,), now)
            ]
        else:
            net = row.gross_mm * block.efficiency
            supply = Supply(start, end, net, hour_known=not moving)
            out.append(Logged(supply, irrigation_id=row.pk))
    return out


def rain_of(days: Iterable[WeatherDay], intake_mm_h: float, now: datetime) -> list[Logged]:
    """Recorded rain as it entered the soil, at some time of its day; hours from now, which is in
    the farm's time zone."""
    rained = [d for d in days if d.rain_mm]
    if not rained:
        return []
    fell = np.array([d.rain_mm for d in rained], float)
    et0 = np.array([d.et0_mm or 0.0 for d in rained])
    entered = effective_rain(fell, et0, intake_mm_h).infiltrated_mm
    out = []
    for day, mm in zip(rained, entered.tolist(), strict=True):
        if mm <= 0:
            continue
        first, last = (
            datetime.combine(day.date + timedelta(days=k), time(), tzinfo=now.tzinfo)
            for k in (0, 1)
        )
        # Of one time zone, two moments would be told apart by the clock, and not by time.
        start, end = (hours_to(x.astimezone(UTC), now.astimezone(UTC)) for x in (first, last))
        out.append(Logged(Supply(start, end, mm, True, hour_known=False), rain_on=day.date))
    return out


def irrigations_of(farm: Farm, rows: Iterable[Wetting]) -> dict[int, Irrigation]:
    """The irrigations that brought wettings, by number; those that are gone are left out."""
    ids = {pk for row in rows for pk in row.irrigations}
    return {s.pk: s for s in Irrigation.objects.for_farm(farm).filter(pk__in=ids)}
