"""The full point of each horizon as the sensors in it have shown it, beside the one in use."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.events.stored import EIGHT_OF_TEN
from core.learned.full_point import FullPoint
from core.soil.profile import Profile

# A full point must stand above wilting by so much to be one [m3/m3]; as for limits entered by hand.
LEAST_AVAILABLE = 0.01
DRIEST_WILTING = 0.02  # of any soil, sand included [m3/m3]
AS_GOOD_AS = 0.001  # no sensor tells less [m3/m3]


@dataclass(frozen=True)
class HorizonFull:
    """One horizon; contents of the whole soil [m3/m3].

    index : its place in the profile, from 0
    in_use, wilt : limits in use
    seen, low, high : mean of its sensors' full points, and its middle 80 percent
    sensors, events : how many sensors, and the fewest wetting events that one of them rests on
    """

    index: int
    top_mm: float
    bottom_mm: float
    in_use: float
    wilt: float
    seen: float
    low: float
    high: float
    sensors: int
    events: int

    @property
    def can_be_adopted(self) -> bool:
        """Whether it stands above wilting, and is another than the one in use."""
        is_new = abs(self.seen - self.in_use) >= AS_GOOD_AS
        return is_new and self.seen >= self.wilt_then + LEAST_AVAILABLE

    @property
    def wilt_then(self) -> float:
        """Wilting point to go with it: what lies between the two stays as it is.

        What a sensor shows when drained is full as it reads it, with its own bias; of how much the
        soil holds down to wilting it says nothing.
        """
        return max(self.seen - (self.in_use - self.wilt), DRIEST_WILTING)


def horizon_full(profile: Profile, points: Sequence[tuple[float, FullPoint]]) -> list[HorizonFull]:
    """What the sensors of a block have shown of its horizons, from the top down.

    Parameters
    ----------
    profile : Profile
        As it is in use.
    points : sequence of (depth [mm], FullPoint)
        Of all sensors that show one; horizons without any are left out.

    Notes
    -----
    Sensors of a horizon count alike. Each has its own calibration: the spread of their mean is that
    of one by the root of their number.
    """
    depth = np.array([d for d, _ in points], float)
    at = profile.horizon_at(depth) if depth.size else np.empty(0, int)
    out = []
    for h in sorted(set(at.tolist())):
        own = [p for (_, p), k in zip(points, at, strict=True) if k == h]
        seen = float(np.mean([p.theta for p in own]))
        half = [(p.high - p.low) / 2 / EIGHT_OF_TEN for p in own]
        spread = EIGHT_OF_TEN * float(np.sqrt(np.mean(np.square(half)) / len(own)))
        out.append(
            HorizonFull(
                index=h,
                top_mm=float(profile.top_mm[h]),
                bottom_mm=float(profile.bottom_mm[h]),
                in_use=float(profile.theta_full[h]),
                wilt=float(profile.theta_wilt[h]),
                seen=seen,
                low=seen - spread,
                high=seen + spread,
                sensors=len(own),
                events=min(p.events for p in own),
            )
        )
    return out
