"""The days ahead of blocks: the expected case, and members each with its own state and weather."""

from dataclasses import dataclass

import numpy as np

from core.advice.estimate_inputs import WeatherAhead
from core.advice.gather import AHEAD_DAYS, Gathered
from core.advice.inputs import BlockInputs
from core.advice.state_now import State, by_crop, sensors_lead
from core.arrays import Floats
from core.estimate.ahead import CASES, DEPLETION, DRAINED, RAW, TAW
from core.outlook.ahead import Ahead, rank, run_ahead
from core.outlook.forecast import Z_90, Forecast, scores
from core.outlook.normal_loss import normal_loss
from core.state.daylight import used_by
from core.state.track import Track
from core.weather.effective_rain import effective_rain

RAIN_HOUR = 14.0  # a day's rain is placed here where its hour is not known
# What members have left differs a little more between them than between fields: the share of it
# that is stated. For the crop's sake the loss is taken from a wider spread. Both set on fields of
# Richards columns and of layered ones.
STATED_SPREAD = 0.95
CAUTION = 1.37  # times as far apart as is stated
# So far the members themselves run on [days]; beyond, where no weather is forecast, one store
# goes on from each.
NEAR_DAYS = 10


@dataclass(frozen=True)
class Members:
    """Members of blocks in the days ahead.

    usable_mm : array (blocks, CASES, AHEAD_DAYS + 1), RAW - depletion at the start of each day
    lost : array (blocks, AHEAD_DAYS + 1), share of the transpiration that the crop is short of
        at the start of each day on average [-]
    drained_mm : array (blocks, CASES, NEAR_DAYS), out of the root zone on each day
    rain_mm : array (blocks, CASES, AHEAD_DAYS), that enters on each day
    """

    usable_mm: Floats
    lost: Floats
    drained_mm: Floats
    rain_mm: Floats


def _rain_by_day(forecast: Forecast, hour_of_day: float) -> Floats:
    """Rain of each day from now on, (courses, days): today's only while it may still come."""
    if hour_of_day < RAIN_HOUR:
        return forecast.rain_mm[:, :-1]
    return forecast.rain_mm[:, 1:]


def et0_ahead(g: Gathered) -> Floats:
    """ET0 of each day of 24 h from now on; (courses, AHEAD_DAYS) [mm/day]."""
    done = float(used_by(g.hour_of_day))
    out: Floats = (1 - done) * g.forecast.et0_mm[:, :-1] + done * g.forecast.et0_mm[:, 1:]
    return out


def planned_by_day(g: Gathered) -> Floats:
    """Water of the sets to come by day from now; (blocks, AHEAD_DAYS) [mm net].

    What stands still waters all its run long; a machine's last part gets its water at the end.
    """
    return np.array([planned_of(block) for block in g.blocks])


def planned_of(block: BlockInputs) -> Floats:
    """The same of one block; (AHEAD_DAYS,) [mm net]."""
    out = np.zeros(AHEAD_DAYS)
    begins = 24.0 * np.arange(AHEAD_DAYS)
    for p in block.planned:
        if block.assumed.system.moves:
            here = (p.end_hours >= begins) & (p.end_hours < begins + 24)
            out += p.net_mm * here
            continue
        # What of it lies behind now was given and not yet logged: it counts today.
        start, length = max(p.start_hours, 0.0), p.end_hours - p.start_hours
        inside = np.clip(np.minimum(p.end_hours, begins + 24) - np.maximum(start, begins), 0, None)
        inside[0] += start - p.start_hours
        out += p.net_mm * inside / length
    return out


def entering(g: Gathered, rain_mm: Floats, et0_mm: Floats) -> Floats:
    """What of the rain of (courses, days) enters each block's soil; (blocks, courses, days)."""
    intake = np.array([b.assumed.intake_mm_h for b in g.blocks])[:, None, None]
    if not np.isfinite(intake).any():
        taken = effective_rain(rain_mm, et0_mm).infiltrated_mm[None]
        return np.broadcast_to(taken, (intake.size, *rain_mm.shape))
    out: Floats = effective_rain(rain_mm[None], et0_mm[None], intake).infiltrated_mm
    return np.broadcast_to(out, (intake.size, *rain_mm.shape))


def weather_ahead(g: Gathered) -> WeatherAhead:
    """Weather and planned water of the days in which the members run on."""
    days = slice(0, NEAR_DAYS)
    et0 = et0_ahead(g)[:, days]
    rain = _rain_by_day(g.forecast, g.hour_of_day)[:, days]
    return WeatherAhead(et0, entering(g, rain, et0), planned_by_day(g)[:, days])


def _column(g: Gathered, name: str) -> Floats:
    """A figure of the blocks as (blocks, 1, 1)."""
    return np.array([getattr(b.assumed, name) for b in g.blocks], float)[:, None, None]


def run_expected(g: Gathered, found: Track) -> Ahead:
    """The expected case: mean ET0, the rain that most courses bring, the state as estimated."""
    et0 = et0_ahead(g).mean(axis=0, keepdims=True)
    rain = np.median(_rain_by_day(g.forecast, g.hour_of_day), axis=0, keepdims=True)
    factor = found.use_factor[:, -1:]
    return _run(g, found, found.depletion_mm[:, -1:], factor, et0, entering(g, rain, et0))


