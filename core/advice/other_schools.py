"""What the other schools would have said of the same block on the same morning.

They are decided together with the block itself, as blocks beside it.
"""

import numpy as np

from core.advice.answer import SchoolAnswer, WeighingAnswer
from core.advice.decide import Decisions
from core.advice.inputs import BlockInputs
from core.advice.judge import Judgement
from core.limits.school import SCHOOLS, LimitRule, School
from core.state.weighing import Weighing


def variants(inputs: BlockInputs) -> list[BlockInputs]:
    """The block, then as each school of the refill point would have it, then of weighing."""
    refill = [inputs.assuming(rules=_under(inputs, s)) for s in SCHOOLS]
    weighing = [inputs.assuming(weighing=w) for w in Weighing] if inputs.past else []
    return [inputs, *refill, *weighing]


def _under(inputs: BlockInputs, school: School) -> tuple[LimitRule, ...]:
    """The rules with another school in force, each keeping the value that it was given."""
    own = [r.value for r in inputs.assumed.rules if r.school is school]
    return (*inputs.assumed.rules, LimitRule(school, own[-1] if own else None))


def school_answers(d: Decisions) -> tuple[SchoolAnswer, ...]:
    """The answer by every school of the refill point."""
    g, now = d.gathered, d.gathered.past_days
    answers = []
    for row, school in enumerate(SCHOOLS, start=1):
        ours = SCHOOLS[int(g.limits.school_index[0, now])] is school
        taw, raw = float(g.zones.taw_mm[row, now]), float(g.zones.raw_mm[row, now])
        if np.isnan(raw):
            answers.append(SchoolAnswer(school, ours, p=None, days_left=float("inf"), net_mm=None))
            continue
        finite = np.isfinite(d.start_hours[row])
        net = float(d.amounts.net_mm[row]) if finite else None
        left = float(d.days_left[row])
        answers.append(SchoolAnswer(school, ours, p=raw / taw, days_left=left, net_mm=net))
    return tuple(answers)


def weighing_answers(d: Decisions) -> tuple[WeighingAnswer, ...]:
    """The state and date if the other of the two led; none without a balance."""
    inputs = d.gathered.blocks[0]
    if inputs.past is None:
        return ()
    out, judged = [], Judgement(d)
    for row, weighing in enumerate(Weighing, start=1 + len(SCHOOLS)):
        known = bool(judged.known[row])
        out.append(
            WeighingAnswer(
                weighing=weighing,
                in_force=weighing is inputs.assumed.weighing,
                deficit_mm=max(float(d.track.depletion_mm[row, -1]), 0.0) if known else None,
                sigma_mm=float(d.track.sigma_mm[row, -1]) if known else None,
                days_left=float(d.days_left[row]) if known else float("inf"),
            )
        )
    return tuple(out)
