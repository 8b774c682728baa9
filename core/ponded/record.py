"""What a field used and was given, hour by hour around now."""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats


@dataclass(frozen=True)
class Water:
    """Water into a field, as it was logged or as it is planned: from ``begun_hours`` to
    ``hours`` [h from now], so many mm over it; at once where the two are the same."""

    begun_hours: float
    hours: float
    net_mm: float
    is_rain: bool = False


@dataclass(frozen=True)
class Record:
    """Sums since the first hour at every hour of a grid [h from now]; arrays, shape (hours,).

    use_mm : crop use; water_mm : rain and irrigation
    irrigated : spans of irrigations, shape (irrigations, 2) [h from now]
    """

    hours: Floats
    use_mm: Floats
    water_mm: Floats
    irrigated: Floats

    @classmethod
    def of(cls, hours: Floats, use_mm: Floats, water: tuple[Water, ...]) -> "Record":
        """Sums of crop use as given, and of water as it came."""
        total = np.zeros(hours.size)
        for w in water:
            length = w.hours - w.begun_hours
            share = (hours - w.begun_hours) / length if length > 0 else hours >= w.hours
            total += w.net_mm * np.clip(share, 0.0, 1.0)
        spans = [(w.begun_hours, w.hours) for w in water if not w.is_rain]
        return cls(hours, use_mm, total, np.array(spans, float).reshape(-1, 2))

    def between(self, edges: ArrayLike) -> tuple[Floats, Floats]:
        """Use and water between neighbouring edges, array (..., steps + 1) [h from now]; two
        arrays (..., steps) [mm]."""
        at = np.asarray(edges, float)
        use, water = (np.interp(at, self.hours, x) for x in (self.use_mm, self.water_mm))
        return np.diff(use, axis=-1), np.diff(water, axis=-1)
