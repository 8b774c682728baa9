"""Soil-water tension from the resistance of a granular-matrix sensor.

References
----------
.. [1] Shock, C. C., Barnum, J. M., Seddigh, M. (1998), Proc. Irrigation Association Int. Show,
   139-146. Coefficients from memory.
"""

import numpy as np

from core.arrays import ArrayLike, Floats

USUAL_SOIL_C = 24.0  # where no thermometer stands beside the sensor
MAX_KPA = 239.0


def granular_matrix_kpa(resistance_kohm: ArrayLike, soil_c: ArrayLike = USUAL_SOIL_C) -> Floats:
    """Tension of granular-matrix sensors.

    Parameters
    ----------
    resistance_kohm : array [kOhm]
    soil_c : array, broadcastable [degrees C]
        NaN is taken as 24.

    Returns
    -------
    array [kPa]
        0 below 0.55 kOhm; NaN under 0.3 (a short circuit) and above 35 (an open line).

    Notes
    -----
    From 1 to 8 kOhm the equation of [1]_: (4.093 + 3.213 R) / (1 - 0.009733 R - 0.01205 T).
    Below 1 kOhm and above 8 kOhm the branches commonly published beside it (from memory):
    -20 (R (1 + 0.018 (T - 24)) - 0.55) and -2.246 - 5.239 R (1 + 0.018 (T - 24))
    - 0.06756 R^2 (1 + 0.018 (T - 24))^2, both as suction, sign turned here.
    """
    r = np.asarray(resistance_kohm, float)
    t = np.nan_to_num(np.asarray(soil_c, float), nan=USUAL_SOIL_C)
    warmed = r * (1 + 0.018 * (t - 24))
    with np.errstate(divide="ignore", invalid="ignore"):
        middle = (4.093 + 3.213 * r) / (1 - 0.009733 * r - 0.01205 * t)
    wet = np.maximum(20 * (warmed - 0.55), 0.0)
    dry = 2.246 + 5.239 * warmed + 0.06756 * warmed**2
    kpa = np.where(r < 1, wet, np.where(r <= 8, middle, dry))
    out: Floats = np.where((r < 0.3) | (r > 35), np.nan, np.minimum(kpa, MAX_KPA))
    return out
