"""The morning of 2,000 blocks: 180 days back, 50 members ahead, advice for each, in one pass.

Against the same computed block by block in plain Python (`plain_decision`), run on a sample of
the blocks, compared figure by figure, and scaled: all of them would take minutes.
"""

import time
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from bench.figures import Figure, run
from bench.plain_decision import PAST, plain_morning
from core.advice.assess import assess_blocks
from core.advice.decide import decide
from core.advice.gather import AHEAD_DAYS
from core.advice.inputs import BlockInputs, PastWeather, StatedEt, Watering
from core.crop.catalogue import crops
from core.crop.season import CropSeason
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem, SystemKind
from core.outlook.forecast import Forecast
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

BLOCKS, SAMPLE, MEMBERS = 2000, 16, 50
NOW = datetime(2026, 8, 20, 6, 10, tzinfo=ZoneInfo("CET"))
MOST_SECONDS, LEAST_RATIO = 3.0, 50.0
DEPTHS = np.array([100.0, 200.0, 400.0, 600.0])


def farm() -> list[BlockInputs]:
    rng = np.random.default_rng(1)
    textures = list(TextureClass)
    profiles = [
        Profile.from_horizons(
            [
                Horizon(0, 300, texture=textures[i % 12]),
                Horizon(300, 1500, texture=textures[(i * 5) % 12]),
            ]
        )
        for i in range(60)
    ]
    annuals = [c for c in crops().values() if not c.perennial and sum(c.stage_days) >= 110]
    hours = np.arange(-PAST * 24, 1, 24.0)
    forecast = Forecast.of(
        rng.uniform(3, 7, (MEMBERS, 10)),
        np.where(rng.random((MEMBERS, 10)) < 0.2, 8.0, 0.0),
        AHEAD_DAYS + 1,
    )
    system = IrrigationSystem(SystemKind.SOLID_SET, 50_000, 0.75, rate_mm_h=4.0)
    out = []
    for i in range(BLOCKS):
        profile = profiles[i % 60]
        horizon = profile.horizon_at(DEPTHS)
        wilt, full = profile.theta_wilt[horizon], profile.theta_full[horizon]
        share = 0.8 + 0.15 * np.sin(np.arange(hours.size) / 3 + i)
        noise = rng.normal(0, 0.02, (hours.size, DEPTHS.size))
        theta = wilt + (share[:, None] + noise) * (full - wilt)
        kind = InstrumentKind.CAPACITANCE_PROBE
        out.append(
            BlockInputs(
                now=NOW,
                profile=profile,
                season=CropSeason(
                    annuals[i % len(annuals)], NOW.date() - timedelta(days=60 + i % 30)
                ),
                sites=(Site.from_readings("P", kind, DEPTHS, hours, theta, profile),),
                waterings=tuple(Watering(-144.0 * k - 5, 18.0) for k in range(28)),
                et=StatedEt(4.5, 5.5, 6.5, "bench"),
                system=system,
                past=PastWeather(NOW.date() - timedelta(days=PAST), rng.uniform(3, 7, PAST)),
                forecast=forecast,
            )
        )
    return out


def measure() -> list[Figure]:
    blocks = farm()
    assess_blocks(blocks[:2], past=False)
    best = float("inf")
    for _ in range(3):
        start = time.perf_counter()
        assess_blocks(blocks, past=False)
        best = min(best, time.perf_counter() - start)
    sample = [i * (BLOCKS // SAMPLE) for i in range(SAMPLE)]
    seasons = [b.season for b in blocks if b.season is not None]
    start = time.perf_counter()
    slow = [plain_morning(blocks[i], seasons[i]) for i in sample]
    alone = (time.perf_counter() - start) * BLOCKS / SAMPLE
    fast = decide(blocks, seasons)
    np.testing.assert_allclose(
        fast.track.depletion_mm[sample, -1], [m.depletion_mm for m in slow], rtol=1e-6, atol=1e-6
    )
    np.testing.assert_allclose(
        fast.track.use_factor[sample, -1], [m.use_factor for m in slow], rtol=1e-6
    )
    np.testing.assert_allclose(
        fast.days_left[sample], [m.days_left for m in slow], rtol=1e-6, atol=1e-6
    )
    np.testing.assert_allclose(
        fast.chance_past[sample], [m.chance_past for m in slow], atol=1 / MEMBERS + 1e-9
    )
    ratio = alone / best
    what = f"decisions, {BLOCKS} blocks, {PAST} days back, {MEMBERS} members ahead"
    return [
        Figure(what, best, "s", MOST_SECONDS),
        Figure("decisions, times as fast as plain Python", ratio, "", LEAST_RATIO, "at least"),
    ]


if __name__ == "__main__":
    run(measure)
