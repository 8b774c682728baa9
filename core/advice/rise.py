"""What rises into the root zones of blocks from below, by day."""

from collections.abc import Sequence
from datetime import date

import numpy as np

from core.advice.inputs import BlockInputs
from core.arrays import Floats
from core.soil.water_table import capillary_rise


def rise_by_day(
    blocks: Sequence[BlockInputs], root_mm: Floats, first: date, use_mm: Floats
) -> Floats:
    """Capillary rise by calendar day over the whole of each block.

    Parameters
    ----------
    blocks : sequence of BlockInputs, (blocks,)
    root_mm : array, shape (blocks, days) [mm]
    first : date
        Of the first column.
    use_mm : array, shape (blocks, days) [mm/day]
        Of the crop without stress: no more rises than it takes.

    Returns
    -------
    array, shape (blocks, days) [mm/day]
        From the depth of the water table where that is known, else as stated.
    """
    out = np.empty(root_mm.shape)
    for i, block in enumerate(blocks):
        table = block.assumed.water_table
        if table is None:
            out[i] = block.assumed.capillary_mm_day
            continue
        pairs = np.stack([root_mm[i], table.on(first, root_mm.shape[1])], axis=1)
        known, which = np.unique(pairs, axis=0, return_inverse=True)
        most = np.array([capillary_rise(block.assumed.profile, r, t) for r, t in known])[which]
        # It rises below the watered strip; what lies between has no roots.
        out[i] = np.minimum(most * block.assumed.wetted_share, use_mm[i])
    return out
