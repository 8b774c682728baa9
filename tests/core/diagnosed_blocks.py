"""Blocks of which all is known: watered every six days, by day the crop takes what came."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock, SeenSite
from core.events.event import wetting_events
from core.events.record import SiteRecord
from core.events.supply import Supply
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROFILE = Profile.from_horizons([Horizon(0.0, 1600.0, texture=TextureClass.LOAM)])
DEPTH = np.array([100.0, 200.0, 300.0, 450.0, 600.0])
DAYS = 60
HOURS = np.arange(-24.0 * DAYS, 1.0)
DAY_HOURS = np.arange(DAYS) * 24.0 - 24.0 * DAYS
# At six in the morning of every sixth day, for six hours.
STARTS = DAY_HOURS[2::6] + 6.0
LASTS, GIVEN_MM = 6.0, 30.0
# What each irrigation adds, and how long after its start: 0.11 x 150 + 0.07 x 100 + 0.05 x 125 mm
# make 29.75, a sixth of which is used a day.
RISE = np.array([0.11, 0.07, 0.05, 0.0, 0.0])
ARRIVES_H = np.array([2.0, 4.0, 6.0, 8.0, 10.0])
DRY, FULL, REFILL, SATURATED = 0.20, 0.30, 0.22, 0.45
USE_MM = 29.75 / 6


@dataclass
class Water:
    """What truly came, as shares of the usual, and what is on record [mm]; None: nothing is."""

    came: Floats
    logged: list[float | None]

    @classmethod
    def usual(cls) -> "Water":
        return cls(np.ones(STARTS.size), [GIVEN_MM] * STARTS.size)


def daylight() -> Floats:
    """Share of the day's use in each hour of the record, 6:00 to 20:00."""
    hour = HOURS % 24
    return ((hour > 6) & (hour <= 20)) / 14.0


def content(water: Water, rise: Floats = RISE, arrives_h: Floats = ARRIVES_H) -> Floats:
    """What sensors read; each irrigation is used up before the next."""
    theta = np.full((HOURS.size, rise.size), DRY)
    theta[:, rise == 0] = FULL - 0.02
    used = np.cumsum(daylight())
    for start, share in zip(STARTS, water.came, strict=True):
        begun = float(np.interp(start, HOURS, used))
        left = np.clip(1 - (used - begun) / 6.0, 0, 1)
        for j in range(rise.size):
            on = (start + arrives_h[j] <= HOURS) & (start + 6 * 24 > HOURS)
            theta[on, j] += rise[j] * share * left[on]
    return theta


def site_of(
    theta: Floats,
    water: Water | None = None,
    root_mm: float = 400.0,
    kind: InstrumentKind = InstrumentKind.CAPACITANCE_PROBE,
    flag: Floats | int = 0,
    rain: Sequence[Supply] = (),
    installed_hours: float = float("nan"),
) -> SeenSite:
    """A site with these readings."""
    water = water or Water.usual()
    logged = [
        (n, Supply(float(start), float(start) + LASTS, mm))
        for n, (start, mm) in enumerate(zip(STARTS, water.logged, strict=True))
        if mm is not None
    ]
    site = Site.from_readings("probe", kind, DEPTH, HOURS, theta, PROFILE, flag=flag)
    supplies = (*(s for _, s in logged), *rain)
    record = SiteRecord(
        site, 0.0, supplies, DAY_HOURS, np.full(DAYS, root_mm), np.full(DAYS, USE_MM)
    )
    (events,) = wetting_events([record])
    ones = np.ones(DEPTH.size)
    return SeenSite(
        record=record,
        events=events,
        irrigation=np.array([n for n, _ in logged] + [-1] * len(rain), int),
        full_theta=FULL * ones,
        refill_theta=REFILL * ones,
        sat_theta=SATURATED * ones,
        installed_hours=installed_hours,
    )


def block_of(
    *sites: SeenSite,
    rate_mm_h: float = 5.0,
    intake_mm_h: float = 15.0,
    rate_since_hours: float = float("-inf"),
) -> SeenBlock:
    return SeenBlock(sites, rate_mm_h, intake_mm_h, rate_since_hours)


def usual_site() -> SeenSite:
    return site_of(content(Water.usual()))
