"""The inputs of many blocks side by side: limits, root zones, water, use and what was seen."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from core.advice.estimate_inputs import has_readings, is_tended
from core.advice.inputs import BlockInputs
from core.advice.rise import rise_by_day
from core.advice.soil_evaporation import SoilEvaporation, by_basal, soil_evaporation
from core.arrays import Floats
from core.crop.season import CropSeason
from core.limits.by_day import LimitsByDay, limits_by_day
from core.outlook.forecast import Forecast
from core.soil.profiles import Profiles
from core.state.by_sensors import Heard
from core.state.daylight import used_by
from core.state.estimate_from import ESTIMATES_FROM, EstimateFrom
from core.state.observe import Observed, SitesOfBlocks, SitesSeen, by_block, see
from core.state.water_given import WaterGiven
from core.state.zones import RootZones, root_zones

AHEAD_DAYS = 30
MIN_PAST_DAYS = 8  # the longest that a reading is carried where no weather was recorded
MAX_PAST_DAYS = 400
# How much of the full point's uncertainty stands between a sensor's deficit and the balance's:
# the reading's own calibration errs along with it (working assumption, no source).
FULL_SIGMA_SHARE = 0.5
# Water that came lately is still on its way between the sensors: what they say then is worth
# less by this share of it, halved each day (working assumption, no source).
MOVING_SHARE = 0.2
MOVING_DAYS = 5


@dataclass(frozen=True)
class Gathered:
    """Blocks of one farm at one instant; columns are days of 24 h that end and begin at now.

    past_days : columns before now; column ``past_days`` begins now
    kc : array (blocks, columns) [-]; basal where the coefficient is dual, with what the bare
        soil gives off apart in ``surface``
    rise_mm : array (blocks, columns), from below [mm/day]
    et0_by_date_mm : array (blocks, past_days + 1) [mm/day], by calendar day, today last
    et0_past_mm : array (blocks, past_days) [mm/day]
    recorded : array (blocks, past_days) of bool
    estimate_from : array (blocks,) of indices into `ESTIMATES_FROM`; from sensors where they
        sent readings and no weather was recorded
    tended : array (blocks,) of bool, whether anybody tells what the block is given
    """

    blocks: tuple[BlockInputs, ...]
    seasons: tuple[CropSeason, ...]
    past_days: int
    hour_of_day: float
    limits: LimitsByDay
    zones: RootZones
    kc: Floats
    rise_mm: Floats
    surface: SoilEvaporation
    et0_by_date_mm: Floats
    et0_past_mm: Floats
    recorded: np.ndarray
    forecast: Forecast
    seen: SitesSeen
    observed: Observed
    heard: Heard
    estimate_from: np.ndarray
    tended: np.ndarray


def past_days_of(blocks: Sequence[BlockInputs]) -> int:
    """How far back the balance of blocks runs together."""
    longest = max((b.past.et0_mm.size for b in blocks if b.past), default=0)
    return int(np.clip(longest, MIN_PAST_DAYS, MAX_PAST_DAYS))


def _calendar_et0(block: BlockInputs, first: date, days: int, expected: float) -> Floats:
    """Recorded ET0 by date, today last and as expected; NaN where none was recorded."""
    out = np.full(days + 1, np.nan)
    out[days] = expected
    if block.past is not None:
        shift = (block.past.first - first).days
        et0 = block.past.et0_mm
        rows = np.arange(et0.size) + shift
        kept = (rows >= 0) & (rows < days)
        out[rows[kept]] = et0[kept]
    return out


def _joined(by_date: Floats, done: float) -> Floats:
    """Days from now to now out of calendar days: the rest of one and the start of the next."""
    return (1 - done) * by_date[..., :-1] + done * by_date[..., 1:]


def _water_given(blocks: Sequence[BlockInputs]) -> WaterGiven:
    """The waterings of all blocks in one list."""
    return WaterGiven.of(
        (i, w.hours, w.net_mm, w.is_rain) for i, b in enumerate(blocks) for w in b.waterings
    )


def _full_sigma(blocks: Sequence[BlockInputs], root_mm: Floats) -> Floats:
    """What the soils' full points leave unsure of each root zone, (blocks,) [mm]."""
    soils = Profiles.of([b.assumed.profile for b in blocks])
    return soils.held_above(soils.sigma_full, root_mm[:, None])[:, 0]


