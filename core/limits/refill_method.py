"""How much of the available water may be used: three methods, dated and by stage."""

from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from core.crop.catalogue import Crop
from core.crop.depletion import P_MAX, P_MIN
from core.crop.season import Stage
from core.sentence import Sentence, sentence


class RefillMethod(StrEnum):
    """How the refill point is set."""

    CROP_P = "crop_p"
    FLAT = "flat"
    TENSION = "tension"


REFILL_METHODS = tuple(RefillMethod)
FLAT_P = 0.5  # the flat share many people use (common practice, no source)
VALUE_RANGE = {
    RefillMethod.CROP_P: (P_MIN, P_MAX),
    RefillMethod.FLAT: (P_MIN, P_MAX),
    RefillMethod.TENSION: (5.0, 500.0),
}


class RuleProblem(ValueError):
    """A limit rule that can't be used; ``field`` is the input to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


@dataclass(frozen=True)
class LimitRule:
    """From a date on, in one stage or in all, this method sets the refill point.

    value : p at 5 mm/day, the flat share [-], or the tension [kPa]; None takes the crop's own
        p or tension, or the flat half.
    from_on : None from the beginning.
    stage : None in every stage.
    """

    refill_method: RefillMethod
    value: float | None = None
    from_on: date | None = None
    stage: Stage | None = None


def check_rule(rule: LimitRule, crop: Crop | None) -> None:
    """Refuse a rule that can't set a refill point.

    Raises
    ------
    RuleProblem
    """
    low, high = VALUE_RANGE[rule.refill_method]
    if rule.value is not None and not low <= rule.value <= high:
        unit = "kPa" if rule.refill_method is RefillMethod.TENSION else "of the available water"
        raise RuleProblem(
            "value",
            sentence(
                "{value:g} lies outside {low:g}-{high:g} {unit}.",
                value=rule.value,
                low=low,
                high=high,
                unit=unit,
            ),
        )
    if (
        rule.refill_method is RefillMethod.TENSION
        and rule.value is None
        and crop
        and crop.tension_kpa is None
    ):
        raise RuleProblem(
            "value",
            sentence(
                "There is no published tension limit for {crop}; enter one in kPa.", crop=crop.name
            ),
        )
