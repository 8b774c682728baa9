"""A season of 15-minute readings from 8 depths to the root zone's deficit.

The limit: the vectorised core is at least 30 times as fast as the same arithmetic done
reading by reading in plain Python, measured in the same run.
"""

import math
import time

import numpy as np

from bench.figures import Figure, run
from core.instrument.sensor_layers import sensor_layers
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.store.deficit import root_zone_deficit

LIMIT = 30.0
DEPTHS = [100.0, 200.0, 300.0, 400.0, 500.0, 600.0, 800.0, 1000.0]
READINGS = 150 * 96
SAMPLE = 1500  # the plain loop is timed on a part and scaled
ROOT_MM = 900.0


def plain(profile: Profile, theta: list[list[float]]) -> list[float]:
    """The definition, one reading at a time."""
    top, bottom = (a.tolist() for a in sensor_layers(DEPTHS))
    horizon = profile.horizon_at(DEPTHS).tolist()
    horizons = list(
        zip(
            profile.top_mm.tolist(),
            profile.bottom_mm.tolist(),
            profile.theta_full.tolist(),
            profile.theta_wilt.tolist(),
            strict=True,
        )
    )

    def left(share: float, own: tuple[float, ...], other: tuple[float, ...]) -> float:
        """The same tension on the power curve of another horizon."""
        if own is other or not 0 < share < 1:
            return share
        _, _, full, wilt = own
        gone = math.log(full / (wilt + share * (full - wilt))) / math.log(full / wilt)
        _, _, full, wilt = other
        return (full * (wilt / full) ** gone - wilt) / (full - wilt)

    out = []
    for row in theta:
        total = 0.0
        for j, value in enumerate(row):
            own = horizons[horizon[j]]
            share = (value - own[3]) / (own[2] - own[3])
            low = ROOT_MM if j == len(row) - 1 else min(bottom[j], ROOT_MM)
            for other in horizons:
                h_top, h_bottom, full, wilt = other
                thick = max(min(low, h_bottom) - max(top[j], h_top), 0.0)
                if thick > 0:
                    told = min(max(left(share, own, other), 0.0), 1.0)
                    total += thick * (full - wilt) * (1 - told)
        out.append(total)
    return out


def measure() -> list[Figure]:
    profile = Profile.from_horizons(
        [
            Horizon(0, 300, texture=TextureClass.LOAM),
            Horizon(300, 700, texture=TextureClass.CLAY_LOAM),
            Horizon(700, 1200, texture=TextureClass.SANDY_LOAM),
        ]
    )
    theta = np.random.default_rng(1).uniform(0.12, 0.34, (READINGS, len(DEPTHS)))
    root = np.full(READINGS, ROOT_MM)
    root_zone_deficit(profile, DEPTHS, theta[:10], root[:10])
    started = time.perf_counter()
    fast = root_zone_deficit(profile, DEPTHS, theta, root).deficit_mm
    vectorised = time.perf_counter() - started
    rows = theta[:SAMPLE].tolist()
    started = time.perf_counter()
    slow = plain(profile, rows)
    loop = (time.perf_counter() - started) * READINGS / SAMPLE
    np.testing.assert_allclose(fast[:SAMPLE], slow, atol=1e-9)
    ratio = loop / vectorised
    what = f"deficit, {READINGS} readings x {len(DEPTHS)} depths, times as fast as plain Python"
    return [Figure(what, ratio, "", LIMIT, "at least")]


if __name__ == "__main__":
    run(measure)
