"""The morning of 2,000 blocks: 180 days back, 50 members ahead, advice for each, in one pass.

Once from the first day on, and once from yesterday's checkpoints, which must say the same.
"""

import time
from dataclasses import replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from bench.figures import Figure, run
from core.advice.assess import assess_blocks
from core.advice.assumptions import Assumptions
from core.advice.decide import decide
from core.advice.gather import AHEAD_DAYS
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.stated_et import StatedEt
from core.crop.catalogue import crops
from core.crop.season import CropSeason
from core.estimate.checkpoint import Checkpoint
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem, SystemKind
from core.outlook.forecast import Forecast
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

BLOCKS, PAST, MEMBERS = 2000, 180, 50
LATELY = 16
NOW = datetime(2026, 8, 20, 6, 10, tzinfo=ZoneInfo("CET"))
SCRATCH_S, MORNING_S, CHECKPOINT_KB = 60.0, 2.0, 15.0
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
        planted = NOW.date() - timedelta(days=60 + i % 30)
        assumed = Assumptions(
            profile=profile,
            season=CropSeason(annuals[i % len(annuals)], planted),
            et=StatedEt(4.5, 5.5, 6.5, "bench"),
            system=system,
            forecast=forecast,
        )
        out.append(
            BlockInputs(
                now=NOW,
                assumed=assumed,
                sites=(Site.from_readings("P", kind, DEPTHS, hours, theta, profile),),
                waterings=tuple(Watering(-144.0 * k - 5, 18.0) for k in range(28)),
                past=PastWeather(NOW.date() - timedelta(days=PAST), rng.uniform(3, 7, PAST)),
            )
        )
    return out


def _lately(block: BlockInputs, at: Checkpoint) -> BlockInputs:
    """A block with its newest days alone, as the application reads it beside a checkpoint."""
    past, site = block.past, block.sites[0]
    assert past is not None
    new = site.hours > -24.0 * LATELY
    return replace(
        block,
        past=PastWeather(NOW.date() - timedelta(days=LATELY), past.et0_mm[-LATELY:]),
        sites=(
            replace(
                site,
                hours=site.hours[new],
                value=site.value[new],
                theta=site.theta[new],
                doubt=site.doubt[new],
            ),
        ),
        waterings=tuple(w for w in block.waterings if w.hours > -24.0 * LATELY),
        tended=True,
        checkpoint=replace(at, notes=at.notes[-2 * LATELY :]),
    )


def measure() -> list[Figure]:
    blocks = farm()
    assess_blocks(blocks[:2], past=False)
    seasons = [b.assumed.season for b in blocks if b.assumed.season is not None]
    start = time.perf_counter()
    whole = decide(blocks, seasons)
    scratch = time.perf_counter() - start
    kept = [_lately(b, c[-1]) for b, c in zip(blocks, whole.checkpoints, strict=True)]
    best = float("inf")
    for _ in range(3):
        start = time.perf_counter()
        assess_blocks(kept, past=False)
        best = min(best, time.perf_counter() - start)
    again = decide(kept, seasons)
    np.testing.assert_allclose(
        again.track.depletion_mm[:, -LATELY:],
        whole.track.depletion_mm[:, -LATELY:],
        rtol=1e-3,
        atol=0.01,
    )
    sizes = [c[-1].members.nbytes for c in whole.checkpoints]
    of = f"{BLOCKS} blocks, {MEMBERS} members ahead"
    return [
        Figure(f"{of}: {PAST} days from scratch", scratch, "s", SCRATCH_S),
        Figure(f"{of}: a morning from checkpoints", best, "s", MORNING_S),
        Figure("checkpoint of a block", max(sizes) / 1000, "kB", CHECKPOINT_KB),
    ]


if __name__ == "__main__":
    run(measure)
