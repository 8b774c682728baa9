"""Van Genuchten curves from texture and bulk density by the Rosetta neural networks.

References
----------
.. [1] Zhang, Y., Schaap, M. G. (2017), Weighted recalibration of the Rosetta pedotransfer
   model, J. Hydrol. 547:39-53, doi:10.1016/j.jhydrol.2017.01.004.
.. [2] Schaap, M. G., Leij, F. J., van Genuchten, M. Th. (2001), Rosetta, J. Hydrol.
   251:163-176, doi:10.1016/S0022-1694(01)00466-8.
"""

from functools import lru_cache

import numpy as np
from rosetta import rosetta

from core.sentence import sentence
from core.soil.retention import CM_PER_KPA, RetentionCurve

VERSION = 3
# Error of the retained water content over the authors' own soils, without and with bulk
# density [m3/m3]; Schaap et al. 2001, from memory.
RMSE, RMSE_WITH_DENSITY = 0.076, 0.068


@lru_cache(maxsize=4096)
def rosetta_curve(sand: float, clay: float, bulk_density: float | None = None) -> RetentionCurve:
    """Curve of the fine earth [1]_.

    Parameters
    ----------
    sand, clay : float [percent by weight]
    bulk_density : float, optional [g/cm3]

    Raises
    ------
    ValueError
        When the networks can't answer for such a soil.

    Notes
    -----
    The library gives alpha [1/cm] and n as the mean of their logarithms.
    """
    soil = [sand, 100 - sand - clay, clay]
    if bulk_density is not None:
        soil.append(bulk_density)
    mean, _, codes = rosetta(VERSION, [soil], estimate_type="log")
    if codes[0] < 0 or np.isnan(mean[0, :4]).any():
        raise ValueError(sentence("Rosetta has no answer for this texture and bulk density"))
    theta_r, theta_sat, log_alpha, log_n = mean[0, :4]
    return RetentionCurve.van_genuchten(theta_r, theta_sat, 10**log_alpha * CM_PER_KPA, 10**log_n)
