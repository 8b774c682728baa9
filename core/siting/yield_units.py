"""What a yield monitor writes down, as tonnes per hectare.

Factors follow from the international pound (0.45359237 kg), the US short ton (2000 lb) and the
international acre; a bushel weighs what the crop's standard says.
"""

from enum import StrEnum
from types import MappingProxyType

from core.arrays import Floats
from core.units import M2_PER_ACRE, M2_PER_HECTARE

KG_PER_POUND = 0.45359237
POUNDS_PER_SHORT_TON = 2000.0
KG_PER_TONNE = 1000.0
SECONDS_PER_HOUR = 3600.0
# A quintal, or decitonne.
KG_PER_DECITONNE = 100.0


class YieldUnit(StrEnum):
    """How a file states what was harvested per area."""

    T_HA = "t/ha"
    DT_HA = "dt/ha"
    KG_HA = "kg/ha"
    BU_AC = "bu/ac"
    LB_AC = "lb/ac"
    TON_AC = "US ton/ac"
    RELATIVE = "%"


class FlowUnit(StrEnum):
    """How a file states the flow of the crop into the machine."""

    KG_S = "kg/s"
    LB_S = "lb/s"
    T_H = "t/h"


KG_S_PER = MappingProxyType(
    {
        FlowUnit.KG_S: 1.0,
        FlowUnit.LB_S: KG_PER_POUND,
        FlowUnit.T_H: KG_PER_TONNE / SECONDS_PER_HOUR,
    }
)

# Pounds in a bushel, 7 CFR 810 and the legal weights of US states; from memory.
BUSHEL_LB = MappingProxyType(
    {"maize": 56.0, "wheat": 60.0, "soybean": 60.0, "barley": 48.0, "sorghum": 56.0, "oats": 32.0}
)

_ACRES_PER_HECTARE = M2_PER_HECTARE / M2_PER_ACRE


def t_ha_per(unit: YieldUnit, bushel_lb: float | None = None) -> float:
    """What one of a unit is in tonnes per hectare; 1 where the unit is a share.

    Parameters
    ----------
    bushel_lb : float [lb], optional
        What a bushel of the crop weighs; needed for bushels alone.

    Raises
    ------
    ValueError
        Bushels of a crop whose weight is not told.
    """
    pound_an_acre = KG_PER_POUND / KG_PER_TONNE * _ACRES_PER_HECTARE
    match unit:
        case YieldUnit.T_HA | YieldUnit.RELATIVE:
            return 1.0
        case YieldUnit.DT_HA:
            return KG_PER_DECITONNE / KG_PER_TONNE
        case YieldUnit.KG_HA:
            return 1 / KG_PER_TONNE
        case YieldUnit.LB_AC:
            return pound_an_acre
        case YieldUnit.TON_AC:
            return POUNDS_PER_SHORT_TON * pound_an_acre
        case YieldUnit.BU_AC:
            if bushel_lb is None:
                raise ValueError("what a bushel of the crop weighs must be told")
            return bushel_lb * pound_an_acre


def t_ha_of_flow(flow_kg_s: Floats, speed_m_s: Floats, width_m: Floats) -> Floats:
    """Yield from the flow of the crop into the machine [t/ha].

    Parameters
    ----------
    flow_kg_s, speed_m_s, width_m : arrays of one shape [kg/s], [m/s], [m]

    Returns
    -------
    array
        flow / (speed x width); not finite where the machine stands.
    """
    return flow_kg_s / (speed_m_s * width_m) * M2_PER_HECTARE / KG_PER_TONNE


def dry(value: Floats, moisture_percent: Floats) -> Floats:
    """Dry matter of what was harvested wet, in the unit it came in.

    Parameters
    ----------
    moisture_percent : array [% of the wet mass]
    """
    return value * (1 - moisture_percent / 100)
