"""A site: one instrument's sensors in one hole, with what they said over a stretch of time."""

from dataclasses import dataclass, replace
from typing import Self

import numpy as np

from core.arrays import ArrayLike, Floats
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.trust import Doubt, doubts
from core.soil.profile import Profile


@dataclass(frozen=True)
class Site:
    """Readings of one instrument turned into water content.

    depth_mm : array, shape (sensors,), rising [mm]
    hours : array, shape (times,), rising [h before (-) or after now]
    value : array, shape (times, sensors) [m3/m3 or kPa], as read; NaN where nothing
    theta : array, shape (times, sensors) [m3/m3], NaN where not trusted
    doubt : array of str, shape (times, sensors)
    horizon : array of int, shape (sensors,)
    """

    label: str
    kind: InstrumentKind
    depth_mm: Floats
    hours: Floats
    value: Floats
    theta: Floats
    doubt: np.ndarray
    horizon: np.ndarray

    @classmethod
    def from_readings(
        cls,
        label: str,
        kind: InstrumentKind,
        depth_mm: ArrayLike,
        hours: ArrayLike,
        value: ArrayLike,
        profile: Profile,
        suspect: ArrayLike | None = None,
        water_hours: ArrayLike = (),
    ) -> Self:
        """Check readings and turn them into water content.

        Parameters
        ----------
        depth_mm : array, shape (sensors,), rising [mm]
        hours : array, shape (times,), rising [h from now, so at most 0]
        value : array, shape (times, sensors) [m3/m3 or kPa]
        profile : Profile
        suspect : array of bool, shape (sensors,), optional
            Sensors that a person has marked.
        water_hours : array [h from now]
            Irrigations and rain.

        Notes
        -----
        A tension becomes water content through the retention curve of the horizon that
        holds the sensor. The newest trusted reading of a sensor must be younger than its
        kind allows, or the whole sensor is stale.
        """
        depth = np.asarray(depth_mm, float)
        t = np.asarray(hours, float)
        v = np.asarray(value, float)
        horizon = profile.horizon_at(depth)
        found = doubts(kind, t, v, profile.theta_sat[horizon], water_hours)
        if suspect is not None:
            found = np.where(np.asarray(suspect, bool) & ~np.isnan(v), str(Doubt.SUSPECT), found)
        facts = kinds()[kind]
        newest = np.where(found == "", t[:, None], -np.inf).max(axis=0, initial=-np.inf)
        stale = newest < -facts.max_age_hours
        found = np.where(stale & (found == ""), str(Doubt.STALE), found)
        tension = facts.quantity is Quantity.TENSION
        theta = profile.theta_from_tension(v, horizon) if tension else v
        return cls(
            label=label,
            kind=kind,
            depth_mm=depth,
            hours=t,
            value=v,
            theta=np.where((found == "") | (found == str(Doubt.STALE)), theta, np.nan),
            doubt=found,
            horizon=horizon,
        )

    def under(self, profile: Profile) -> Self:
        """The same readings in another description of the soil; doubts stay as they were."""
        horizon = profile.horizon_at(self.depth_mm)
        tension = kinds()[self.kind].quantity is Quantity.TENSION
        theta = profile.theta_from_tension(self.value, horizon) if tension else self.value
        return replace(self, horizon=horizon, theta=np.where(np.isnan(self.theta), np.nan, theta))

    @property
    def believed(self) -> np.ndarray:
        """Sensors whose newest reading is trusted; array of bool, shape (sensors,).

        A sensor whose newest reading is doubted says nothing: an older one, from before
        whatever went wrong, would pass for news.
        """
        if not self.hours.size:
            return np.zeros(self.depth_mm.shape, bool)
        columns = np.arange(self.depth_mm.size)
        return (self.newest >= 0) & (self.doubt[self.newest, columns] == "")

    @property
    def newest(self) -> np.ndarray:
        """Row of each sensor's newest reading, trusted or not; -1 where there is none.

        Array of int, shape (sensors,).
        """
        seen = ~np.isnan(self.value)
        rows = np.arange(self.hours.size)[:, None]
        return np.where(seen, rows, -1).max(axis=0, initial=-1)

    @property
    def last_hours(self) -> float:
        """When the site last said something trusted, stale or not [h from now]; -inf: never."""
        good = (self.doubt == "") | (self.doubt == str(Doubt.STALE))
        rows = np.flatnonzero(good.any(axis=1))
        return float(self.hours[rows[-1]]) if rows.size else float("-inf")

    def latest(self) -> tuple[Floats, Floats]:
        """Newest water content of each sensor [m3/m3] and its hour; NaN where not believed."""
        theta = np.full(self.depth_mm.shape, np.nan)
        hour = np.full(self.depth_mm.shape, np.nan)
        newest = self.newest
        for j in np.flatnonzero(self.believed):
            theta[j], hour[j] = self.theta[newest[j], j], self.hours[newest[j]]
        return theta, hour
