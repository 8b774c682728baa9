"""All that the answer for one block is made of."""

from dataclasses import dataclass
from datetime import date, datetime

from core.advice.vocabulary import School
from core.crop.catalogue import Crop
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem
from core.soil.profile import Profile


@dataclass(frozen=True)
class CropSeason:
    """A crop in the ground from a date."""

    crop: Crop
    planted_on: date


@dataclass(frozen=True)
class StatedEt:
    """Reference ET expected for the days ahead, grass surface [mm/day], low < expected < high."""

    low: float
    expected: float
    high: float
    source: str


@dataclass(frozen=True)
class Watering:
    """Water that reached the root zone [mm net] at a moment [h from now, at most 0]."""

    hours: float
    net_mm: float


@dataclass(frozen=True)
class BlockInputs:
    """Everything known of one block at one instant.

    ``now`` is aware and in the farm's time zone, so that its date is the farm's date.
    """

    now: datetime
    profile: Profile
    season: CropSeason | None
    sites: tuple[Site, ...]
    waterings: tuple[Watering, ...]
    et: StatedEt | None
    system: IrrigationSystem
    school: School = School.CROP_P
    rain_room_mm: float = 0.0
