"""Run sheets and seasons as they were stored in formats of before."""

import json
from pathlib import Path

import pytest
from pydantic import BaseModel

from server.plan.money import BlockMoneyOut
from server.plan.outcome import Outcome
from server.plan.season import StoredSeason
from server.plan.sheet_sets import SheetSet
from server.plan.stored import StoredAhead, StoredInputs, plan_block_of

SAMPLES = Path(__file__).parents[1] / "samples"

STORED: dict[str, type[BaseModel]] = {
    "inputs": StoredInputs,
    "ahead": StoredAhead,
    "outcome": Outcome,
    "set": SheetSet,
    "money": BlockMoneyOut,
}


def test_a_sheet_of_before_wind_can_still_be_read() -> None:
    """Inputs of format 1: nothing kept a block waiting for less wind."""
    old = json.loads((SAMPLES / "run-sheet-1.json").read_text())
    read = StoredInputs.model_validate(old["content"]["inputs"])
    assert read.wind_m_s == []
    assert {b.windy for b in read.blocks} == {""}
    assert plan_block_of(read.blocks[0]).windy is None


def test_a_sheet_of_before_groups_can_still_be_read() -> None:
    """Inputs of format 2: nothing kept blocks from running together, and no set had pulses."""
    old = json.loads((SAMPLES / "run-sheet-2.json").read_text())
    read = StoredInputs.model_validate(old["content"]["inputs"])
    shared = read.shared()
    assert (shared.groups, shared.sources[0].smallest_l_s) == ((), 0.0)
    block = plan_block_of(read.blocks[0])
    assert (block.groups, block.pulses, block.parts) == ((), None, 1)
    assert Outcome.model_validate(old["content"]["outcome"]).format == 1


def test_a_sheet_of_before_several_a_day_can_still_be_read() -> None:
    """Inputs of format 3: no block was watered more than once a day."""
    old = json.loads((SAMPLES / "run-sheet-3.json").read_text())
    read = StoredInputs.model_validate(old["content"]["inputs"])
    assert {plan_block_of(b).a_day for b in read.blocks} == {1}


@pytest.mark.parametrize("part", STORED)
def test_a_sheet_of_before_can_still_be_read(part: str) -> None:
    """As it was first stored in its format; the schema has not changed since."""
    old = json.loads((SAMPLES / "run-sheet-4.json").read_text())
    read = STORED[part].model_validate(old["content"][part])
    assert read.model_dump(mode="json") == old["content"][part]
    assert STORED[part].model_json_schema() == old["schema"][part]


def test_a_season_of_before_can_still_be_read() -> None:
    """Format 1 as it was first stored; its schema has not changed since."""
    old = json.loads((SAMPLES / "season-1.json").read_text())
    read = StoredSeason.model_validate(old["content"])
    assert read.model_dump(mode="json") == old["content"]
    assert StoredSeason.model_json_schema() == old["schema"]
