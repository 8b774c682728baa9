"""What the other methods would have said of the same block on the same morning.

They are decided together with the block itself, as blocks beside it.
"""

import numpy as np

from core.advice.answer import EstimateAnswer, RefillMethodAnswer
from core.advice.decide import Decisions
from core.advice.inputs import BlockInputs
from core.advice.judge import Judgement
from core.limits.refill_method import REFILL_METHODS, LimitRule, RefillMethod
from core.state.estimate_from import EstimateFrom


def variants(inputs: BlockInputs) -> list[BlockInputs]:
    """The block, then by each method of setting the refill point, then by each of estimating."""
    refill = [inputs.assuming(rules=_under(inputs, s)) for s in REFILL_METHODS]
    estimate_from = [inputs.assuming(estimate_from=w) for w in EstimateFrom] if inputs.past else []
    return [inputs, *refill, *estimate_from]


def _under(inputs: BlockInputs, refill_method: RefillMethod) -> tuple[LimitRule, ...]:
    """The rules with another method in force, each keeping the value that it was given."""
    own = [r.value for r in inputs.assumed.rules if r.refill_method is refill_method]
    return (*inputs.assumed.rules, LimitRule(refill_method, own[-1] if own else None))


def refill_method_answers(d: Decisions) -> tuple[RefillMethodAnswer, ...]:
    """The answer by every method of the refill point."""
    g, now = d.gathered, d.gathered.past_days
    answers = []
    for row, refill_method in enumerate(REFILL_METHODS, start=1):
        ours = REFILL_METHODS[int(g.limits.refill_method_index[0, now])] is refill_method
        taw, raw = float(g.zones.taw_mm[row, now]), float(g.zones.raw_mm[row, now])
        if np.isnan(raw):
            answers.append(
                RefillMethodAnswer(refill_method, ours, p=None, days_left=float("inf"), net_mm=None)
            )
            continue
        finite = np.isfinite(d.start_hours[row])
        net = float(d.amounts.net_mm[row]) if finite else None
        left = float(d.days_left[row])
        answers.append(
            RefillMethodAnswer(refill_method, ours, p=raw / taw, days_left=left, net_mm=net)
        )
    return tuple(answers)


def estimate_answers(d: Decisions) -> tuple[EstimateAnswer, ...]:
    """The state and date if the other of the two led; none without a balance."""
    inputs = d.gathered.blocks[0]
    if inputs.past is None:
        return ()
    out, judged = [], Judgement(d)
    for row, estimate_from in enumerate(EstimateFrom, start=1 + len(REFILL_METHODS)):
        known = bool(judged.known[row])
        out.append(
            EstimateAnswer(
                estimate_from=estimate_from,
                in_force=estimate_from is inputs.assumed.estimate_from,
                deficit_mm=max(float(d.track.depletion_mm[row, -1]), 0.0) if known else None,
                sigma_mm=float(d.track.sigma_mm[row, -1]) if known else None,
                days_left=float(d.days_left[row]) if known else float("inf"),
            )
        )
    return tuple(out)
