"""What blocks share: sources, mains, groups, machines and people, as they are over the slots of a
plan."""

from dataclasses import dataclass

from core.arrays import Floats

# m3/h for each L/s.
M3_H_PER_L_S = 3.6


@dataclass(frozen=True)
class PlanSource:
    """A pump, a borehole or the turn of a ditch.

    flow_l_s : array, shape (slots,) [L/s]; 0 where it may not run
    smallest_l_s : float [L/s], less than that may not be drawn while it runs
    day_m3 : array, shape (days,) [m3]; infinite where no licence says how much a day
    total_m3 : float [m3], what is left of the season's
    kwh_m3 : float [kWh/m3]
    price_kwh : array, shape (slots,) [money/kWh]
    water_price : float [money/m3]
    peak_price : float [money/kW], of the month's highest draw
    peak_so_far_kw : float [kW], of this month; what is above it costs
    """

    name: str
    flow_l_s: Floats
    day_m3: Floats
    price_kwh: Floats
    total_m3: float = float("inf")
    kwh_m3: float = 0.0
    water_price: float = 0.0
    peak_price: float = 0.0
    peak_so_far_kw: float = 0.0
    smallest_l_s: float = 0.0


@dataclass(frozen=True)
class PlanMain:
    """A pipe or canal; capacity_l_s : float [L/s]."""

    name: str
    capacity_l_s: float


@dataclass(frozen=True)
class PlanGroup:
    """Blocks of which some can't run together; most : int, how many at a time."""

    name: str
    most: int


@dataclass(frozen=True)
class PlanMachine:
    """A machine of several blocks; moving_slots : int, before each set."""

    name: str
    moving_slots: int


@dataclass(frozen=True)
class Shared:
    """All that is shared on a farm.

    people : array, shape (slots,), how many may begin sets in each slot
    """

    sources: tuple[PlanSource, ...]
    mains: tuple[PlanMain, ...]
    machines: tuple[PlanMachine, ...]
    people: Floats
    groups: tuple[PlanGroup, ...] = ()
