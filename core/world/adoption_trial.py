"""A second season on the same fields, with limits that their first has shown and without."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import cast

import numpy as np

from core.events.event import WettingEvent, wetting_events
from core.events.record import SiteRecord
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.learned.full_point import full_point
from core.learned.horizon_full import HorizonFull, horizon_full
from core.quality.climbs import DAY_HOURS
from core.soil.horizon import Horizon, LimitMethod
from core.soil.profile import Profile
from core.world.climates import Climate
from core.world.events_trial import drawn_habits, watched_by_habit
from core.world.farm import Farm, make_farm
from core.world.field_readings import DEPTHS, Instruments, content_errors
from core.world.layerings import Layering
from core.world.trial import Rule, Trial, run_trial
from core.world.truths import LayeredTruth, RichardsTruth, TruthKind
from core.world.watched import Watched


@dataclass(frozen=True)
class Adopted:
    """Second seasons of the same fields: by the book, and with what the first has shown.

    adopted : array (fields,) of bool, fields on which a limit was adopted
    """

    by_book: Trial
    as_seen: Trial
    adopted: np.ndarray


def try_adopting(
    soils: tuple[Layering, ...],
    crops: tuple[str, ...],
    climate: Climate,
    kind: TruthKind,
    days: int,
    seed: int,
) -> Adopted:
    """Let people water for a season; adopt what sensors have shown; let the advice water the next.

    The same probes stand in the same soil both years; the weather is another.
    """
    first = make_farm(climate, soils, crops, days, seed)
    truth = cast(LayeredTruth | RichardsTruth, first.truth(kind, seed))
    season = watched_by_habit(first, truth, drawn_habits(first, seed), seed)
    records = _records(first, season, seed)
    profiles = tuple(
        _as_seen(profile, record, events)
        for profile, record, events in zip(
            first.profiles, records, wetting_events(records), strict=True
        )
    )
    second = replace(
        first, weather=make_farm(climate, soils, crops, days, seed + SECOND_YEAR).weather
    )
    return Adopted(
        run_trial(second, kind, Rule.APP, seed),
        run_trial(replace(second, profiles=profiles), kind, Rule.APP, seed),
        np.array([p is not q for p, q in zip(profiles, first.profiles, strict=True)]),
    )


SECOND_YEAR = 1000  # added to a seed
HOURLY_NOISE = 0.001  # of a mean of an hour [m3/m3]


def _records(farm: Farm, season: Watched, seed: int) -> list[SiteRecord]:
    """What the probes of the trial read, each hour of the first season."""
    depth = np.array(DEPTHS[Instruments.PROBE])
    # As `run_trial` draws them: it is the same probe.
    bias, slope = content_errors(np.random.default_rng(seed + 1), (farm.count, depth.size))
    rng = np.random.default_rng(seed + 3)
    count = season.theta.shape[0]
    hours = np.arange(count) - (count - 1.0)
    day_hours = np.arange(farm.days) * DAY_HOURS - (count - 1)
    out = []
    for of, profile in enumerate(farm.profiles):
        true = np.column_stack([season.content_at(of, d) for d in depth.tolist()])
        read = true * slope[of] + bias[of] + rng.normal(0, HOURLY_NOISE, true.shape)
        kind = InstrumentKind.CAPACITANCE_PROBE
        site = Site.from_readings("probe", kind, depth, hours, read, profile)
        supplies = tuple(
            replace(s, start_hours=s.start_hours + hours[0], end_hours=s.end_hours + hours[0])
            for s in season.supplies[of]
        )
        stated = farm.kcb[of, : farm.days] * farm.weather.et0_mm[: farm.days]
        out.append(SiteRecord(site, 0.0, supplies, day_hours, farm.believed[of].root_mm, stated))
    return out


def _as_seen(profile: Profile, record: SiteRecord, events: Sequence[WettingEvent]) -> Profile:
    """The soil with the full points that its sensors have shown; itself where they show none."""
    points = []
    for j, depth in enumerate(record.site.depth_mm.tolist()):
        point = full_point([float(e.drained_theta[j]) for e in events])
        if point is not None:
            points.append((depth, point))
    seen = {h.index: h for h in horizon_full(profile, points) if h.can_be_adopted}
    if not seen:
        return profile
    return Profile.from_horizons(
        [_horizon(profile, k, seen.get(k)) for k in range(profile.theta_full.size)]
    )


def _horizon(profile: Profile, k: int, seen: HorizonFull | None) -> Horizon:
    told = Horizon(
        float(profile.top_mm[k]),
        float(profile.bottom_mm[k]),
        texture=profile.limits[k].texture,
        gravel=100 * profile.limits[k].gravel,
    )
    if seen is None:
        return told
    earth = 1 - profile.limits[k].gravel
    return replace(
        told,
        method=LimitMethod.LEARNED,
        theta_full=seen.seen / earth,
        theta_wilt=seen.wilt_then / earth,
    )
