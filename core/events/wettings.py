"""Rises of one instrument's sensors put together: wettings of its site."""

from collections.abc import Iterable
from dataclasses import dataclass

from core.arrays import Floats
from core.quality.climbs import ARRIVES_MM_PER_DAY, DAY_HOURS

# A sensor that rises again so soon after its wettest reading answers a pulse of the same water [h];
# a deeper one may be ahead of a shallower one by the same time (working assumption, no source).
PULSE_H = 6.0
# Clocks of loggers and rounding of their times [h]; working assumption.
CLOCK_SLIP_H = 1.0
# How many wettings may still be on their way down at once.
UNDER_WAY = 6


@dataclass(frozen=True)
class Answer:
    """How one sensor answered. ``before_row``, ``peak_row``: rows of the site's readings.

    before_hours, after_hours : when the water arrived: later than the one, not after the other
    peak_hours : when it read wettest
    is_over : whether the readings go on past the wettest one
    """

    sensor: int
    before_row: int
    peak_row: int
    before_hours: float
    after_hours: float
    peak_hours: float
    is_over: bool


@dataclass(frozen=True)
class Wetting:
    """Water that came to a site: its answers in order of arrival."""

    answers: tuple[Answer, ...]

    @property
    def before_hours(self) -> float:
        """The last moment at which no sensor had answered yet."""
        return self.answers[0].before_hours

    @property
    def after_hours(self) -> float:
        """When the first sensor had answered."""
        return self.answers[0].after_hours

    @property
    def peak_hours(self) -> float:
        """When the last of its sensors read wettest."""
        return max(a.peak_hours for a in self.answers)

    @property
    def is_over(self) -> bool:
        """Whether none of its sensors is still rising."""
        return all(a.is_over for a in self.answers)

    def answer_of(self, sensor: int) -> Answer | None:
        """How a sensor answered; None where it did not."""
        return next((a for a in self.answers if a.sensor == sensor), None)


class _Growing:
    """A wetting while its answers are gathered."""

    def __init__(self, first: Answer) -> None:
        self.by_sensor = {first.sensor: first}
        self._last_peak = {first.sensor: first.peak_hours}

    def takes(self, rise: Answer, depth_mm: list[float]) -> bool:
        """Whether a rise belongs to it."""
        answered = rise.sensor in self.by_sensor
        if answered and rise.before_hours - self._last_peak[rise.sensor] <= PULSE_H:
            return True
        above = [a for a in self.by_sensor.values() if a.sensor < rise.sensor]
        if above:
            nearest = max(above, key=lambda a: a.sensor)
            way = depth_mm[rise.sensor] - depth_mm[nearest.sensor]
            late = rise.before_hours - nearest.after_hours
            in_time = late <= DAY_HOURS * (1 + way / ARRIVES_MM_PER_DAY)
        else:
            first = min(a.after_hours for a in self.by_sensor.values())
            in_time = not answered and rise.before_hours - first <= PULSE_H
        return in_time

    def add(self, rise: Answer, wetter: bool) -> None:
        known = self.by_sensor.get(rise.sensor)
        self._last_peak[rise.sensor] = rise.peak_hours
        if known is None:
            self.by_sensor[rise.sensor] = rise
        else:
            peak = rise if wetter else known
            self.by_sensor[rise.sensor] = Answer(
                rise.sensor,
                known.before_row,
                peak.peak_row,
                known.before_hours,
                known.after_hours,
                peak.peak_hours,
                rise.is_over,
            )


def wettings_of(
    rises: Iterable[Answer], depth_mm: list[float], wetness: Floats
) -> tuple[Wetting, ...]:
    """Put a site's rises together.

    Parameters
    ----------
    rises : iterable of Answer
        Each of its rises as an answer.
    depth_mm : list of float, rising [mm]
    wetness : array, shape (times, sensors)
        What each sensor read, larger where wetter.

    Returns
    -------
    tuple of Wetting
        By the arrival of their water.

    Notes
    -----
    Water comes from above: a sensor belongs to the newest wetting of which a shallower sensor has
    answered, within a day and another for each 20 cm between them (as `core.quality.climbs` allows
    it). What rises again within 6 h is a pulse of the same water; a sensor with none above it that
    rises again later answers new water.
    """
    growing: list[_Growing] = []
    for rise in sorted(rises, key=lambda r: (r.after_hours, r.sensor)):
        home = None
        for wetting in reversed(growing[-UNDER_WAY:]):
            if wetting.takes(rise, depth_mm):
                home = wetting
                break
        if home is None:
            growing.append(_Growing(rise))
            continue
        known = home.by_sensor.get(rise.sensor)
        seen = wetness[:, rise.sensor]
        home.add(rise, known is None or bool(seen[rise.peak_row] > seen[known.peak_row]))
    made = [
        Wetting(tuple(sorted(g.by_sensor.values(), key=lambda a: (a.after_hours, a.sensor))))
        for g in growing
    ]
    return tuple(sorted(made, key=lambda w: w.after_hours))
