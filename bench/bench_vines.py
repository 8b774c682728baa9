"""Twenty-four seasons of simulated vineyards, watered by the leaf's band as the advice says.

The vines have a model of their own, see `core.world.vine`. Half stand in a dry climate, half in one
where it rains in summer: there rain lifts the leaf above its band, which no advice can help.
"""

import numpy as np

from bench.figures import Figure, run
from core.world.vine_trial import VineSeason, run_vine_seasons

SEASONS = 24


def inside(seasons: list[VineSeason]) -> float:
    return float(np.concatenate([s.weeks() for s in seasons]).mean())


def measure() -> list[Figure]:
    seasons = run_vine_seasons(range(SEASONS))
    dry, rainy = list(seasons[::2]), list(seasons[1::2])
    less = [s.given_mm.sum() < s.calendar_mm for s in seasons]
    told = [(s.noon_mpa >= s.told_low) & (s.noon_mpa <= s.told_high) for s in seasons]
    known = [~np.isnan(s.told_low) & (s.given_mm == 0) for s in seasons]
    right = np.concatenate([t[k] for t, k in zip(told, known, strict=True)])
    return [
        Figure("weeks inside the band, dry climate", inside(dry), "", 0.9, "at least"),
        Figure("weeks inside the band, rain in summer", inside(rainy), "", 0.6, "at least"),
        Figure(
            "seasons with less water than a calendar", float(np.mean(less)), "", 0.95, "at least"
        ),
        Figure("leaf within what was told of it", float(right.mean()), "", 0.65, "at least"),
    ]


if __name__ == "__main__":
    run(measure)
