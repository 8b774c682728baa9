"""What water that a crop lacks costs.

References
----------
.. [1] Doorenbos, J. & Kassam, A.H. (1979), FAO Irrigation and Drainage Paper 33: the share of the
   yield that is lost is Ky times the share of evapotranspiration that is lacking, over the
   season or over one of its periods, each with its own Ky.
"""

import numpy as np

from core.crop.catalogue import Crop

# Of crops for which the paper gives no Ky: as much yield as water (working assumption, no source).
KY_UNKNOWN = 1.0
# Of a yield that nobody priced [money/ha]: all hectares alike, and dear beside power and labour
# (working assumption, no source).
VALUE_UNKNOWN_HA = 2000.0
# A window that begins within so many days counts from now on: what is planned now brings the crop
# into it.
WINDOW_AHEAD_DAYS = 5.0
# A crop whose lack of water costs no more than so much of what it costs at its most sensitive may
# wait for it (working assumption, no source).
INSENSITIVE_SHARE = 0.5


def past_sensitive(crop: Crop, book_day: float) -> bool:
    """Whether a crop is past all of its windows in which it is sensitive; False where the paper
    gives it none [1]_."""
    if not crop.windows:
        return False
    highest = max(w.ky for w in crop.windows)
    stage = float(np.interp(book_day, crop.stage_ends, np.arange(5)))
    return all(w.ky <= INSENSITIVE_SHARE * highest for w in crop.windows if w.end > stage)


def loss_per_mm(crop: Crop, book_day: float, et0_mm_day: float, value: float) -> float:
    """Money lost for each mm of evapotranspiration that the crop lacks [1]_.

    Parameters
    ----------
    book_day : float
        Of the crop's calendar; what is beyond it is its last day.
    et0_mm_day : float [mm/day]
        Expected, on the surface of the crop's Kc.
    value : float
        Money for all of the block's yield.

    Raises
    ------
    ValueError
        Where the ET is not above zero.

    Notes
    -----
    In a sensitive window its own Ky counts, over what the crop uses within it; else, or where that
    would be less, the season's over the whole season.
    """
    if not et0_mm_day > 0:
        raise ValueError("et0_mm_day must be above zero")
    ends = crop.stage_ends
    days = np.arange(0.5, ends[-1])
    etc = crop.kc_on(days) * et0_mm_day
    ky = KY_UNKNOWN if crop.ky_season is None else crop.ky_season
    share = ky / etc.sum()
    for window in crop.windows:
        first, last = (float(np.interp(x, np.arange(5), ends)) for x in (window.start, window.end))
        if first - WINDOW_AHEAD_DAYS <= book_day < last:
            inside = etc[(days >= first) & (days < last)].sum()
            share = max(share, window.ky / inside) if inside > 0 else share
    return float(share * value)
