"""What a person did with an advice, in words."""

from django.utils.translation import gettext

from server.advice.schemas import DecisionOut
from server.base.vocabulary import word


def decision_words(decision: DecisionOut | None) -> str:
    """Such as "Skipped by Maud Pellander: no labour available, two men short"; empty for none."""
    if decision is None:
        return ""
    why = [word("why", decision.why) if decision.why else "", decision.reason.strip()]
    who = decision.made_by or gettext("someone")
    text = gettext("%(what)s by %(who)s") % {"what": word("decision", decision.kind), "who": who}
    because = ", ".join(part for part in why if part)
    return f"{text}: {because}" if because else text
