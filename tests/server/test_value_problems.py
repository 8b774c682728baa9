"""Each way in which a value can miss its schema is said in plain words, with the value."""

from datetime import date, datetime
from typing import Any

import pytest
from pydantic import BaseModel, Field, ValidationError

from core.crop.reference import Surface
from server.base.value_problems import value_problem


class Form(BaseModel):
    model_config = {"extra": "forbid"}

    count: int = 1
    share: float = Field(0.5, gt=0, lt=1)
    depth: float = Field(1.0, ge=0, le=3, allow_inf_nan=False)
    name: str = Field("ab", min_length=2, max_length=4)
    crop: str = Field("maize", min_length=1)
    days: list[int] = Field([1], min_length=1, max_length=2)
    pair: list[int] = Field([1, 2], min_length=2)
    surface: Surface = Surface.GRASS
    on: date = date(2026, 7, 14)
    at: datetime = datetime(2026, 7, 14)
    dual: bool = False


def said(**values: Any) -> list[tuple[str, str]]:
    try:
        Form(**values)
    except ValidationError as found:
        problems = [value_problem(dict(e)) for e in found.errors()]
        return [(p.field, str(p.message)) for p in problems]
    raise AssertionError("nothing was refused")


NOT = "This can't be used: "


@pytest.mark.parametrize(
    ("values", "expected"),
    [
        ({"count": "two"}, f"Enter a whole number. {NOT}two"),
        ({"count": 1.5}, f"Enter a whole number. {NOT}1.5"),
        ({"count": None}, "Enter a whole number."),
        ({"share": 0}, f"Enter more than 0. {NOT}0"),
        ({"share": 1}, f"Enter less than 1. {NOT}1"),
        ({"share": "half"}, f"Enter a number. {NOT}half"),
        ({"depth": -1}, f"Enter 0 or more. {NOT}-1"),
        ({"depth": 4.5}, f"Enter 3 or less. {NOT}4.5"),
        ({"depth": float("inf")}, f"Enter a number. {NOT}inf"),
        ({"name": ""}, "Enter at least 2 characters."),
        ({"name": "abcde"}, f"Enter at most 4 characters. {NOT}abcde"),
        ({"name": 7}, f"Enter text. {NOT}7"),
        ({"days": []}, "At least one is needed."),
        ({"pair": [1]}, "At least 2 are needed."),
        ({"crop": ""}, "This is needed."),
        ({"days": [1, 2, 3]}, "At most 2 are taken."),
        ({"days": 3}, f"A list is needed here. {NOT}3"),
        ({"surface": "lawn"}, f"Choose one of 'grass' or 'alfalfa'. {NOT}lawn"),
        ({"on": "14 July"}, f"Enter a date such as 2026-07-14. {NOT}14 July"),
        ({"at": "six"}, f"Enter a time such as 2026-07-14T06:00. {NOT}six"),
        ({"dual": "maybe"}, f"Enter true or false. {NOT}maybe"),
        ({"color": "red"}, f"There is no such field here. {NOT}red"),
    ],
)
def test_what_is_said(values: dict[str, Any], expected: str) -> None:
    assert said(**values) == [(next(iter(values)), expected)]


def test_a_long_value_is_cut() -> None:
    [(_, message)] = said(count="x" * 500)
    assert message.endswith("x" * 60) and len(message) < 120


def test_the_field_is_named_as_the_interface_does() -> None:
    error = {"loc": ("body", "data", "horizons", 1, "sand"), "type": "missing", "msg": ""}
    assert value_problem(error).field == "horizons.1.sand"
