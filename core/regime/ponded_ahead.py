"""The days ahead of a ponded field: when its water reaches its lowest level, when to flood it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from core.advice.days_ahead import RAIN_HOUR
from core.advice.decide import CRITICAL_CHANCE, TAKEN_CHANCE
from core.advice.gather import AHEAD_DAYS, forecast_of
from core.advice.holds import Moved, around_holds
from core.advice.members_need import members_weather
from core.advice.needs_ahead import NeedsAhead
from core.arrays import Floats
from core.estimate.ahead import CASES
from core.irrigation.amount import Amount, Bound
from core.outlook.ahead import quantile, rank
from core.outlook.forecast import Forecast
from core.ponded.phases import Phase
from core.ponded.record import Record, Water
from core.ponded.water import Losses, run_water, store_mm
from core.regime.ponded_state import LOGGED_SIGMA, STEP_HOURS, PondedState, used_until

# Below its lowest level a crop has so much left before it lacks water for good [mm of level]
# (working assumption, no source; for the plan of all blocks alone).
BEYOND_MM = 300.0
# A phase that wants water from its first hour on has it so much sooner [h] (working assumption).
MORE_HOURS = 3.0
STEPS_A_DAY = int(24 / STEP_HOURS)
RANGE = (0.1, 0.5, 0.9)


@dataclass(frozen=True)
class Filling:
    """Flooding a field: it rises from a level to another one.

    net_mm : what is missing between the two, and what is lost meanwhile
    catches_up : whether more flows in than the field loses
    """

    from_mm: float
    to_mm: float
    missing_mm: float
    lost_mm_h: float
    amount: Amount
    catches_up: bool


def run_ahead(states: Sequence[PondedState]) -> tuple["PondedAhead", ...]:
    """The days ahead of fields whose level is known, computed together."""
    ahead = [PondedAhead(s) for s in states]
    starts, losses, use, water = [], [], [], []
    for s, a in zip(states, ahead, strict=True):
        courses, likely = s.learned.courses, s.learned.likely
        starts.append(np.append(s.level_mm, s.level_mm.mean()))
        losses.append([np.append(getattr(courses, n), getattr(likely, n)) for n in vars(courses)])
        used, came = a.courses()
        use.append(used)
        water.append(came)
    if not states:
        return ()
    rows = CASES + 1
    ran = run_water(
        np.concatenate(starts),
        Losses(*np.concatenate(losses, axis=1)),
        np.array(STEP_HOURS / 24),
        np.concatenate(use),
        np.concatenate(water),
        np.repeat([s.field.bund_mm for s in states], rows),
    ).level_mm.reshape(len(states), rows, -1)
    for a, levels in zip(ahead, ran, strict=True):
        a.levels, a.expected = levels[:-1], levels[-1]
    return tuple(ahead)


class PondedAhead:
    """The days ahead of one field, from now on in steps of `STEP_HOURS`.

    levels : array, shape (CASES, steps + 1), of the members [mm]
    expected : array, shape (steps + 1,), with the likeliest losses, the mean ET0 and the rain that
        most members bring [mm]
    """

    edges = np.arange(AHEAD_DAYS * STEPS_A_DAY + 1) * STEP_HOURS

    def __init__(self, state: PondedState) -> None:
        self.state = state
        self.levels: Floats = np.empty((0, self.edges.size))
        self.expected: Floats = np.empty(self.edges.size)

    @cached_property
    def _forecast(self) -> Forecast:
        return forecast_of(self.state.inputs)

    def _use(self, et0_mm: Floats) -> Floats:
        """Crop use by step, (courses, steps), from ET0 by day, (courses, days) [mm]."""
        s = self.state
        kc = s.kc[s.today : s.today + AHEAD_DAYS + 1]
        return np.diff(used_until(self.edges, s.hour_of_day, 0, kc * et0_mm), axis=-1)

    def _given(self) -> Floats:
        """What is planned or runs, by step [mm]."""
        water = tuple(
            Water(p.start_hours, p.end_hours, p.net_mm) for p in self.state.inputs.planned
        )
        none = np.zeros(self.edges.size)
        return Record.of(self.edges, none, water).between(self.edges)[1]

    def _rain(self, rain_mm: Floats) -> Floats:
        """Rain by step, (courses, steps), from rain by day: in the step of its hour [mm]."""
        out = np.zeros((rain_mm.shape[0], self.edges.size - 1))
        hours = np.arange(rain_mm.shape[1]) * 24.0 + RAIN_HOUR - self.state.hour_of_day
        for day in np.flatnonzero((hours >= 0) & (hours < self.edges[-1])):
            out[:, int(hours[day] // STEP_HOURS)] += rain_mm[:, day]
        return out

    def courses(self) -> tuple[Floats, Floats]:
        """Use and water of the members, and of the expected case as the last, by step; arrays
        (CASES + 1, steps) [mm]."""
        s, f = self.state, self._forecast
        course = np.arange(CASES) * f.et0_mm.shape[0] // CASES
        et0 = np.concatenate([f.et0_mm[course], f.expected_et0_mm[None]])
        rain = np.concatenate([f.rain_mm[course], f.expected_rain_mm[None]])
        use = self._use(et0) * np.append(s.use_factor, 1.0)[:, None]
        return use, self._rain(rain) + self._given()

    def _day(self, hours: Floats) -> np.ndarray:
        """Day of the phases at hours from now."""
        day = self.state.today + np.floor((hours + self.state.hour_of_day) / 24).astype(int)
        return np.minimum(day, self.state.phases.lower_mm.size - 1)

    def _day_at(self, hours: float) -> int:
        return int(self._day(np.array([hours]))[0])

    @cached_property
    def lower_mm(self) -> Floats:
        """The lowest level allowed at each edge; minus infinity where there is none."""
        return self.state.phases.lower_mm[self._day(self.edges)]

    @cached_property
    def upper_mm(self) -> Floats:
        """The level to which it would be flooded at each edge."""
        return self.state.phases.upper_mm[self._day(self.edges)]

    def _until(self, levels: Floats, limit: Floats) -> Floats:
        """Hours until courses, (..., steps + 1), are at or below a limit, (steps + 1,): 0 where
        they are already, infinity where they never are."""
        above = levels - limit
        short = above <= 0
        first = short.argmax(axis=-1)
        before = np.maximum(first - 1, 0)
        a = np.take_along_axis(above, before[..., None], axis=-1)[..., 0]
        b = np.take_along_axis(above, first[..., None], axis=-1)[..., 0]
        # Where the limit itself rises in a step, it does at the step's end.
        steady = (limit[before] == limit[first]) & (a > b)
        with np.errstate(invalid="ignore", divide="ignore"):
            share = np.where(steady, a / (a - b), 1.0)
        at = self.edges[before] + share * (self.edges[first] - self.edges[before])
        return np.where(short.any(axis=-1), np.where(first > 0, at, 0.0), np.inf)

    @cached_property
    def due(self) -> float:
        """Hours until the expected case is due."""
        return float(self._until(self.expected, self.lower_mm))

    @cached_property
    def member_due(self) -> Floats:
        """Hours until each member is due, (CASES,)."""
        return self._until(self.levels, self.lower_mm)

    @cached_property
    def chance(self) -> float:
        """The chance of falling lower that is taken [-]."""
        sensitive = self.phase_at(min(self.due, self.edges[-1])) is Phase.FLOWERING
        return CRITICAL_CHANCE if sensitive else TAKEN_CHANCE

    def phase_at(self, hours: float) -> Phase:
        """The phase at hours from now."""
        return self.state.phases.phase(self._day_at(hours))

    @cached_property
    def needed(self) -> float:
        """Hours until water is needed: as expected, when the chance taken is used up, or before
        any member falls lower than it ever is to."""
        guard = self.lower_mm - self.state.phases.guard_mm[self._day(self.edges)]
        never = float(self._until(self.levels, guard).min())
        return min(self.due, float(quantile(self.member_due, self.chance)), never)

    @cached_property
    def _raised(self) -> tuple[float, float]:
        """Hours until flooding has to begin for a phase that wants a higher level from its first
        hour on, and until that hour; infinity where none is in sight, or the water stands higher
        anyway."""
        rises = np.flatnonzero(self.lower_mm[1:] > self.lower_mm[:-1]) + 1
        if not rises.size:
            return np.inf, np.inf
        k = int(rises[0])
        level, wanted = float(self.expected[k]), float(self.lower_mm[k])
        if level >= wanted:
            return np.inf, np.inf
        # An inlet may bring less than it is believed to.
        takes = (1.0 + LOGGED_SIGMA) * self.filling(level, wanted).amount.hours + MORE_HOURS
        return max(float(self.edges[k]) - takes, 0.0), float(self.edges[k])

    @property
    def phase_wanting(self) -> Phase | None:
        """The phase in which water is needed next; None where none is in sight."""
        begin, at = self._raised
        wanted = at if begin < self.needed else self.needed
        return self.phase_at(wanted + 1.0) if np.isfinite(wanted) else None

    @cached_property
    def moved(self) -> Moved:
        """The latest start once holds are respected."""
        start = min(self.needed, self._raised[0])
        if not np.isfinite(start):
            return Moved(start)
        run = self.filling(*self.rise(start)).amount.hours
        return around_holds(start, run, 0.0, self.state.inputs.holds)

    @property
    def start(self) -> float:
        """Hours until the latest start; infinity where none is in sight."""
        return self.moved.start_hours

    @cached_property
    def flooding(self) -> Filling | None:
        """What the next flooding takes; None where none is in sight."""
        return self.filling(*self.rise(self.start)) if np.isfinite(self.start) else None

    def rise(self, hours: float) -> tuple[float, float]:
        """From which level to which one a field is flooded that begins at some hours from now."""
        level = float(np.interp(hours, self.edges, self.expected))
        # A phase that begins before the next day is over says how much.
        wanted = min(max(hours, self.needed) + 24.0, self.edges[-1])
        days = slice(self._day_at(hours), self._day_at(wanted) + 1)
        upper = self.state.phases.upper_mm[days]
        return level, max(float(upper.max()), level)

    def filling(self, from_mm: float, to_mm: float) -> Filling:
        """How long a flooding takes, and the water for it; what is lost meanwhile is let in too."""
        s = self.state
        system = s.inputs.assumed.system
        likely: Losses = s.learned.likely
        phi = likely.porosity
        missing = float((store_mm(to_mm, phi) - store_mm(from_mm, phi))[0])
        et = float(s.kc[s.today]) * s.inputs.assumed.stated_et.expected
        lost = float((likely.at((max(from_mm, -50.0) + to_mm) / 2)[0] + et) / 24)
        rate = system.application_rate_mm_h * system.efficiency
        catches_up = rate > lost
        hours = max(missing, 0.0) / (rate - lost if catches_up else rate)
        gross = hours * system.application_rate_mm_h
        bound = Bound.DEFICIT
        if system.largest_mm is not None and gross > system.largest_mm:
            gross, bound = system.largest_mm, Bound.MAXIMUM_APPLICATION
        hours = gross / system.application_rate_mm_h
        amount = Amount(
            net_mm=gross * system.efficiency,
            gross_mm=gross,
            volume_m3=gross / 1000 * system.area_m2,
            hours=hours,
            turn_hours=hours,
            bound=bound,
        )
        return Filling(from_mm, to_mm, missing, lost, amount, catches_up)

    @cached_property
    def drawn_lower_mm(self) -> Floats:
        """The lowest level as it is drawn: where none is in force, the threshold."""
        lower = self.lower_mm
        return np.where(np.isinf(lower), self.state.field.threshold_mm, lower)

    def by_day(self, values: Floats, days: int) -> Floats:
        """Every day's value from now on, index 0 now; along the last axis."""
        return values[..., : days * STEPS_A_DAY + 1 : STEPS_A_DAY]

    def ranged(self, values: Floats) -> Floats:
        """A tenth, half and nine tenths of the members, (3, ...)."""
        ordered = np.sort(values, axis=0)
        return ordered[rank(RANGE, ordered.shape[0])]

    def needs(self, days: int) -> NeedsAhead:
        """The field as a store that is filled from above, for a plan of all blocks."""
        s, f = self.state, self._forecast
        whole, rain, left = members_weather(f, s.hour_of_day, days)
        ahead = slice(s.today, s.today + days)
        lower, upper = s.phases.lower_mm[ahead], s.phases.upper_mm[ahead]
        watered = np.isfinite(lower)
        bottom = np.where(watered, lower, s.field.threshold_mm)
        highest = float(upper.max())
        likely, courses = s.learned.likely, s.learned.courses
        middle = np.maximum((bottom + upper) / 2, -50.0)
        lost = np.array([courses.at(m) for m in middle]).T
        use = whole * s.kc[ahead] * s.use_factor[:, None]
        raw = float(store_mm(highest, likely.porosity)[0]) - store_mm(bottom, likely.porosity)
        held = store_mm(s.level_mm, courses.porosity)
        return NeedsAhead(
            season=s.season,
            depletion_mm=np.maximum(highest - held, 0.0),
            # Nothing is missed once the field dries for harvest.
            use_mm=np.where(watered, (use + lost) * left, 0.0),
            water_mm=rain,
            raw_mm=raw,
            taw_mm=raw + float(likely.porosity[0]) * BEYOND_MM,
            book_day=float(s.book_day),
            et0_mm_day=s.inputs.assumed.stated_et.expected,
            leaching_share=0.0,
            wetting_mm=0.0,
        )
