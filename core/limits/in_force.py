"""Root depth, Kc, p and the limits that follow for one block, at any hour around now."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.season import CropDays, CropSeason, days_since_cut
from core.limits.by_day import BlockGround, LimitsByDay, limits_by_day, own_tension_kpa
from core.limits.refill_method import REFILL_METHODS, RefillMethod
from core.limits.root_zone import RootZoneLimits
from core.soil.profile import Profile
from core.soil.water_table import root_bound_mm

AHEAD_DAYS = 40


@dataclass(frozen=True)
class LimitsInForce:
    """Limits of one block under one reference ET [mm/day], from some days back to some ahead.

    method : None takes the one in force on each day
    table_mm : depth of the water table today, into which no root grows [mm]
    """

    profile: Profile
    season: CropSeason
    table: LimitsByDay
    today: int
    hour_of_day: float
    et0_mm_day: float
    refill_method: RefillMethod | None = None
    table_mm: float = np.inf

    @classmethod
    def of(
        cls, ground: BlockGround, now: datetime, et0_mm_day: float, past_days: int = 14
    ) -> "LimitsInForce":
        """Limits from ``past_days`` before now to 40 days after.

        Parameters
        ----------
        ground : BlockGround
            The last of its soils is the one now.
        now : datetime
            Aware, in the farm's time zone.
        """
        first = now.date() - timedelta(days=past_days)
        return cls(
            profile=ground.soils[-1].profile,
            season=ground.season,
            table=limits_by_day([ground], first, past_days + AHEAD_DAYS + 1),
            today=past_days,
            hour_of_day=now.hour + now.minute / 60,
            et0_mm_day=et0_mm_day,
            table_mm=float(root_bound_mm([ground.water_table], now.date(), 1)[0, 0]),
        )

    def under(self, refill_method: RefillMethod) -> "LimitsInForce":
        """The same block as another method would have it."""
        return replace(self, refill_method=refill_method)

    @property
    def refill_method_now(self) -> RefillMethod:
        """The method in force today."""
        return (
            self.refill_method or REFILL_METHODS[int(self.table.refill_method_index[0, self.today])]
        )

    @property
    def day_now(self) -> int:
        """Whole days since planting, by the local calendar."""
        return self.today + (self.table.first - self.season.planted_on).days

    @property
    def days_since_cut(self) -> int | None:
        """Days since the cut that the crop now grows back from; None without one."""
        return days_since_cut(self.season, self.day_now)

    @property
    def tension_now(self) -> float:
        """The tension limit today [kPa]; NaN where there is none."""
        return float(self.table.tension_kpa[0, self.today])

    @property
    def p_table_now(self) -> float:
        """The p at 5 mm/day that the crop method starts from today [-]."""
        return float(self.table.p_table[0, self.today])

    @property
    def p_source(self) -> str:
        """Where that p comes from."""
        crop = self.season.crop
        return crop.sources["p"] if self.p_table_now == crop.p else "limits set for the block"

    @property
    def tension_source(self) -> str:
        """Where the tension limit comes from."""
        crop = self.season.crop
        own = float(own_tension_kpa([crop], self.crop_at(np.zeros(1)).book_day[None])[0, 0])
        if self.tension_now != own:
            return "limits set for the block"
        if own == crop.tension_kpa:
            return crop.sources["tension_kpa"]
        eased = f"eased from {crop.tension_kpa:g} towards {crop.ripening_kpa:g} kPa in ripening"
        return f"{eased}; {crop.sources['tension_kpa']}"

    def _column(self, hours: ArrayLike) -> np.ndarray:
        """Place in the table at hours from now, by the local calendar."""
        ahead = np.floor((self.hour_of_day + np.asarray(hours, float)) / 24).astype(int)
        last = self.table.root_mm.shape[1] - 1
        return np.clip(self.today + ahead, 0, last)

    def crop_at(self, hours: ArrayLike) -> CropDays:
        """Kc, root depth and stage at hours from now."""
        return self.table.crop.take((0, self._column(hours)))

    def root_mm_at(self, hours: ArrayLike) -> Floats:
        """Root depth, no deeper than roots can go in the soil [mm]."""
        return self.table.root_mm[0, self._column(hours)]

    def p_at(self, hours: ArrayLike, et0_mm_day: ArrayLike | None = None) -> Floats:
        """Share that may be used, by the method asked or the one in force [-].

        ``et0_mm_day`` of shape (cases, 1) gives (cases, hours).
        """
        et0 = self.et0_mm_day if et0_mm_day is None else et0_mm_day
        return self.table.p(et0, self.refill_method, at=(0, self._column(hours)))

    def at(self, hours: ArrayLike) -> RootZoneLimits:
        """Full, refill, wilting, TAW and RAW at hours from now [mm]."""
        column = self._column(hours)
        full, wilt = self.table.full_mm[0, column], self.table.wilt_mm[0, column]
        taw = self.table.taw_mm[0, column]
        raw = self.p_at(hours) * taw
        return RootZoneLimits(full, full - raw, wilt, taw, raw)
