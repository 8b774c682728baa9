"""Small blocks for the tests of the advice."""

from dataclasses import replace
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np

from core.advice.assumptions import Assumptions
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.stated_et import StatedEt
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem, SystemKind
from core.quality.flags import Flag
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

NOW = datetime(2026, 7, 14, 6, 10, tzinfo=ZoneInfo("CET"))
ET = StatedEt(4.5, 5.5, 6.5, "stated in the test")
PROFILE = Profile.from_horizons(
    [
        Horizon(0, 300, texture=TextureClass.LOAM),
        Horizon(300, 1200, texture=TextureClass.CLAY_LOAM),
    ]
)
HOURS = np.arange(-168, 1, 3.0) - 0.25


def probe(share_start: float, share_end: float, profile: Profile = PROFILE) -> Site:
    """A probe whose available share runs straight from one value to another over a week."""
    depth = np.array([100.0, 200.0, 400.0, 600.0])
    h = profile.horizon_at(depth)
    share = np.linspace(share_start, share_end, HOURS.size)[:, None]
    wilt, full = profile.theta_wilt[h], profile.theta_full[h]
    # A living sensor never stands quite still; one that does is doubted.
    restless = 1e-4 * np.sin(np.arange(HOURS.size))[:, None]
    theta = wilt + share * (full - wilt) + np.where(HOURS[:, None] < HOURS[-1], restless, 0)
    return Site.from_readings(
        "Probe", InstrumentKind.CAPACITANCE_PROBE, depth, HOURS, theta, profile
    )


def tensiometers(
    kpa: float, hours: float = -47.0, label: str = "Tensiometers", profile: Profile = PROFILE
) -> Site:
    return Site.from_readings(
        label,
        InstrumentKind.TENSIOMETER,
        [150, 300],
        [hours - 48, hours],
        np.array([[kpa * 0.7, kpa * 0.7], [kpa, kpa]]),
        profile,
        flag=[[0, 0], [Flag.RANGE if kpa > 80 else 0] * 2],
    )


SPRINKLER = IrrigationSystem(SystemKind.SOLID_SET, 50_000, 0.75, rate_mm_h=4.0)
PIVOT = IrrigationSystem(
    SystemKind.PIVOT, 300_000, 0.85, flow_m3_h=200, smallest_mm=8, largest_mm=30
)


def block(**changes: Any) -> BlockInputs:
    """Potatoes in mid season on a loam, with a probe that is at 90 % of available."""
    assumed = Assumptions(
        profile=PROFILE,
        season=CropSeason(crop("potato"), date(2026, 5, 1)),
        et=ET,
        system=SPRINKLER,
    )
    made = BlockInputs(now=NOW, assumed=assumed, sites=(probe(1.0, 0.9),), waterings=())
    return changed(made, **changes)


def changed(of: BlockInputs, **changes: Any) -> BlockInputs:
    """The block with other values of what is known or assumed of it."""
    assumed = {k: v for k, v in changes.items() if k in Assumptions.__dataclass_fields__}
    known = {k: v for k, v in changes.items() if k not in assumed}
    return replace(of.assuming(**assumed), **known)


def site(depths: list[float], hours: list[float], value: list[Any], kind: InstrumentKind) -> Site:
    return Site.from_readings("S", kind, depths, hours, value, PROFILE)


def lived(days: int = 30, **changes: Any) -> BlockInputs:
    """A block with weather and a probe that is read every six hours."""
    hours = np.arange(-24.0 * days, 0.1, 6.0)
    theta = 0.26 - 0.02 * np.sin(hours / 40)[:, None] * np.array([1.0, 0.6])
    probe = site([150.0, 350.0], hours.tolist(), theta, InstrumentKind.CAPACITANCE_PROBE)
    past = PastWeather(NOW.date() - timedelta(days=days), np.full(days, 5.0))
    sets = (Watering(-24.0 * 9 - 3, 25.0), Watering(-24.0 * 2 - 3, 25.0))
    return block(**{"past": past, "sites": (probe,), "waterings": sets, **changes})
