"""Advice on record as it was written: each format read for ever, whatever is said today.

``formats/advice-N.json`` is the frozen schema of format N. When what is written changes, raise
`FORMAT`, write its schema (``./furrow manage write_advice_format``), and say here how a row of
the format before becomes one of it.
"""

import json
from collections.abc import Callable
from datetime import date, datetime
from pathlib import Path
from typing import Any

from core.advice.vocabulary import State
from core.advice.working import BalanceRow, DayRow, LayerRow, Step
from core.limits.refill_method import FLAT_P, RefillMethod
from server.advice.assumed import Assumed
from server.advice.models import Advice
from server.advice.schemas import AnswerOut, EstimateOut, RefillMethodOut
from server.base.schema import Schema

FORMAT = 10
FORMATS = Path(__file__).with_name("formats")


class InstrumentSeen(Schema):
    label: str
    last_hours: float | None


class AtHand(Schema):
    """What an advice was given from, and what it assumed."""

    assumed: Assumed
    forecast_issued_at: datetime | None
    weather_until: date | None
    instruments: list[InstrumentSeen]
    sets: int
    newest_set_hours: float | None
    planned: int
    holds: int


class WorkingOut(Schema):
    steps: list[Step]
    layers: list[LayerRow]
    balance: list[BalanceRow]
    days: list[DayRow]
    refill_methods: list[RefillMethodOut]
    estimates: list[EstimateOut]


class KeptAdvice(Schema):
    """What stands in a row of `Advice`."""

    answer: AnswerOut
    working: WorkingOut
    inputs: AtHand


def _from_1(row: dict[str, Any]) -> dict[str, Any]:
    """Format 1 asked no question."""
    return {**row, "answer": {"question": None, **row["answer"]}}


def _from_2(row: dict[str, Any]) -> dict[str, Any]:
    """Format 2 kept of what was assumed the methods, the ET and the room for rain alone, and its
    layers stood for the watered ground."""
    inputs = dict(row["inputs"])
    own = ("weighing", "school", "et0_mm", "et0_source", "rain_room_mm")
    assumed = {
        **dict.fromkeys(Assumed.model_fields),
        "soil": [],
        **{name: inputs.pop(name) for name in own},
    }
    layers = [{**layer, "watered": 1.0} for layer in row["working"]["layers"]]
    working = {**row["working"], "layers": layers}
    return {**row, "working": working, "inputs": {**inputs, "assumed": assumed}}


def _own_value(school: str, crop: dict[str, Any] | None) -> float | None:
    """What the crop's own refill point is made by."""
    if school == RefillMethod.FLAT:
        return FLAT_P
    if crop is None:
        return None
    own: float | None = crop["p" if school == RefillMethod.CROP_P else "tension_kpa"]
    return own


def _from_3(row: dict[str, Any]) -> dict[str, Any]:
    """Format 3 kept the newest rule of the refill point, in force or not, and no figure where it
    was the crop's own; which was in force stands in the working. It did not keep what the soil
    gives off."""
    inputs = dict(row["inputs"])
    assumed = {k: v for k, v in inputs["assumed"].items() if k not in ("root_share", "wetted")}
    newest, value = assumed["school"], assumed["value"]
    school = next((s["school"] for s in row["working"]["schools"] if s["in_force"]), newest)
    if school != newest:
        value = None
    elif value is None:
        value = _own_value(school, assumed["crop"])
    share = inputs["assumed"].get("wetted")
    days = [{"bare_mm": None, **day} for day in row["working"]["days"]]
    working = {**row["working"], "days": days}
    assumed = {**assumed, "school": school, "value": value, "wetted_share": share}
    return {**row, "working": working, "inputs": {**inputs, "assumed": assumed}}


def _from_4(row: dict[str, Any]) -> dict[str, Any]:
    """Format 4 knew neither the water table nor the climate, nor water little and often."""
    unknown = dict.fromkeys(("water_table_mm", "wind_m_s", "rh_min", "little_and_often"))
    inputs = row["inputs"]
    return {**row, "inputs": {**inputs, "assumed": {**unknown, **inputs["assumed"]}}}