def gather(blocks: Sequence[BlockInputs], seasons: Sequence[CropSeason]) -> Gathered:
    """Blocks of one farm at one instant as arrays.

    Parameters
    ----------
    blocks : sequence of BlockInputs
        All with the same ``now`` and a stated ET.
    seasons : sequence of CropSeason
        Of each block, on the surface of its ET.
    """
    now = blocks[0].now
    days = past_days_of(blocks)
    first = now.date() - timedelta(days=days)
    limits = limits_by_day(
        [b.assumed.ground(by_basal(b, s)) for b, s in zip(blocks, seasons, strict=True)],
        first,
        days + AHEAD_DAYS + 2,
    )
    hour = now.hour + now.minute / 60
    done = float(used_by(hour))
    expected = np.array([b.assumed.stated_et.expected for b in blocks])
    by_date = np.array(
        [_calendar_et0(b, first, days, e) for b, e in zip(blocks, expected, strict=True)]
    )
    recorded = ~np.isnan(by_date[:, :-1])
    by_date = np.where(np.isnan(by_date), expected[:, None], by_date)
    et0_past = _joined(by_date, done)
    share = np.array([b.assumed.wetted_share for b in blocks])
    zones = root_zones(
        [b.assumed.profile for b in blocks],
        limits,
        expected[:, None],
        share,
        [b.assumed.water_table for b in blocks],
    )
    kc = limits.crop.kc
    given = _water_given(blocks)
    rain, sets = given.by_day(len(blocks), days)
    et0 = np.concatenate(
        [et0_past, np.repeat(expected[:, None], kc.shape[1] - days, axis=1)], axis=1
    )
    rise = rise_by_day(blocks, limits.root_mm, first, kc * et0)
    surface = soil_evaporation(blocks, seasons, limits.crop, first, et0, rain, sets)
    etc = kc[:, :days] * et0_past
    hours = (np.arange(days + 1) - days) * 24.0
    # Without recorded weather sensors say more than a balance; those that sent none say nothing.
    estimate_from = [
        EstimateFrom.SENSORS if not b.past and has_readings(b) else b.assumed.estimate_from
        for b in blocks
    ]
    # Who lets the sensors lead takes the full point they are read against as given.
    weighs = np.array([w is not EstimateFrom.SENSORS for w in estimate_from])
    seen = see(
        SitesOfBlocks.of([b.sites for b in blocks], [b.assumed.profile for b in blocks]),
        hours,
        limits.root_mm[:, : days + 1],
        limits.root_mm.max(axis=1),
        np.concatenate([etc[:, :1], etc], axis=1),
        hour,
        given,
        share,
        weighs,
    )
    full_sigma = _full_sigma(blocks, limits.root_mm[:, days])
    observed = by_block(
        seen, len(blocks), np.where(weighs, FULL_SIGMA_SHARE * full_sigma * share, 0.0)
    )
    moving = MOVING_SHARE * given.on_its_way(len(blocks), days, MOVING_DAYS)
    heard = Heard(
        water_in_mm=rain + sets + rise[:, :days],
        etc_mm=etc,
        bare_mm=surface.bare_mm[:, :days],
        observed_mm=observed.depletion_mm,
        observed_sigma_mm=np.hypot(observed.scatter_mm, moving),
        offset_sigma_mm=np.nan_to_num(observed.offset_sigma_mm),
        below_mm=observed.below_mm,
    )
    return Gathered(
        blocks=tuple(blocks),
        seasons=tuple(seasons),
        past_days=days,
        hour_of_day=hour,
        limits=limits,
        zones=zones,
        kc=kc,
        rise_mm=rise,
        surface=surface,
        et0_by_date_mm=by_date,
        et0_past_mm=et0_past,
        recorded=recorded,
        forecast=forecast_of(blocks[0]),
        seen=seen,
        observed=observed,
        heard=heard,
        estimate_from=np.array([ESTIMATES_FROM.index(w) for w in estimate_from]),
        tended=np.array(
            [
                w is EstimateFrom.BALANCE or is_tended(b)
                for w, b in zip(estimate_from, blocks, strict=True)
            ]
        ),
    )


def forecast_of(block: BlockInputs) -> Forecast:
    """The farm's forecast, or its stated ET as one, by calendar days from today on."""
    if block.assumed.forecast is not None:
        return Forecast.of(
            block.assumed.forecast.et0_mm, block.assumed.forecast.rain_mm, AHEAD_DAYS + 1
        )
    et = block.assumed.stated_et
    return Forecast.stated(et.low, et.expected, et.high, AHEAD_DAYS + 1)
