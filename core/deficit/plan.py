"""Less water than the crop could use, by plan: a share of its use, or a lower refill point."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from core.crop.season import Stage
from core.sentence import Sentence, sentence

# A share of the use that is below this is no plan for a crop that is to bear, and a refill point
# lower than this leaves nothing before it dies (working assumptions, no source) [-].
LEAST_SHARE, LOWEST_P = 0.2, 0.9
LEAST_P = 0.1
PLANNED_STAGES = (Stage.INITIAL, Stage.DEVELOPMENT, Stage.MID, Stage.LATE)


class DeficitProblem(ValueError):
    """A plan that can't be used; ``field`` is the input to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


@dataclass(frozen=True)
class StageWater:
    """What a stage is given: a share of what the crop could use, or a refill point of its own.

    use_share : of ETc [-]; None where the refill point rules
    allowed : share of the available water that may be used before it is refilled [-]
    """

    use_share: float | None = None
    allowed: float | None = None

    def __post_init__(self) -> None:
        if (self.use_share is None) == (self.allowed is None):
            raise DeficitProblem(
                "use_share",
                sentence("A stage has either a share of ETc or a refill point of its own."),
            )
        if self.use_share is not None and not LEAST_SHARE <= self.use_share <= 1.0:
            raise DeficitProblem(
                "use_share",
                sentence(
                    "{value:.0%} of ETc is not between {least:.0%} and 100%.",
                    value=self.use_share,
                    least=LEAST_SHARE,
                ),
            )
        if self.allowed is not None and not LEAST_P <= self.allowed <= LOWEST_P:
            raise DeficitProblem(
                "allowed",
                sentence(
                    "{value:.0%} of the available water is not between {least:.0%} and {most:.0%}.",
                    value=self.allowed,
                    least=LEAST_P,
                    most=LOWEST_P,
                ),
            )


@dataclass(frozen=True)
class DeficitPlan:
    """Stages with less water than the crop could use; the others are watered as usual.

    since : from when a share of ETc is counted; None from the beginning of the stage or season
    application_mm : water that is given at a time where a share of ETc rules [mm net]; None takes
        half of the allowable depletion
    """

    stages: Mapping[Stage, StageWater] = field(default_factory=dict)
    since: date | None = None
    application_mm: float | None = None

    def __post_init__(self) -> None:
        if not self.stages:
            raise DeficitProblem("stages", sentence("Name at least one stage that gets less."))
        wrong = [s for s in self.stages if s not in PLANNED_STAGES]
        if wrong:
            raise DeficitProblem(
                "stages", sentence("{stage} is no stage to plan for.", stage=str(wrong[0]))
            )
        if self.application_mm is not None and not self.application_mm > 0:
            raise DeficitProblem("application_mm", sentence("The application must be above zero."))
