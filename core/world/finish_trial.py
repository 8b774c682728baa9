"""Simulated maize seasons to their end, watered as the advice says, and what was too much of it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.crop.catalogue import crop
from core.state.estimate_from import EstimateFrom
from core.weather.years import WeatherRecord
from core.world.by_advice import DECISION_HOUR, ByAdvice, Owner
from core.world.climates import Climate, simulate_season
from core.world.farm import FIRST, Farm, make_farm
from core.world.field_readings import Instruments, Readings
from core.world.fields import Fields
from core.world.layerings import Layering
from core.world.truths import LayeredTruth

CROP = "maize-grain"
YEARS_BEFORE = 8  # of weather on record
LOOKED_BACK_DAYS = 60  # irrigations of so many days before the end are tried without
# Water that falls short by less than a day's use harms no ripening crop [mm].
SHORT_MM = 5.0


@dataclass(frozen=True)
class FinishedSeason:
    """How a field's season ended; depths [mm].

    said_on : day of the season on which it was first said to be finished; None where it never was
    short_mm : what the crop lacked after that beyond all the water that was left in its roots
    left_mm : available water in the roots when the crop was ripe
    too_many : last irrigations without which the crop would not have run short either, as things
        came
    """

    said_on: int | None
    short_mm: float
    left_mm: float
    too_many: int


class _ToTheEnd:
    """True fields carried on, with what their crops lack on the way."""

    def __init__(self, fields: Fields, farm: Farm) -> None:
        self.fields, self._farm = fields, farm
        self.lacked_mm = np.zeros(farm.count)

    def day(self, day: int, net_mm: Floats) -> None:
        """A day goes by."""
        w, f = self._farm.weather, self.fields
        et0 = float(w.et0_mm[day])
        demand = np.array([b.kcb[day] for b in f.believed]) * f.use * et0
        took = f.pass_day(day, et0, float(w.rain_mm[day]), net_mm)
        self.lacked_mm += demand * np.maximum(1.0 - took, 0.0)

    @property
    def left_mm(self) -> Floats:
        """Available water in the true roots at the end."""
        at = self.fields.morning(self._farm.days - 1, 5.0)
        return np.maximum(at.taw_mm - at.depletion_mm, 0.0)

    @property
    def short_mm(self) -> Floats:
        """What was lacking beyond all that was left: all of it counts as usable when a crop
        ripens, though roots find the last of it too slowly."""
        return np.maximum(self.lacked_mm - self.left_mm, 0.0)

    def dry_from(self, day: int) -> Floats:
        """How much they would be short with no more water from a day on."""
        for d in range(day, self._farm.days):
            self.day(d, np.zeros(self._farm.count))
        return self.short_mm


def _years_before(climate: Climate, days: int, seed: int) -> WeatherRecord:
    """The same days of the years before."""
    rng = np.random.default_rng([seed, 41])
    years = [simulate_season(climate, days, rng) for _ in range(YEARS_BEFORE)]
    first = [FIRST.replace(year=FIRST.year - 1 - k).toordinal() for k in range(YEARS_BEFORE)]
    return WeatherRecord(
        day=np.concatenate([f + np.arange(days) for f in first]),
        of_year=np.tile(FIRST.timetuple().tm_yday + np.arange(days), YEARS_BEFORE),
        et0_mm=np.concatenate([y.et0_mm for y in years]),
        rain_mm=np.concatenate([y.rain_mm for y in years]),
    )


def run_finishes(
    climate: Climate, soils: Sequence[Layering], seed: int
) -> tuple[FinishedSeason, ...]:
    """One season of a field on each soil, from planting until the crop is ripe."""
    days = int(sum(crop(CROP).stage_days))
    farm = make_farm(climate, soils, [CROP], days, seed)
    truth = LayeredTruth(farm.believed, seed)
    readings = Readings(Instruments.PROBE, farm.count, seed + 1)
    advice = ByAdvice(farm, EstimateFrom.COMBINED, _years_before(climate, days, seed))
    owner, course = Owner(farm), _ToTheEnd(truth.fields, farm)
    said = np.full(farm.count, -1)
    before: dict[int, Fields] = {}
    for day in range(days):
        readings.read(truth, day * 24.0 + DECISION_HOUR, day, evening=False)
        net = advice(day, truth, readings, owner)
        finished = advice.found is not None and advice.found.finished
        said = np.where((said < 0) & finished, day, said)
        # What is told to give after that is counted as not given: it was said to be over.
        net = np.where(said >= 0, 0.0, net)
        owner.logged[:, day] = net
        if day >= days - LOOKED_BACK_DAYS and (net > 0).any():
            before[day] = truth.fields.copy()
        # What lacked before does not count.
        course.lacked_mm = np.where((said < 0) | (said == day), 0.0, course.lacked_mm)
        course.day(day, net)
    too_many = _too_many(farm, owner.logged, before)
    return tuple(
        FinishedSeason(None if s < 0 else int(s), float(short), float(left), int(n))
        for s, short, left, n in zip(said, course.short_mm, course.left_mm, too_many, strict=True)
    )


def _too_many(farm: Farm, given_mm: Floats, before: dict[int, Fields]) -> np.ndarray:
    """How many of the last irrigations of each field could have been left out, one after the other
    from the last."""
    out, going = np.zeros(farm.count, dtype=int), np.ones(farm.count, dtype=bool)
    for day in sorted(before, reverse=True):
        given = given_mm[:, day] > 0
        if not (going & given).any():
            continue
        spare = _ToTheEnd(before[day], farm).dry_from(day) <= SHORT_MM
        out += going & given & spare
        going &= ~given | spare
    return out
