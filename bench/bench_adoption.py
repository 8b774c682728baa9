"""A second season with the full points adopted that the first has shown, see docs/closed-loop.md.

Six textures x two crops x two climates x four seeds, 112 days, on both truths; the figures are of
the fields on which a full point was adopted.

`python -m bench adoption` measures.
"""

from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np

from bench.figures import Figure, run
from core.world.adoption_trial import Adopted, try_adopting
from core.world.climates import Climate
from core.world.layerings import TEXTURES, uniform
from core.world.trial import Trial
from core.world.truths import TruthKind

CROPS, DAYS, SEEDS = ("potato", "maize-grain"), 112, (11, 12, 13, 14)
CLIMATES = (Climate.ARID, Climate.MIXED)


@dataclass(frozen=True)
class Sums:
    """Of all fields: days of stress [%], water [mm], error of the depletion [mm, root of the mean
    square], mornings on which the stated range held it [%]."""

    stress: float
    water_mm: float
    error_mm: float
    held: float


def tried(case: tuple[TruthKind, Climate, int]) -> Adopted:
    kind, climate, seed = case
    return try_adopting(uniform(TEXTURES), CROPS, climate, kind, DAYS, seed)


def sums(seasons: list[tuple[Trial, np.ndarray]]) -> Sums:
    error = np.concatenate([t.error_mm[rows].ravel() for t, rows in seasons])
    return Sums(
        100 * float(np.concatenate([t.stressed[rows].ravel() for t, rows in seasons]).mean()),
        float(np.concatenate([t.given_mm[rows].sum(axis=1) for t, rows in seasons]).mean()),
        float(np.sqrt(np.nanmean(error**2))),
        100 * float(np.concatenate([t.held[rows].ravel() for t, rows in seasons]).mean()),
    )


def measure() -> list[Figure]:
    out = []
    for kind in TruthKind:
        cases = [(kind, climate, seed) for climate in CLIMATES for seed in SEEDS]
        with ProcessPoolExecutor(2) as pool:
            found = list(pool.map(tried, cases))
        book = sums([(a.by_book, a.adopted) for a in found])
        seen = sums([(a.as_seen, a.adopted) for a in found])
        fields = sum(int(a.adopted.sum()) for a in found)
        print(f"{kind}, {fields} fields: by the book {book}, as seen {seen}")
        out += [
            Figure(f"{kind}: stress days more than by the book", seen.stress - book.stress, "%", 1),
            Figure(f"{kind}: water over the book's", seen.water_mm / book.water_mm, "-", 1.05),
            Figure(f"{kind}: error over the book's", seen.error_mm / book.error_mm, "-", 1.05),
        ]
    return out


if __name__ == "__main__":
    run(measure)
