"""The steps of the working that tell how much of a set is to carry salt below the roots."""

import numpy as np

from core.advice.decide import Decisions
from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.crop.salinity import MOST_LEACHING


def leaching_steps(d: Decisions, kept_mm: float) -> list[Step]:
    """What the season owes, what is due with the set, and the share that it is; the last step is
    the share.

    Parameters
    ----------
    d : Decisions
        Of a lone block.
    kept_mm : float
        What the roots are to keep of the set [mm net].

    Returns
    -------
    list of Step
        None where no leaching is required.
    """
    required = d.gathered.blocks[0].assumed.leaching_share
    if required == 0:
        return []
    part = Term("LR", required, Unit.SHARE, "leaching requirement, FAO-29")
    kept = Term("W", kept_mm, Unit.WATER_MM, "deficit at the start less what is left out")
    out, owed_mm = [], float(d.leaching.owed_mm[0])
    known = not np.isnan(owed_mm)
    if known:
        given, passed = (float(x[0]) for x in (d.track.season_given_mm, d.track.season_leached_mm))
        terms = (
            part,
            Term("I", given, Unit.WATER_MM, "irrigation since the season began, net"),
            Term("P", passed, Unit.WATER_MM, "drained below the roots since then, rain's too"),
        )
        out.append(Step(StepKey.LEACHING_OWED, "owed", "LR * I - P", terms, owed_mm, Unit.WATER_MM))
    before = (Term("owed", owed_mm, Unit.WATER_MM, COMPUTED),) if known else ()
    due_mm = float(d.leaching.due_mm[0])
    formula = f"max({'owed + ' if known else ''}LR / (1 - LR) * W, 0)"
    out.append(
        Step(StepKey.LEACHING_DUE, "L", formula, (*before, part, kept), due_mm, Unit.WATER_MM)
    )
    most = Term("most", MOST_LEACHING, Unit.SHARE, "of one irrigation (common practice, no source)")
    due = Term("L", due_mm, Unit.WATER_MM, COMPUTED)
    share = float(d.leaching.share[0])
    formula = "min(L / max(L + W, 0.001), most)"
    out.append(Step(StepKey.LEACHING_SHARE, "LRs", formula, (due, kept, most), share, Unit.SHARE))
    return out
