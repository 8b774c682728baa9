"""Net and gross depth, volume and hours of irrigations."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import inf
from typing import Self

import numpy as np

from core.arrays import ArrayLike, Floats
from core.irrigation.system import IrrigationSystem


class Bound(StrEnum):
    """What set the amount."""

    DEFICIT = "deficit"
    MAXIMUM_APPLICATION = "maximum application"
    MINIMUM_APPLICATION = "minimum application"


BOUNDS = tuple(Bound)


@dataclass(frozen=True)
class Amount:
    """net_mm, gross_mm [mm], volume_m3 [m3]; hours in all, turn_hours of one of its turns [h]."""

    net_mm: float
    gross_mm: float
    volume_m3: float
    hours: float
    turn_hours: float
    bound: Bound


@dataclass(frozen=True)
class Systems:
    """The equipment of many blocks as arrays, (blocks,); see `IrrigationSystem`."""

    area_m2: Floats
    efficiency: Floats
    rate_mm_h: Floats
    smallest_mm: Floats
    largest_mm: Floats
    turn_mm: Floats
    moves: np.ndarray

    @classmethod
    def of(cls, systems: Sequence[IrrigationSystem]) -> Self:
        """The systems of blocks in their order."""
        return cls(
            area_m2=np.array([s.area_m2 for s in systems]),
            efficiency=np.array([s.efficiency for s in systems]),
            rate_mm_h=np.array([s.application_rate_mm_h for s in systems]),
            smallest_mm=np.array([s.smallest_mm for s in systems]),
            largest_mm=np.array([inf if s.largest_mm is None else s.largest_mm for s in systems]),
            turn_mm=np.array([s.turn_mm for s in systems]),
            moves=np.array([s.moves for s in systems]),
        )


@dataclass(frozen=True)
class Amounts:
    """The amounts of many blocks, arrays (blocks,); bound_index into `BOUNDS`."""

    net_mm: Floats
    gross_mm: Floats
    volume_m3: Floats
    hours: Floats
    turn_hours: Floats
    bound_index: np.ndarray

    def of(self, row: int) -> Amount:
        """The amount of one block."""
        return Amount(
            net_mm=float(self.net_mm[row]),
            gross_mm=float(self.gross_mm[row]),
            volume_m3=float(self.volume_m3[row]),
            hours=float(self.hours[row]),
            turn_hours=float(self.turn_hours[row]),
            bound=BOUNDS[int(self.bound_index[row])],
        )


def irrigation_amounts(
    deficit_mm: ArrayLike,
    systems: Systems,
    rain_room_mm: ArrayLike = 0.0,
    leaching_share: ArrayLike = 0.0,
) -> Amounts:
    """Water that brings root zones back to full, less the room kept for rain.

    Parameters
    ----------
    deficit_mm : array, shape (blocks,) [mm]
        At the moment of irrigation.
    systems : Systems
    rain_room_mm : array, shape (blocks,) [mm]
    leaching_share : array, shape (blocks,) [-]
        Share of the water that must pass below the roots.

    Returns
    -------
    Amounts
        gross = (deficit - room) / efficiency / (1 - leaching), kept within the system's
        smallest and largest sensible set; net = gross x efficiency; hours = gross / rate,
        in as many turns as the system's largest turn asks for.

    Raises
    ------
    ValueError
        When a deficit or room is negative, or leaching would take everything.
    """
    deficit, room, leaching = np.broadcast_arrays(
        np.asarray(deficit_mm, float), np.asarray(rain_room_mm, float), leaching_share
    )
    if np.any(deficit < 0) or np.any(room < 0):
        raise ValueError("deficit and rain room can't be negative")
    if np.any((leaching < 0) | (leaching >= 1)):
        raise ValueError("leaching takes a share of the water, from 0 to below 1")
    wanted = np.maximum(deficit - room, 0.0) / systems.efficiency / (1 - leaching)
    above = wanted > systems.largest_mm
    below = (wanted > 0) & (wanted < systems.smallest_mm)
    gross = np.where(above, systems.largest_mm, np.where(below, systems.smallest_mm, wanted))
    bound = np.select(
        [above, below],
        [BOUNDS.index(Bound.MAXIMUM_APPLICATION), BOUNDS.index(Bound.MINIMUM_APPLICATION)],
        0,
    )
    hours = gross / systems.rate_mm_h
    return Amounts(
        net_mm=gross * systems.efficiency,
        gross_mm=gross,
        volume_m3=gross / 1000 * systems.area_m2,
        hours=hours,
        turn_hours=hours / np.maximum(np.ceil(gross / systems.turn_mm - 1e-9), 1),
        bound_index=bound,
    )


def irrigation_amount(
    deficit_mm: float,
    system: IrrigationSystem,
    rain_room_mm: float = 0.0,
    leaching_share: float = 0.0,
) -> Amount:
    """The amount of one block; see `irrigation_amounts`."""
    one = Systems.of([system])
    return irrigation_amounts([deficit_mm], one, [rain_room_mm], [leaching_share]).of(0)
