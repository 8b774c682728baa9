"""The step of the working that tells what rises from below today."""

import numpy as np

from core.advice.inputs import BlockInputs
from core.advice.working import Step, StepKey, Term, Unit
from core.soil.water_table import capillary_rise


def rise_steps(inputs: BlockInputs, root_mm: float, use: Term, rise_mm: float) -> list[Step]:
    """Capillary rise of today, from the water table or as stated; none where nothing rises.

    Parameters
    ----------
    inputs : BlockInputs
    root_mm : float [mm]
    use : Term
        What the crop uses in a day.
    rise_mm : float [mm/day]
        As it counts today.
    """
    assumed = inputs.assumed
    if assumed.water_table is None:
        if assumed.capillary_mm_day == 0:
            return []
        stated = Term("rise", assumed.capillary_mm_day, Unit.WATER_MM_DAY, "stated for the block")
        return [Step(StepKey.CAPILLARY_RISE, "C", "rise", (stated,), rise_mm, Unit.WATER_MM_DAY)]
    table = float(assumed.water_table.on(inputs.now.date(), 1)[0])
    if not np.isfinite(table):
        return []
    most = capillary_rise(assumed.profile, root_mm, table)
    steady = "steady flow from the water table to the roots (Gardner 1958)"
    terms = (
        Term("rise", most, Unit.WATER_MM_DAY, steady),
        Term("zw", table, Unit.DEPTH_MM, f"water table, {assumed.water_table.source}"),
        Term("z", root_mm, Unit.DEPTH_MM, "roots today"),
        Term("f", assumed.wetted_share, Unit.SHARE, "share of the ground that is irrigated"),
        use,
    )
    formula = f"min(rise * f, {use.symbol})"
    return [Step(StepKey.CAPILLARY_RISE, "C", formula, terms, rise_mm, Unit.WATER_MM_DAY)]
