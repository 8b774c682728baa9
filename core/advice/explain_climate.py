"""The step of the working that tells what the climate makes of a crop coefficient."""

from dataclasses import dataclass
from datetime import date
from typing import Self

import numpy as np

from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.crop.climate import HEIGHT_RANGE, LEAST_KC, MEAN_DAYS, RH_MIN_RANGE, WIND_RANGE
from core.crop.season import CropSeason

CLIMATE_FORMULA = "(0.04 * (u2 - 2) - 0.004 * (RH - 45)) * (h / 3) ** 0.3"


def _within(bounds: tuple[float, float], value: float) -> float:
    return float(np.clip(value, *bounds))


def climate_terms(
    wind_m_s: float, rh_min: float, height_m: float, known: bool
) -> tuple[Term, Term, Term]:
    """Wind, humidity and height as the equation counts them: each within what it holds for.

    ``known`` : whether the climate was measured; else it is the tables' own.
    """
    mean = f"mean of {MEAN_DAYS} days" if known else "of a usual climate, FAO-56"
    low, high = WIND_RANGE
    wind = f"wind at 2 m in m/s, {mean}; counted within {low:g} to {high:g}"
    low, high = RH_MIN_RANGE
    humidity = f"lowest humidity of the day in %, {mean}; counted within {low:g} to {high:g}"
    return (
        Term("u2", _within(WIND_RANGE, wind_m_s), Unit.NUMBER, wind),
        Term("RH", _within(RH_MIN_RANGE, rh_min), Unit.NUMBER, humidity),
        Term("h", _within(HEIGHT_RANGE, height_m), Unit.NUMBER, "height of the crop in m"),
    )


def climate_step(season: CropSeason, on: date) -> Step | None:
    """What the climate adds to Kc of the middle and the end of the season; None where it is not
    known or Kc does not follow it."""
    if season.climate is None or not season.climate.known_on(on):
        return None
    added = float(season.climate_terms(on, 1)[0])
    if added == 0:
        return None
    wind, humidity = (float(x[0]) for x in season.climate.on(on, 1))
    terms = climate_terms(wind, humidity, season.crop.height_m, known=True)
    return Step(StepKey.KC_CLIMATE, "dK", CLIMATE_FORMULA, terms, added, Unit.NUMBER)


@dataclass(frozen=True)
class Coefficients:
    """Kc of the start, the middle and the end of the season or of a cut, as formulas write them:
    those that the climate moved carry what it added."""

    terms: tuple[Term, Term, Term]
    symbols: tuple[str, str, str]
    added: tuple[Term, ...]

    @classmethod
    def of(cls, kc: tuple[float, float, float], source: str, climate: Step | None) -> Self:
        """From the table's three values."""
        first, middle, end = (
            Term(f"Kc{i}", k, Unit.NUMBER, source) for i, k in enumerate(kc, start=1)
        )
        if climate is None:
            return cls((first, middle, end), ("Kc1", "Kc2", "Kc3"), ())
        added = Term(climate.result, climate.value, Unit.NUMBER, COMPUTED)
        k2, k3 = (
            f"({t.symbol} + {added.symbol})" if t.value >= LEAST_KC else t.symbol
            for t in (middle, end)
        )
        return cls((first, middle, end), ("Kc1", k2, k3), (added,))

    def used(self, *which: int) -> tuple[Term, ...]:
        """The terms of a formula with some of the three, from 0."""
        moved = any("+" in self.symbols[i] for i in which)
        return (*(self.terms[i] for i in which), *(self.added if moved else ()))
