"""Root depth, Kc, p and the limits that follow, at any hour around now."""

from dataclasses import dataclass

import numpy as np

from core.advice.inputs import BlockInputs, CropSeason
from core.advice.vocabulary import School
from core.arrays import ArrayLike, Floats
from core.crop.depletion import FLAT_P, adjusted_p
from core.crop.season import CropDays, crop_days
from core.soil.profile import Profile
from core.store.limits import RootZoneLimits, root_zone_limits


@dataclass(frozen=True)
class LimitsInForce:
    """Limits of one block under one school and one reference ET [mm/day]."""

    profile: Profile
    season: CropSeason
    day_now: int
    hour_of_day: float
    et0_mm_day: float
    school: School

    @classmethod
    def of(
        cls, inputs: BlockInputs, season: CropSeason, et0_mm_day: float, school: School
    ) -> "LimitsInForce":
        """Limits in force for a block's inputs."""
        return cls(
            profile=inputs.profile,
            season=season,
            day_now=(inputs.now.date() - season.planted_on).days,
            hour_of_day=inputs.now.hour + inputs.now.minute / 60,
            et0_mm_day=et0_mm_day,
            school=school,
        )

    def days_at(self, hours: ArrayLike) -> Floats:
        """Whole days since planting at hours from now, by the local calendar."""
        ahead = np.floor((self.hour_of_day + np.asarray(hours, float)) / 24)
        return self.day_now + ahead

    def crop_at(self, hours: ArrayLike) -> CropDays:
        """Kc, root depth and stage at hours from now."""
        return crop_days(self.season.crop, self.days_at(hours))

    def root_mm_at(self, hours: ArrayLike) -> Floats:
        """Root depth, no deeper than the profile is described [mm]."""
        return np.minimum(self.crop_at(hours).root_mm, self.profile.depth_mm)

    def p_at(self, hours: ArrayLike, et0_mm_day: ArrayLike | None = None) -> Floats:
        """Share that may be used, by the school in force [-]."""
        kc = self.crop_at(hours).kc
        et0 = self.et0_mm_day if et0_mm_day is None else et0_mm_day
        etc = kc * np.asarray(et0, float)
        if self.school is School.FLAT:
            return np.full(etc.shape, FLAT_P)
        return adjusted_p(self.season.crop.p, etc)

    def at(self, hours: ArrayLike) -> RootZoneLimits:
        """Full, refill, wilting, TAW and RAW at hours from now [mm]."""
        return root_zone_limits(self.profile, self.root_mm_at(hours), self.p_at(hours))
