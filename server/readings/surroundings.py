"""Water, refills and soil temperature around readings, loaded for the stretch they cover."""

from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from django.db import connection

from core.arrays import Floats
from core.instrument.life import LogKind
from core.instrument.reading_units import coded_to_core
from core.quality.judge import Surroundings
from core.quality.series import Series
from core.quality.water import Water
from server.instruments.models import InstrumentEvent
from server.readings.binary_copy import copy_out
from server.readings.channels import ChannelFacts
from server.water.models import Irrigation
from server.weather.models import WeatherDay

HOUR_US = 3_600_000_000
WATER_LOOKS_BACK = timedelta(days=10)  # no set runs longer
RAIN_COUNTS_MM = 0.5
SOIL_C_MAX_AGE_HOURS = 6.0

_SOIL_C = """
SELECT r.channel_id, r."time", r.value, r.unit
FROM readings_reading r
JOIN instruments_channel c ON c.id = r.channel_id
JOIN instruments_instrument i ON i.id = c.instrument_id
WHERE i.block_id = ANY(%(blocks)s) AND c.quantity = 'temperature'
    AND r."time" BETWEEN %(first)s AND %(last)s
ORDER BY r.channel_id, r."time"
"""
_SOIL_C_ROW = np.dtype([("channel", "i8"), ("time", "i8"), ("value", "f8"), ("unit", "i2")])


def _hours(moment: datetime, origin_us: int) -> float:
    return (moment.timestamp() * 1e6 - origin_us) / HOUR_US


def _day_hours(on: date, zone: ZoneInfo, origin_us: int) -> float:
    return _hours(datetime.combine(on, time(0), tzinfo=zone), origin_us)


def _water(facts: ChannelFacts, first: datetime, last: datetime, origin_us: int) -> Water:
    blocks = {int(b): int(k) for b, k in zip(facts.block_id, facts.sensors.block, strict=True)}
    events = [
        (blocks[block], _hours(start, origin_us), _hours(end, origin_us))
        for block, start, end in Irrigation.unscoped.filter(
            block__in=blocks,
            status__in=[Irrigation.Status.RUNNING, Irrigation.Status.DONE],
            started_at__gte=first - WATER_LOOKS_BACK,
            started_at__lte=last,
        ).values_list("block_id", "started_at", "ended_at")
    ]
    rain = WeatherDay.unscoped.filter(
        farm__in={int(f) for f in facts.farm_id},
        date__gte=(first - timedelta(days=2)).date(),
        date__lte=(last + timedelta(days=1)).date(),
        rain_mm__gte=RAIN_COUNTS_MM,
    ).values_list("date", flat=True)
    for on in rain:
        # The hour of a day's rain is not recorded: it may have been any.
        start = _day_hours(on, facts.zone, origin_us)
        end = _day_hours(on + timedelta(days=1), facts.zone, origin_us)
        events += [(block, start, end) for block in set(blocks.values())]
    return _as_water(events)


def _as_water(events: list[tuple[int, float, float]]) -> Water:
    if not events:
        return Water.none()
    owner, start, end = (np.array(x) for x in zip(*events, strict=True))
    return Water(owner.astype(np.int64), start.astype(float), end.astype(float))


def _services(facts: ChannelFacts, first: datetime, last: datetime, origin_us: int) -> Water:
    """Visits that set an instrument right, by channel."""
    if not facts.sensors.is_tensiometer.any():
        return Water.none()
    at: dict[int, list[float]] = {}
    rows = InstrumentEvent.unscoped.filter(
        instrument__in={int(i) for i in facts.instrument_id[facts.sensors.is_tensiometer]},
        kind__in=[LogKind.SERVICED, LogKind.INSTALLED, LogKind.REPLACED],
        at__gte=first,
        at__lte=last,
    ).values_list("instrument_id", "at")
    for instrument, moment in rows:
        at.setdefault(instrument, []).append(_hours(moment, origin_us))
    return _as_water(
        [
            (k, hour, hour)
            for k, instrument in enumerate(facts.instrument_id)
            for hour in at.get(int(instrument), ())
        ]
    )


def soil_temperature(
    facts: ChannelFacts, channel: np.ndarray, time_us: np.ndarray, wanted: np.ndarray
) -> Floats:
    """Temperature of the soil beside each wanted reading [degrees C]; NaN where none is known.

    The newest of the block's thermometers in the six hours before.
    """
    out = np.full(time_us.shape, np.nan)
    if not wanted.any():
        return out
    back = int(SOIL_C_MAX_AGE_HOURS * HOUR_US)
    low, high = int(time_us.min()) - back, int(time_us.max())
    with connection.cursor() as cursor:
        rows = copy_out(
            cursor,
            _SOIL_C,
            {
                "blocks": [int(b) for b in np.unique(facts.block_id)],
                "first": datetime.fromtimestamp(low / 1e6, UTC),
                "last": datetime.fromtimestamp(high / 1e6, UTC),
            },
            _SOIL_C_ROW,
        )
    if not rows.size:
        return out
    thermometers = _thermometers(np.unique(rows["channel"]))
    for block in np.unique(facts.block_id):
        in_block = wanted & (facts.block_id[channel] == block)
        for depth in np.unique(facts.depth_mm[channel[in_block]]):
            near = [(abs(d - depth), c) for c, (b, d) in thermometers.items() if b == block]
            if not near:
                continue
            heard = rows[rows["channel"] == min(near)[1]]
            celsius = coded_to_core(heard["value"], heard["unit"])
            at = np.flatnonzero(in_block & (facts.depth_mm[channel] == depth))
            place = np.searchsorted(heard["time"], time_us[at], "right") - 1
            fresh = (place >= 0) & (time_us[at] - heard["time"][np.maximum(place, 0)] <= back)
            out[at[fresh]] = celsius[place[fresh]]
    return out


def _thermometers(channels: np.ndarray) -> dict[int, tuple[int, float]]:
    """Block and depth of thermometer channels."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT c.id, i.block_id, coalesce(c.depth_mm, 0) FROM instruments_channel c "
            "JOIN instruments_instrument i ON i.id = c.instrument_id WHERE c.id = ANY(%s)",
            [[int(c) for c in channels]],
        )
        return {row[0]: (row[1], row[2]) for row in cursor.fetchall()}


def _local_hour(time_us: np.ndarray, zone: ZoneInfo) -> Floats:
    """Hour of the farm's clock; the offset of a day's noon serves the whole day."""
    day_us = 24 * HOUR_US
    days, place = np.unique(time_us // day_us, return_inverse=True)
    offset = [
        (datetime.fromtimestamp(float(d) * 86_400 + 43_200, zone).utcoffset() or timedelta())
        / timedelta(hours=1)
        for d in days
    ]
    out: Floats = (time_us % day_us / HOUR_US + np.array(offset)[place.reshape(-1)]) % 24
    return out


def surroundings(
    facts: ChannelFacts, series: Series, time_us: np.ndarray, origin_us: int, soil_c: Floats
) -> Surroundings:
    """What happened around readings; times as epoch microseconds, rising within a channel."""
    first = datetime.fromtimestamp(int(time_us.min()) / 1e6, UTC)
    last = datetime.fromtimestamp(int(time_us.max()) / 1e6, UTC)
    return Surroundings(
        water=_water(facts, first, last, origin_us),
        serviced=_services(facts, first, last, origin_us),
        local_hour=_local_hour(time_us, facts.zone),
        soil_c=soil_c,
    )
