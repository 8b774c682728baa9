"""A crop by its basal coefficient: what it uses apart from what its wet soil gives off.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 7 and annex 8.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from core.arrays import Floats
from core.crop.catalogue import Crop
from core.crop.season import STAGE_ORDER, CropDays, CropSeason, Stage

# Where the table has no basal row: tables 12 and 17 of [1]_ lie 0.05-0.1 apart at full cover [-].
EVAPORATED_KC, LEAST_KCB = 0.1, 0.1
GROWN = (Stage.MID, Stage.LATE)


def _less(kc: tuple[float, float, float]) -> tuple[float, float, float]:
    first, mid, end = (max(k - EVAPORATED_KC, LEAST_KCB) for k in kc)
    return first, mid, end


def basal_crop(crop: Crop) -> Crop:
    """The crop with its basal coefficients for Kc, after a cut too; Kc less a little where it has
    none."""
    cutting = crop.cutting and replace(crop.cutting, kc=crop.cutting.kcb or _less(crop.cutting.kc))
    sources = {**crop.sources, "kc": crop.sources.get("kcb", crop.sources["kc"])}
    return replace(crop, kc=crop.kcb or _less(crop.kc), cutting=cutting, sources=sources)


def _measured_height(season: CropSeason, t: Floats) -> Floats:
    """Height of an orchard [m]: the book's until the block's own was measured."""
    out = np.full(t.shape, season.crop.height_m)
    for seen in sorted(season.covers, key=lambda c: c.day):
        out = np.where(t >= seen.day, seen.height_m, out)
    return out


def heights_m(seasons: Sequence[CropSeason], basal: CropDays, since_planting: Floats) -> Floats:
    """Height of the crops by day.

    Parameters
    ----------
    seasons : sequence of CropSeason, (blocks,)
    basal : CropDays, arrays (blocks, days)
        Of the same seasons by their basal coefficient.
    since_planting : array, shape (blocks, days) [days]

    Returns
    -------
    array, shape (blocks, days) [m]
        Grows with the basal coefficient to the full height, as annex 8 of [1]_ has it, and
        keeps that; trees and vines keep theirs.
    """
    full = np.array([s.crop.height_m for s in seasons])[:, None]
    peaks = [max(c.kc[1], c.cutting.kc[1] if c.cutting else 0.0) for c in map(_basal, seasons)]
    grown = np.isin(basal.stage_index, [STAGE_ORDER.index(s) for s in GROWN])
    out = full * np.where(grown, 1.0, np.clip(basal.kc / np.array(peaks)[:, None], 0.0, 1.0))
    for row, season in enumerate(seasons):
        if season.crop.canopy is not None:
            out[row] = _measured_height(season, since_planting[row])
    return np.asarray(out, float)


def _basal(season: CropSeason) -> Crop:
    return basal_crop(season.crop)
