"""What pumping takes."""

# Weight of a cubic metre of water [kN/m3] and seconds in an hour: lifting 1 m3 by 1 m takes
# 9.81 kJ, a kilowatt-hour is 3600 kJ.
WEIGHT_KN_M3, KJ_PER_KWH = 9.81, 3600.0


def pumping_kwh_m3(head_m: float, efficiency: float) -> float:
    """Energy that a pump takes for each cubic metre [kWh/m3].

    Parameters
    ----------
    head_m : float [m]
        Total head: lift, pressure at the outlet and friction.
    efficiency : float [-]
        Of pump and motor together.

    Raises
    ------
    ValueError
        Where the head is below zero or the efficiency not above 0 and at most 1.
    """
    if head_m < 0 or not 0 < efficiency <= 1:
        raise ValueError("head_m must be 0 or more, efficiency above 0 and at most 1")
    return WEIGHT_KN_M3 * head_m / (KJ_PER_KWH * efficiency)
