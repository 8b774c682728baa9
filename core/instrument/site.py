"""A site: one instrument's sensors in one hole, with what they said over a stretch of time."""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Self

import numpy as np

from core.arrays import ArrayLike, Floats
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.trust import Doubt, doubts
from core.soil.profile import Profile

# A site of a similar block lies so many times as far off the block as one of its own [-]; working
# assumption, no source.
BORROWED_SPREAD = 2.0


def _theta(kind: InstrumentKind, value: Floats, profile: Profile, horizon: np.ndarray) -> Floats:
    """What an instrument says as water content [m3/m3], shape (times, sensors)."""
    quantity = kinds()[kind].quantity
    if quantity is Quantity.TENSION:
        # A gauge may rest a little below zero; soil can't.
        return profile.theta_from_tension(np.maximum(value, 0.0), horizon)
    if quantity is Quantity.AVAILABLE:
        wilt, full = profile.theta_wilt[horizon], profile.theta_full[horizon]
        return wilt + value * (full - wilt)
    return value


@dataclass(frozen=True)
class Site:
    """Readings of one instrument turned into water content.

    depth_mm : array, shape (sensors,), rising [mm]
    hours : array, shape (times,), rising [h before (-) or after now]
    value : array, shape (times, sensors) [m3/m3, kPa or fraction available]; NaN where nothing
    theta : array, shape (times, sensors) [m3/m3], NaN where not trusted
    doubt : array of str, shape (times, sensors)
    horizon : array of int, shape (sensors,)
    borrowed : whether it stands in another block, similar to the one it is read for
    """

    label: str
    kind: InstrumentKind
    depth_mm: Floats
    hours: Floats
    value: Floats
    theta: Floats
    doubt: np.ndarray
    horizon: np.ndarray
    borrowed: bool = False

    @classmethod
    def from_readings(
        cls,
        label: str,
        kind: InstrumentKind,
        depth_mm: ArrayLike,
        hours: ArrayLike,
        value: ArrayLike,
        profile: Profile,
        suspect: ArrayLike = False,
        flag: ArrayLike = 0,
    ) -> Self:
        """Turn judged readings into water content.

        Parameters
        ----------
        depth_mm : array, shape (sensors,), rising [mm]
        hours : array, shape (times,), rising [h from now, so at most 0]
        value : array, shape (times, sensors) [m3/m3, kPa or fraction of the available water]
        profile : Profile
        suspect : array of bool, broadcastable to the values
            What a person has marked.
        flag : array of int, broadcastable to the values
            What the rules of `core.quality` found.

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
        found = doubts(v, np.broadcast_to(np.asarray(flag, np.int64), v.shape), suspect)
        facts = kinds()[kind]
        newest = np.where(found == "", t[:, None], -np.inf).max(axis=0, initial=-np.inf)
        stale = newest < -facts.max_age_hours
        found = np.where(stale & (found == ""), str(Doubt.STALE), found)
        theta = _theta(kind, v, profile, horizon)
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
        theta = _theta(self.kind, self.value, profile, horizon)
        return replace(self, horizon=horizon, theta=np.where(np.isnan(self.theta), np.nan, theta))

    @property
    def theta_sigma(self) -> float:
        """How far its readings may lie off the block that it is heard for [m3/m3]."""
        own = kinds()[self.kind].theta_sigma
        return own * BORROWED_SPREAD if self.borrowed else own

    @cached_property
    def believed(self) -> np.ndarray:
        """Sensors whose newest reading is trusted; array of bool, shape (sensors,).

        A sensor whose newest reading is doubted says nothing: an older one, from before
        whatever went wrong, would pass for news.
        """
        if not self.hours.size:
            return np.zeros(self.depth_mm.shape, bool)
        columns = np.arange(self.depth_mm.size)
        return (self.newest >= 0) & (self.doubt[self.newest, columns] == "")

    @cached_property
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
