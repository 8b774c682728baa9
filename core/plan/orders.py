"""Orders in which people water blocks without a plan."""

from collections.abc import Sequence

import numpy as np

from core.plan.plan_block import PlanBlock


def most_urgent_first(blocks: Sequence[PlanBlock]) -> np.ndarray:
    """Blocks by the share of the allowable depletion that is gone, the most first."""
    gone = [float(b.depletion_mm.mean() / b.raw_mm[0]) for b in blocks]
    return np.argsort(-np.array(gone), kind="stable")


def earliest_latest_start(blocks: Sequence[PlanBlock]) -> np.ndarray:
    """Blocks by when they come to refill, at the use of the first day."""
    days = [
        float((b.raw_mm[0] - b.depletion_mm.mean()) / max(b.use_mm[:, 0].mean(), 1e-9))
        for b in blocks
    ]
    return np.argsort(np.array(days), kind="stable")
