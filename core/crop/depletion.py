"""How much of the available water a crop may use before it suffers.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, table 22 and the equation below it.
"""

import numpy as np

from core.arrays import ArrayLike, Floats

P_MIN, P_MAX = 0.1, 0.8


def adjusted_p(p_table: ArrayLike, etc_mm_day: ArrayLike) -> Floats:
    """Allowable depletion at the day's crop water use [1]_.

    Parameters
    ----------
    p_table : array, broadcastable [-]
        Table value, valid at 5 mm/day.
    etc_mm_day : array, broadcastable [mm/day]

    Returns
    -------
    array, broadcast shape [-]
        ``p + 0.04 (5 - ETc)``, kept within 0.1-0.8.
    """
    p = np.asarray(p_table, float) + 0.04 * (5 - np.asarray(etc_mm_day, float))
    return np.clip(p, P_MIN, P_MAX)
