"""Thirty simulated maize seasons to their end, watered as the advice says.

The crop runs short in no more of them than the chance says once it was said to be finished. Of the
irrigations in the last thirty days one in ten seasons might be one too many; there are far more:
until it is finished a block is kept above its refill point and filled.
"""

from bench.figures import Figure, run
from core.world.finish_trial import SHORT_MM, run_finishes

SEASONS = 30


def measure() -> list[Figure]:
    seasons = run_finishes(range(SEASONS))
    said = [s for s in seasons if s.said_on is not None]
    short = sum(s.short_mm > SHORT_MM for s in said) / len(said)
    too_many = sum(s.too_many for s in seasons) / len(seasons)
    return [
        Figure("seasons said to be finished", len(said) / len(seasons), "", 1.0, "at least"),
        Figure("short after that", short, "", 0.1),
        Figure("irrigations too many, a season", too_many, "", 0.8),
    ]


if __name__ == "__main__":
    run(measure)
