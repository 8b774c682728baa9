"""Net and gross depth, volume and hours of one irrigation."""

from dataclasses import dataclass
from enum import StrEnum

from core.irrigation.system import IrrigationSystem
from core.units import water_volume_m3


class Bound(StrEnum):
    """What set the amount."""

    DEFICIT = "deficit"
    LARGEST_SET = "largest set"
    SMALLEST_SET = "smallest set"


@dataclass(frozen=True)
class Amount:
    """net_mm, gross_mm [mm], volume_m3 [m3], hours [h]."""

    net_mm: float
    gross_mm: float
    volume_m3: float
    hours: float
    bound: Bound


def irrigation_amount(
    deficit_mm: float, system: IrrigationSystem, rain_room_mm: float = 0.0
) -> Amount:
    """Water that brings the root zone back to full, less the room kept for rain.

    Parameters
    ----------
    deficit_mm : float [mm]
        At the moment of irrigation.
    system : IrrigationSystem
    rain_room_mm : float [mm]

    Returns
    -------
    Amount
        net = deficit - room; gross = net / efficiency, kept within the system's smallest
        and largest sensible set; hours = gross / application rate.

    Raises
    ------
    ValueError
        When the deficit or the room is negative.
    """
    if deficit_mm < 0 or rain_room_mm < 0:
        raise ValueError("deficit and rain room can't be negative")
    wanted = max(deficit_mm - rain_room_mm, 0.0) / system.efficiency
    gross, bound = wanted, Bound.DEFICIT
    if system.largest_mm is not None and wanted > system.largest_mm:
        gross, bound = system.largest_mm, Bound.LARGEST_SET
    elif 0 < wanted < system.smallest_mm:
        gross, bound = system.smallest_mm, Bound.SMALLEST_SET
    return Amount(
        net_mm=gross * system.efficiency,
        gross_mm=gross,
        volume_m3=water_volume_m3(gross, system.area_m2),
        hours=gross / system.application_rate_mm_h,
        bound=bound,
    )
