"""What is said of a block with less water by plan beside what is said of every block."""

from dataclasses import dataclass

from core.crop.season import Stage


@dataclass(frozen=True)
class DeficitAnswer:
    """The plan as it stands today.

    stage, use_share, allowed : of the stage under way, None where the plan has nothing for it, see
        `core.deficit.plan.StageWater`
    next_stage : the next one that the plan has something for within the outlook
    due_mm, application_mm : what is due by the share of ETc, and what is given at a time [mm net]
    yield_share : of the full yield that the plan leaves [-]; None where no Ky is known
    """

    stage: Stage | None
    use_share: float | None
    allowed: float | None
    next_stage: Stage | None
    due_mm: float | None
    application_mm: float | None
    yield_share: float | None
