"""A block as diagnoses are made from it, from the database."""

from datetime import datetime, timedelta

import numpy as np

from core.diagnosis.block import RAIN, SeenBlock, SeenSite
from core.diagnosis.periods import SEASON_H
from core.events.event import WettingEvent, wetting_events
from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.life import LifeStatus, LogEntry, installed_at, life_status
from core.irrigation.intake import BASIC_INTAKE_MM_H
from core.soil.profile import Profile
from server.blocks.models import Block
from server.events.bring_up import site_records
from server.events.reading import InstrumentRecord
from server.farms.models import Farm
from server.instruments.models import Instrument
from server.limits.facts import block_facts, warmth_since
from server.readings.water_table import water_tables
from server.water.equipment import wetted_share
from server.water.passes import hours_to
from server.weather.recorded import farm_weather

# A reading each hour tells all that diagnoses look for.
STEP_H = 1.0
# Between full and refill where the crop's own share is not known; FAO-56 (1998), ch. 8.
USUAL_P = 0.5
_UNHEARD = frozenset({LifeStatus.PREPARED, LifeStatus.SUSPECT, LifeStatus.RETIRED})


def seen_block(farm: Farm, block: Block, now: datetime) -> tuple[SeenBlock, list[InstrumentRecord]]:
    """The block and the records of its sites, in order; instruments that the log says are not to be
    heard are left out."""
    begin = now - timedelta(hours=SEASON_H)
    records = [r for r in site_records(farm, block, begin, now, {}, STEP_H) if _is_heard(r, now)]
    weather = farm_weather(farm, now, since=warmth_since([block], now.date()))
    facts = block_facts(farm, [block], now, weather, water_tables([block], now))[block.pk]
    profile = facts.soils[-1].profile
    p = facts.season.crop.p if facts.season is not None else USUAL_P
    events = wetting_events([r.record for r in records])
    sites = tuple(
        _site(record, found, profile, p, now) for record, found in zip(records, events, strict=True)
    )
    share = wetted_share(block).share
    rate = block.rate_mm_h
    if rate is None and block.flow_m3_h is not None:
        rate = block.flow_m3_h * 1000 / block.area_m2
    seen = SeenBlock(
        sites,
        float("nan") if rate is None else rate / share,
        BASIC_INTAKE_MM_H[profile.limits[0].texture],
        _rate_since(block, now),
    )
    return seen, records


def _rate_since(block: Block, now: datetime) -> float:
    """When the block's rate or flow was last changed [h from now]; minus infinity where it never
    was."""
    since = None
    saved = block.history.order_by("-history_date", "-history_id")
    for at, *stated in saved.values_list("history_date", "rate_mm_h", "flow_m3_h"):
        if stated != [block.rate_mm_h, block.flow_m3_h]:
            return float("-inf") if since is None else hours_to(since, now)
        since = at
    return float("-inf")


def _log(instrument: Instrument) -> list[LogEntry]:
    return [e.entry for e in instrument.events.all()]


def _is_heard(record: InstrumentRecord, now: datetime) -> bool:
    """Whether an instrument is at work and has said anything at all."""
    if not record.record.site.hours.size:
        return False
    settles = kinds()[InstrumentKind(record.instrument.kind)].settles_days
    return life_status(_log(record.instrument), settles, now) not in _UNHEARD


def _site(
    record: InstrumentRecord,
    events: tuple[WettingEvent, ...],
    profile: Profile,
    p: float,
    now: datetime,
) -> SeenSite:
    horizon = profile.horizon_at(record.record.site.depth_mm)
    full, wilt = profile.theta_full[horizon], profile.theta_wilt[horizon]
    numbers = [RAIN if x.irrigation_id is None else x.irrigation_id for x in record.logged]
    installed = installed_at(_log(record.instrument), now)
    return SeenSite(
        record=record.record,
        events=events,
        irrigation=np.array(numbers, int),
        full_theta=full,
        refill_theta=full - p * (full - wilt),
        sat_theta=profile.theta_sat[horizon],
        installed_hours=float("nan") if installed is None else hours_to(installed, record.until),
    )
