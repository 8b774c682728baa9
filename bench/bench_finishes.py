"""Simulated maize seasons to their end, watered as the advice says.

The crop runs short in no more of them than the chance says once it was said to be finished. Of the
irrigations of the last sixty days one in ten seasons might be one too many, as things came; there
are more of them, for nobody knows then what the soil holds and what the rain will bring.
"""

from bench.figures import Figure, run
from core.world.climates import Climate
from core.world.finish_trial import SHORT_MM, run_finishes
from core.world.layerings import TEXTURES, Layering, measured, uniform

SEEDS = (1, 2, 3)
SOILS = uniform(TEXTURES[1:5])


def measure() -> list[Figure]:
    return [
        *_figures("by texture", SOILS, 0.15, 0.25),
        *_figures("measured", measured(SOILS), 0.1, 0.4),
    ]


def _figures(
    name: str, soils: tuple[Layering, ...], most_short: float, most_many: float
) -> list[Figure]:
    seasons = [s for c in Climate for seed in SEEDS for s in run_finishes(c, soils, seed)]
    said = [s for s in seasons if s.said_on is not None]
    short = sum(s.short_mm > SHORT_MM for s in said) / len(said)
    too_many = sum(s.too_many for s in seasons) / len(seasons)
    return [
        Figure(
            f"{name}: seasons said to be finished", len(said) / len(seasons), "", 0.95, "at least"
        ),
        Figure(f"{name}: short after that", short, "", most_short),
        Figure(f"{name}: irrigations too many, a season", too_many, "", most_many),
    ]


if __name__ == "__main__":
    run(measure)
