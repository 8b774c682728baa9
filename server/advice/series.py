"""A block's past for its soil profile: sensors, store, limits, daily use."""

from datetime import timedelta

import numpy as np

from core.advice.inputs import BlockInputs
from core.crop.reference import SurfacesDiffer
from core.crop.season import CropSeason, season_days
from core.instrument.kinds import Quantity, kinds
from core.instrument.site import Site
from core.instrument.trust import Doubt
from core.regime.assess import block_past
from core.store.deficit import available_fraction
from server.advice.assemble import (
    block_inputs,
    recent_sets,
)
from server.advice.present import given_sets
from server.advice.series_schemas import SeriesOut, SiteSeries, StorePoint, UsePoint
from server.base.json_out import known, known_rows
from server.blocks.models import Block
from server.blocks.record_days import days_back
from server.farms.models import Farm
from server.limits.facts import warmth_since
from server.water.models import Irrigation
from server.weather.recorded import FarmWeather, farm_weather

POINTS = 340  # about one a pixel of the wall's half width
ROOT_AHEAD_DAYS = 5


def _site_series(site: Site, inputs: BlockInputs, days: int) -> SiteSeries:
    shown = site.hours >= -days * 24
    theta = site.theta[shown]
    newest = [
        str(site.doubt[row, j]) if row >= 0 else str(Doubt.MISSING)
        for j, row in enumerate(site.newest)
    ]
    return SiteSeries(
        label=site.label,
        is_tension=kinds()[site.kind].quantity is Quantity.TENSION,
        depth_mm=site.depth_mm.tolist(),
        hours=[round(h, 3) for h in site.hours[shown].tolist()],
        value=known_rows(site.value[shown]),
        fraction=known_rows(available_fraction(theta, site.horizon, inputs.assumed.profile), 3),
        doubt=newest,
    )


def _season(inputs: BlockInputs) -> CropSeason | None:
    """The crop on the ET's own surface; None where there is none or the two can't be joined."""
    try:
        return inputs.assumed.season_for_et()
    except SurfacesDiffer:
        return None


def _store(inputs: BlockInputs, days: int) -> tuple[list[StorePoint], list[float]]:
    found = block_past(inputs, days)
    if found is None:
        return [], []
    limits, past = found
    at, share = limits.at(past.hours), inputs.assumed.wetted_share
    store = at.full_mm * share - past.deficit_mm + past.surplus_mm
    points = [
        StorePoint(
            hours=float(h),
            store_mm=known(store[i]),
            full_mm=float(at.full_mm[i]) * share,
            refill_mm=float(at.refill_mm[i]) * share,
            wilt_mm=float(at.wilt_mm[i]) * share,
            root_mm=float(past.root_mm[i]),
        )
        for i, h in enumerate(past.hours)
    ]
    ahead = limits.root_mm_at(np.arange(ROOT_AHEAD_DAYS + 1) * 24.0)
    return points, ahead.tolist()


def _use(inputs: BlockInputs, weather: FarmWeather, days: int) -> list[UsePoint]:
    """Crop water use of each recorded day: Kc times the day's ET0."""
    first = inputs.now.date() - timedelta(days=days)
    season = _season(inputs)
    kc = season_days([season], first, days + 1).kc[0] if season else None
    out = []
    for row in (d for d in weather.days if d.date >= first):
        etc = None
        grown = season is not None and (row.date >= season.planted_on or season.crop.perennial)
        if grown and kc is not None and row.et0_mm is not None:
            etc = float(kc[(row.date - first).days]) * row.et0_mm
        out.append(UsePoint(date=row.date, etc_mm=etc, rain_mm=row.rain_mm))
    return out


def block_series(farm: Farm, block: Block, days: int) -> SeriesOut:
    """The past days of a block, thinned to what a wall can show."""
    now = farm.now()
    # A flat line shows only over days: doubt needs a longer look than the stretch asked for.
    reach = max(days, days_back([block], now.date()))
    weather = farm_weather(farm, now, int(reach), warmth_since([block], now.date()))
    sets = recent_sets(farm, [block], now, reach)
    bucket = max(days * 24 / POINTS, 0.5)
    inputs = block_inputs(farm, [block], now, weather, sets, reach, bucket)[block.pk]
    store, root_ahead = _store(inputs, days)
    since = now - timedelta(days=days)
    shown = [
        s
        for s in sets.get(block.pk, [])
        if since < s.ended_at and s.started_at <= now and s.status != Irrigation.Status.PLANNED
    ]
    return SeriesOut(
        now=inputs.now,
        days=days,
        sites=[_site_series(s, inputs, days) for s in inputs.sites],
        store=store,
        use=_use(inputs, weather, days),
        sets=given_sets(shown, inputs.now),
        root_ahead_mm=root_ahead,
        profile_depth_mm=inputs.assumed.profile.depth_mm,
    )