def _from_5(row: dict[str, Any]) -> dict[str, Any]:
    """Format 5 kept neither the tension in a second soil, nor when a row of the balance begins,
    nor the soil that roots grew into."""
    none: dict[str, Any] = {"equal_formula": "", "equal": [], "equal_kpa": None}
    working = row["working"]
    layers = [{**none, **layer} for layer in working["layers"]]
    balance = [{"hours": b["day"] * 24.0, "new_soil_mm": None, **b} for b in working["balance"]]
    return {**row, "working": {**working, "layers": layers, "balance": balance}}


# What format 7 calls otherwise than those before.
_STATES = {
    "holding": "ok",
    "water_soon": "irrigate_soon",
    "water_now": "irrigate_now",
    "past_refill": "below_refill",
    "brimming": "above_full",
    "held": "on_hold",
    "no_word": "no_reliable_data",
}
_REASONS = {
    "no_trusted_reading": "no_reliable_reading",
    "sensor_not_trusted": "sensor_excluded",
    "largest_set": "maximum_application",
    "smallest_set": "minimum_application",
    "use_above_book": "use_above_published",
    "use_below_book": "use_below_published",
    "set_fell_short": "irrigation_fell_short",
    "not_worth_a_set_yet": "not_worth_irrigating_yet",
    "given_without_answer": "more_applied_than_used",
    "held": "on_hold",
}


def _estimate_from(weighing: str) -> str:
    return "combined" if weighing == "blend" else weighing


def _from_6(row: dict[str, Any]) -> dict[str, Any]:
    """Format 6 had other names for the states, for some reasons, and for the methods by which the
    refill point is set and the state is estimated."""
    answer, working, inputs = dict(row["answer"]), dict(row["working"]), dict(row["inputs"])
    answer["state"] = _STATES[answer["state"]]
    answer["reasons"] = [_REASONS.get(r, r) for r in answer["reasons"]]
    answer["below_refill_hours"] = answer.pop("past_refill_hours")
    answer["last_reading_hours"] = answer.pop("last_word_hours")
    working["refill_methods"] = [
        {"refill_method": s.pop("school"), **s} for s in map(dict, working.pop("schools"))
    ]
    working["estimates"] = [
        {"estimate_from": _estimate_from(w.pop("weighing")), **w}
        for w in map(dict, working.pop("weighings"))
    ]
    assumed = dict(inputs["assumed"])
    assumed["refill_method"] = assumed.pop("school")
    assumed["estimate_from"] = _estimate_from(assumed.pop("weighing"))
    return {"answer": answer, "working": working, "inputs": {**inputs, "assumed": assumed}}


def _from_7(row: dict[str, Any]) -> dict[str, Any]:
    """Format 7 knew one regime, that of crops kept above their refill point."""
    inputs = row["inputs"]
    return {
        **row,
        "answer": {**row["answer"], "regime": "above_refill", "ponded": None},
        "inputs": {**inputs, "assumed": {**inputs["assumed"], "ponded": None}},
    }


def _from_8(row: dict[str, Any]) -> dict[str, Any]:
    """Format 8 knew neither blocks steered by the leaf, nor plans of less water, nor calendars of
    cuts, nor what lack of water would cost."""
    inputs = row["inputs"]
    none = dict.fromkeys(("leaf", "deficit", "cutting"))
    return {
        **row,
        "answer": {**row["answer"], **none, "at_risk": None},
        "inputs": {**inputs, "assumed": {**inputs["assumed"], **none}},
    }


def _from_9(row: dict[str, Any]) -> dict[str, Any]:
    """Format 9 did not say that an irrigation may be the last."""
    return row


_UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _from_1,
    2: _from_2,
    3: _from_3,
    4: _from_4,
    5: _from_5,
    6: _from_6,
    7: _from_7,
    8: _from_8,
    9: _from_9,
}


def read(written_as: int, row: dict[str, Any]) -> KeptAdvice:
    """A row of any format as today's.

    Parameters
    ----------
    written_as : int
    row : dict
        With ``answer``, ``working`` and ``inputs``.
    """
    for k in range(written_as, FORMAT):
        row = _UPGRADES[k](row)
    return KeptAdvice.model_validate(row)


def state_of(row: Advice) -> State:
    """The state that an advice on record named, by today's name."""
    return State(row.state if row.format >= 7 else _STATES[row.state])


def schema_file(of: int = FORMAT) -> Path:
    """Where the schema of a format is frozen."""
    return FORMATS / f"advice-{of}.json"


def schema_text() -> str:
    """The schema of what is written today."""
    return json.dumps(KeptAdvice.model_json_schema(), indent=1, sort_keys=True) + "\n"
