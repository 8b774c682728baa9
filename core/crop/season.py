"""A crop's season day by day: stage, crop coefficient and root depth.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO Irrigation and Drainage Paper 56, ch. 6 (fig. 34,
   eq. 66) and ch. 8.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.catalogue import Crop


class Stage(StrEnum):
    BEFORE = "before planting"
    INITIAL = "initial"
    DEVELOPMENT = "development"
    MID = "mid season"
    LATE = "late season"
    OVER = "season over"


@dataclass(frozen=True)
class CropDays:
    """A crop on given days; arrays of the shape of the days asked.

    kc [-], root_mm [mm], stage : array of str (values of `Stage`)
    """

    kc: Floats
    root_mm: Floats
    stage: np.ndarray


def crop_days(crop: Crop, day: ArrayLike) -> CropDays:
    """Kc, root depth and stage on days since planting.

    Parameters
    ----------
    crop : Crop
    day : array, shape (n,) [days since planting or bud break; 0 is the day itself]

    Returns
    -------
    CropDays, shape (n,)

    Notes
    -----
    Kc is flat through the initial stage, straight to the mid value over development, flat
    through mid season, straight to the end value over the late stage [1]_. Roots stand at
    their initial depth through the initial stage and reach the scheduling depth at the end
    of development.
    """
    t = np.asarray(day, float)
    ends = np.cumsum(crop.stage_days).astype(float)
    ini, mid, end = crop.kc
    kc = np.interp(t, ends, [ini, mid, mid, end])
    root = np.interp(t, ends[:2], [crop.root_initial_mm, crop.root_schedule_mm])
    names = [str(s) for s in Stage]
    index = np.where(t < 0, 0, 1 + np.searchsorted(ends, t, side="right"))
    return CropDays(kc=kc, root_mm=root, stage=np.array(names)[index])
