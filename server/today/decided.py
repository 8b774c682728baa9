"""What a person did with an advice, in words."""

from collections.abc import Mapping
from types import MappingProxyType

from server.advice.models import Decision
from server.advice.schemas import DecisionOut

KIND_WORDS: Mapping[Decision.Kind, str] = MappingProxyType(
    {
        Decision.Kind.ACCEPTED: "accepted",
        Decision.Kind.CHANGED: "changed",
        Decision.Kind.DECLINED: "skipped",
    }
)
WHY_WORDS: Mapping[Decision.Why, str] = MappingProxyType(
    {
        Decision.Why.RAIN: "rain is coming",
        Decision.Why.FIELD_WORK: "field work first",
        Decision.Why.SPRAY: "spray or fertiliser interval",
        Decision.Why.WIND: "too windy",
        Decision.Why.FROST: "frost",
        Decision.Why.NO_WATER: "no water available",
        Decision.Why.NO_HANDS: "no labour available",
        Decision.Why.BREAKDOWN: "equipment breakdown",
        Decision.Why.LOOKS_WET: "the soil looks wet",
        Decision.Why.LOOKS_DRY: "the soil looks dry",
        Decision.Why.OTHER: "another reason",
    }
)


def decision_words(decision: DecisionOut | None) -> str:
    """Such as "changed by Maud Pellander: no labour available, two men short"; empty for none."""
    if decision is None:
        return ""
    why = [WHY_WORDS[decision.why] if decision.why else "", decision.reason.strip()]
    said = f"{KIND_WORDS[decision.kind]} by {decision.made_by or 'someone'}"
    because = ", ".join(part for part in why if part)
    return f"{said}: {because}" if because else said
