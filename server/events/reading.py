"""From the database to a block's records, and from events back to rows."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from math import isfinite

import numpy as np

from core.arrays import Floats
from core.crop.reference import SurfacesDiffer
from core.events.event import WettingEvent
from core.events.record import SiteRecord
from core.irrigation.intake import BASIC_INTAKE_MM_H
from core.limits.by_day import limits_by_day
from server.base.json_out import known
from server.blocks.models import Block
from server.events.models import Wetting
from server.events.supplies import Logged, irrigations_at, rain_of
from server.instruments.models import Instrument
from server.limits.facts import BlockFacts
from server.readings.recent import Thinned
from server.readings.sites import instrument_sites, soil_channels
from server.water.equipment import wetted_share
from server.water.models import Irrigation
from server.water.passes import hours_to
from server.weather.recorded import FarmWeather


@dataclass(frozen=True)
class InstrumentRecord:
    """A record with what its supplies stand for; its hours count from ``until``, in UTC."""

    until: datetime
    instrument: Instrument
    record: SiteRecord
    logged: tuple[Logged, ...]


def midnight(on: date, now: datetime) -> datetime:
    """The beginning of a day of the farm, in UTC; ``now`` is in the farm's time zone."""
    return datetime.combine(on, time(), tzinfo=now.tzinfo).astimezone(UTC)


def roots_and_use(
    facts: BlockFacts, weather: FarmWeather, first: date, now: datetime, share: float
) -> tuple[Floats, Floats, Floats]:
    """When days begin [h from now], roots and use of the watered ground on them [mm]."""
    count = (now.date() - first).days + 1
    begins = [midnight(first + timedelta(days=k), now) for k in range(count)]
    hours = np.array([hours_to(b, now.astimezone(UTC)) for b in begins])
    none = np.empty(0)
    if facts.season is None or facts.et is None:
        return none, none, none
    try:
        season = facts.on_et_surface(facts.season, facts.et)
    except SurfacesDiffer:
        return none, none, none
    limits = limits_by_day([facts.ground(season)], first, count)
    et0 = np.full(count, np.nan)
    for row in weather.days:
        at = (row.date - first).days
        if 0 <= at < count and row.et0_mm is not None:
            et0[at] = row.et0_mm
    # Of today the day's ET is not recorded yet.
    et0[-1] = facts.et.expected if np.isnan(et0[-1]) else et0[-1]
    return hours, limits.root_mm[0], limits.crop.kc[0] * et0 / share


def block_records(
    block: Block,
    facts: BlockFacts,
    weather: FarmWeather,
    sets: Sequence[Irrigation],
    readings: Thinned,
    until: datetime,
    zone: tzinfo,
    first: date,
    noise: Mapping[int, float],
) -> list[InstrumentRecord]:
    """What is known of each of a block's instruments from a day on.

    Hours count from ``until``, in UTC; ``zone`` is the farm's. ``noise`` by channel, where it was
    found before.
    """
    now = until.astimezone(zone)
    profile = facts.soils[-1].profile
    share = wetted_share(block).share
    day_hours, root, use = roots_and_use(facts, weather, first, now, share)
    rain = rain_of(
        (d for d in weather.days if d.date >= first),
        BASIC_INTAKE_MM_H[profile.limits[0].texture],
        now,
    )
    clock = now.hour + now.minute / 60 + now.second / 3600
    out = []
    for instrument, site in instrument_sites(block, profile, readings, until):
        logged = (*irrigations_at(sets, block, instrument, until), *rain)
        channels = [c.pk for c in soil_channels(instrument)]
        own = np.array([noise.get(c, np.nan) for c in channels])
        record = SiteRecord(
            site,
            clock,
            tuple(x.supply for x in logged),
            day_hours,
            root,
            use,
            share,
            own if noise else None,
        )
        out.append(InstrumentRecord(until, instrument, record, logged))
    return out


def wetting_rows(
    block: Block, of: InstrumentRecord, events: Sequence[WettingEvent]
) -> Iterator[Wetting]:
    """Rows of one instrument's events, not saved; water as a depth over all of the ground."""
    share = of.record.wetted_share

    def at(hours: float) -> datetime:
        return of.until + timedelta(hours=hours)

    for event in events:
        answers = [event.wetting.answer_of(j) for j in range(of.record.site.depth_mm.size)]
        drained = event.draining.ends_hours
        brought = [of.logged[k] for k in event.supplies]
        yield Wetting(
            block=block,
            instrument=of.instrument,
            began_after=at(event.wetting.before_hours),
            began_by=at(event.wetting.after_hours),
            settled_at=at(event.settled_hours),
            is_over=event.wetting.is_over,
            depth_mm=of.record.site.depth_mm.tolist(),
            arrived_after=[a and at(a.before_hours) for a in answers],
            arrived_by=[a and at(a.after_hours) for a in answers],
            wettest_at=[a and at(a.peak_hours) for a in answers],
            rise=[known(x) for x in event.rise],
            top_mm=[known(x) for x in event.stored.top_mm],
            bottom_mm=[known(x) for x in event.stored.bottom_mm],
            added_mm=[known(x * share) for x in event.stored.layer_mm],
            reached_mm=event.reach.mm,
            reached_low_mm=event.reach.low_mm,
            reached_high_mm=known(event.reach.high_mm),
            front_mm_h=known(event.front_mm_h[1]),
            root_mm=known(event.root_mm),
            stored_mm=known(event.stored.total_mm * share),
            stored_sigma_mm=known(event.stored.sigma_mm * share),
            irrigations=sorted({x.irrigation_id for x in brought if x.irrigation_id is not None}),
            rain_days=sorted({x.rain_on for x in brought if x.rain_on is not None}),
            given_mm=known(event.given.mm * share),
            given_sigma_mm=known(event.given.sigma_mm * share),
            used_mm=known(event.used_mm * share),
            recovery=known(event.recovery[0]),
            recovery_sigma=known(event.recovery[1]),
            passed_mm=known(event.passed.mm * share),
            passed_sigma_mm=known(event.passed.sigma_mm * share),
            drained_at=at(drained) if isfinite(drained) else None,
            drained_mm=event.draining.lost_mm * share,
            drained_theta=[known(x) for x in event.drained_theta],
        )
