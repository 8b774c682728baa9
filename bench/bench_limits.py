"""Limits of 1,000 blocks on 365 days in one call, against plain Python block by block, day by day.

Both compute root depth, Kc, full, wilting and the refill point by the three methods; the plain
one is run on a sample of the blocks and scaled, since all of them would take minutes.
"""

import time
from datetime import date, timedelta

import numpy as np

from bench.figures import Figure, run
from core.crop.catalogue import crops
from core.crop.season import CropSeason, StageSeen
from core.limits.by_day import BlockGround, DatedSoil, LimitsByDay, limits_by_day
from core.limits.refill_method import LimitRule, RefillMethod
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

BLOCKS, DAYS, SAMPLE = 1000, 365, 25
FIRST = date(2026, 1, 1)
ET0 = 5.0
LIMIT = 50.0


def farm() -> list[BlockGround]:
    rng = np.random.default_rng(3)
    textures, book = list(TextureClass), list(crops().values())
    profiles = []
    for _ in range(60):
        bottoms = np.cumsum(rng.integers(200, 500, rng.integers(2, 5)))
        tops = np.concatenate([[0], bottoms[:-1]])
        profiles.append(
            Profile.from_horizons(
                [
                    Horizon(float(t), float(b), texture=textures[rng.integers(12)])
                    for t, b in zip(tops, bottoms, strict=True)
                ]
            )
        )
    out = []
    for i in range(BLOCKS):
        season = CropSeason(
            book[i % len(book)],
            FIRST + timedelta(days=int(rng.integers(0, 120))),
            seen=(StageSeen(60, 55.0),) if i % 3 == 0 else (),
        )
        rules = (LimitRule(RefillMethod.TENSION, 60.0),) if i % 4 == 0 else ()
        out.append(BlockGround((DatedSoil(None, profiles[i % 60]),), season, rules))
    return out


def ramp(t: float, start: float, end: float) -> float:
    return min(max((t - start) / max(end - start, 1e-9), 0.0), 1.0)


def plain(ground: BlockGround) -> list[tuple[float, float, float, float, float]]:
    """Full, wilting and three refill points of one block on every day."""
    season, crop = ground.season, ground.season.crop
    limits = ground.soils[0].profile.limits
    bounds = [
        (float(t), float(b))
        for t, b in zip(
            ground.soils[0].profile.top_mm, ground.soils[0].profile.bottom_mm, strict=True
        )
    ]
    rule = ground.rules[0].value if ground.rules else None
    tension = rule or crop.tension_kpa
    ends = [sum(crop.stage_days[: k + 1]) for k in range(4)]
    year = 365
    out = []
    for n in range(DAYS):
        day = FIRST + timedelta(days=n)
        t = (day - season.planted_on).days
        book = float(t)
        if crop.perennial and t >= year:
            book = float(t - year)
        for seen in season.seen:
            if t >= seen.day:
                book = seen.book_day + t - seen.day
        k1, k2, k3 = crop.kc
        kc = (
            k1 + (k2 - k1) * ramp(book, ends[0], ends[1]) + (k3 - k2) * ramp(book, ends[2], ends[3])
        )
        if crop.perennial and (t < 0 or book >= ends[3]):
            kc = k1
        root = crop.root_schedule_mm
        if not crop.perennial:
            root = crop.root_initial_mm + (root - crop.root_initial_mm) * ramp(
                book, ends[0], ends[1]
            )
        full = wilt = gone = 0.0
        for (top, bottom), limit in zip(bounds, limits, strict=True):
            thick = min(max(root - top, 0.0), bottom - top)
            full += thick * limit.theta_full
            wilt += thick * limit.theta_wilt
            if tension:
                a, b, sat = float(limit.curve.a), float(limit.curve.b), float(limit.curve.theta_sat)
                theta = min((a / tension) ** (1 / b), sat) * (1 - limit.gravel)
                dry = (limit.theta_full - theta) / limit.available
                gone += thick * limit.available * min(max(dry, 0.0), 1.0)
        taw = full - wilt
        p = min(max(crop.p + 0.04 * (5 - kc * ET0), 0.1), 0.8)
        p_tension = min(max(gone / taw, 0.1), 0.8) if tension else float("nan")
        out.append((full, wilt, full - p * taw, full - 0.5 * taw, full - p_tension * taw))
    return out


def whole(grounds: list[BlockGround]) -> tuple[LimitsByDay, list[np.ndarray]]:
    found = limits_by_day(grounds, FIRST, DAYS)
    return found, [
        found.refill_mm(ET0, s)
        for s in (RefillMethod.CROP_P, RefillMethod.FLAT, RefillMethod.TENSION)
    ]


def measure() -> list[Figure]:
    grounds = farm()
    whole(grounds[:2])
    best = float("inf")
    for _ in range(3):
        start = time.perf_counter()
        found, refill = whole(grounds)
        best = min(best, time.perf_counter() - start)
    sample = grounds[:: BLOCKS // SAMPLE]
    start = time.perf_counter()
    slow = np.array([plain(g) for g in sample])
    alone = (time.perf_counter() - start) * BLOCKS / len(sample)
    rows = slice(None, None, BLOCKS // SAMPLE)
    for k, fast in enumerate([found.full_mm, found.wilt_mm, *refill]):
        np.testing.assert_allclose(fast[rows], slow[:, :, k], rtol=1e-9)
    ratio = alone / best
    what = f"limits, {BLOCKS} blocks x {DAYS} days, times as fast as plain Python"
    return [Figure(what, ratio, "", LIMIT, "at least")]


if __name__ == "__main__":
    run(measure)