def _run(
    g: Gathered,
    found: Track,
    start_mm: Floats,
    factor: Floats,
    et0_mm: Floats,
    rain_mm: Floats,
    first: int = 0,
    flows: bool = True,
) -> Ahead:
    """One store of each root zone from a day on; ``start_mm``, ``factor`` are (blocks, cases)."""
    days = slice(first, AHEAD_DAYS)
    now = g.past_days + first
    kc = g.kc[:, None, now : g.past_days + AHEAD_DAYS]
    etc = factor[..., None] * kc * et0_mm[None, :, days]
    share, rise = _column(g, "wetted_share"), g.rise_mm[:, None, now : g.past_days + AHEAD_DAYS]
    water = rain_mm[:, :, days] * share + rise + planned_by_day(g)[:, None, days]
    water = np.broadcast_to(water, etc.shape)
    bare = g.surface.bare_mm[:, None, now : g.past_days + AHEAD_DAYS]
    return run_ahead(g.zones, now, start_mm, found.below_mm, etc, water, bare, flows=flows)


def run_members(g: Gathered, state: State) -> Members:
    """Members in the days ahead, each with its own course of the weather.

    Those of an ensemble run on themselves. Where the sensors lead, states and use are spread as
    the track has them.
    """
    found, now = state.track, g.past_days
    et0 = et0_ahead(g)
    course = np.arange(CASES) * et0.shape[0] // CASES
    et0, rain = et0[course], _rain_by_day(g.forecast, g.hour_of_day)[course]
    infiltrated = entering(g, rain, et0)
    factor = found.use_factor[:, -1:] + found.use_sigma[:, -1:] * scores(CASES, 2)
    factor = np.maximum(factor, 0.3)
    blocks = len(g.blocks)
    usable = np.empty((blocks, CASES, AHEAD_DAYS + 1))
    drained = np.empty((blocks, CASES, NEAR_DAYS))
    leads = sensors_lead(g)
    taw = g.zones.taw_mm[:, now : now + AHEAD_DAYS + 1]
    raw = g.zones.raw_mm[:, now : now + AHEAD_DAYS + 1]
    if leads.any():
        start = found.depletion_mm[:, -1:] + found.sigma_mm[:, -1:] * scores(CASES, 1)
        start = np.minimum(start, taw[:, :1])
        whole = _run(g, found, start, factor, et0, infiltrated, flows=False)
        usable[leads] = whole.usable_mm[leads]
        drained[leads] = whole.drained_mm[leads, :, :NEAR_DAYS]
    if state.ahead is not None:
        near, share = ~leads, _column(g, "wetted_share")
        left = _left_near(g, state.ahead, raw[:, 0] / np.maximum(taw[:, 0], 1e-9)) * share
        # Those that run on are a part of all: by chance they stand a little wetter or drier.
        now_left = (raw[:, 0] - found.depletion_mm[:, -1])[:, None]
        left += (now_left - left[:, :, 0].mean(axis=1, keepdims=True))[..., None]
        # One store goes on from each member, with as much left as it has.
        start = np.minimum(raw[:, NEAR_DAYS, None] - left[:, :, -1], taw[:, NEAR_DAYS, None])
        start = np.nan_to_num(start)
        later = _run(g, found, start, factor, et0, infiltrated, first=NEAR_DAYS, flows=False)
        usable[near] = np.concatenate([left, later.usable_mm[:, :, 1:]], axis=2)[near]
        drained[near] = (state.ahead[:, DRAINED, :, :NEAR_DAYS] * share)[near]
    lost = expected_loss(usable, np.maximum(taw - raw, 1.0))
    return Members(usable, lost, drained, infiltrated * _column(g, "wetted_share"))


def expected_loss(usable_mm: Floats, span_mm: Floats) -> Floats:
    """Share of the transpiration that the crop is short of on average; (blocks, days + 1) [-].

    From the middle and the dry tenth of the members, as if they were spread normally: the mean
    of a few at the end of a tail would jump from day to day.

    Parameters
    ----------
    usable_mm : array, shape (blocks, cases, days + 1)
    span_mm : array, shape (blocks, days + 1), TAW - RAW: over it the transpiration falls to none
    """
    ordered = np.sort(usable_mm, axis=1)
    dry, middle = (ordered[:, k] for k in rank((0.1, 0.5), ordered.shape[1]))
    sd = np.maximum(CAUTION * (middle - dry) / Z_90, 1e-6)
    short = sd * normal_loss(middle / sd)
    out: Floats = np.clip(short / span_mm, 0.0, 1.0)
    return out


def _left_near(g: Gathered, ahead: Floats, told_share: Floats) -> Floats:
    """Usable water of the members of ensembles, (blocks, CASES, NEAR_DAYS + 1) [mm].

    A share that a person set, ``told_share``, stays that share of what the roots find.
    """
    crop = by_crop(g)[:, g.past_days, None, None]
    borne = np.where(crop, ahead[:, RAW], told_share[:, None, None] * ahead[:, TAW])
    left = borne - ahead[:, DEPLETION]
    middle = left.mean(axis=1, keepdims=True)
    out: Floats = middle + STATED_SPREAD * (left - middle)
    return out
