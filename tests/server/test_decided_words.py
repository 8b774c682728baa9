"""What mail, table and page say of a decision: the reason chosen, and the one typed."""

from datetime import UTC, datetime
from typing import Any

import pytest

from server.advice.models import Decision
from server.advice.schemas import DecisionOut
from server.today.decided import decision_words

Kind, Why = Decision.Kind, Decision.Why


def made(kind: Kind, why: Why | None = None, reason: str = "", **more: Any) -> str:
    at = datetime(2026, 7, 14, 4, tzinfo=UTC)
    told: dict[str, Any] = {"made_by": "Maud Pellander", **more}
    return decision_words(
        DecisionOut(id=1, kind=kind, why=why, reason=reason, made_at=at, set_id=None, **told)
    )


@pytest.mark.parametrize(
    ("kind", "why", "reason", "words"),
    [
        (Kind.ACCEPTED, None, "", "Scheduled by Maud Pellander"),
        # A change has a reason in the person's own words, and none from the list.
        (Kind.CHANGED, None, "pump 2 is short", "Adjusted by Maud Pellander: pump 2 is short"),
        (Kind.DECLINED, Why.NO_HANDS, "", "Skipped by Maud Pellander: no labour available"),
        (Kind.DECLINED, Why.RAIN, " 20 mm ", "Skipped by Maud Pellander: rain is forecast, 20 mm"),
    ],
)
def test_the_reason_is_told(kind: Kind, why: Why | None, reason: str, words: str) -> None:
    assert made(kind, why, reason) == words


def test_whoever_is_gone_is_not_named() -> None:
    assert made(Kind.ACCEPTED, made_by=None) == "Scheduled by someone"
    assert decision_words(None) == ""
