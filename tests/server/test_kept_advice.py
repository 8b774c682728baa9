"""Advice on record is read in whatever format it was written."""

import json
from dataclasses import replace
from datetime import timedelta
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from django.core.management import CommandError, call_command
from pydantic import ValidationError

from core.advice.vocabulary import Reason, State
from core.crop.climate import Climate
from core.limits.refill_method import LimitRule, RefillMethod
from core.soil.water_table import WaterTable
from server.advice import kept
from server.advice.answers import load_whole
from server.advice.assumed import assumed_out
from server.advice.kept import FORMAT, read, schema_file, schema_text
from server.advice.models import Advice
from server.blocks.models import Block
from tests.server.conftest import Api

SAMPLES = Path(__file__).with_name("samples")


def sample(of: int) -> dict:
    found: dict = json.loads((SAMPLES / f"advice-{of}.json").read_text())
    return found


@pytest.mark.parametrize("of", range(1, FORMAT + 1))
def test_an_old_sample_of_every_format_is_read(of: int) -> None:
    found = read(of, sample(of))
    assert found.answer.model_dump(mode="json")["deficit_mm"] == sample(of)["answer"]["deficit_mm"]
    assert len(found.working.steps) == len(sample(of)["working"]["steps"]) > 5
    assert schema_file(of).exists(), "the schema of every format is frozen"


def test_the_schema_of_what_is_written_is_frozen() -> None:
    assert schema_file().read_text() == schema_text(), (
        "what is put on record has changed: raise FORMAT in server/advice/kept.py, "
        "run './furrow manage write_advice_format', keep a sample"
    )


def test_a_frozen_schema_is_not_overwritten(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(kept, "FORMATS", SAMPLES)
    with pytest.raises(CommandError, match="raise FORMAT"):
        call_command("write_advice_format")


def test_a_row_that_lacks_what_its_format_has_is_not_guessed_at() -> None:
    row = sample(1)
    del row["answer"]["deficit_mm"]
    with pytest.raises(ValidationError, match="deficit_mm"):
        read(1, row)


def test_a_day_before_the_formats_opens_on_screen(manager: Api, block: Block) -> None:
    day = Advice.objects.for_farm(block.farm).filter(block=block).latest("day").day
    Advice.objects.for_farm(block.farm).filter(block=block, day=day).delete()
    row = Advice(
        block=block,
        day=day,
        made_at=block.farm.now(),
        version="2026.12.1",
        state="water_soon",
        **sample(1),
    )
    row.save()
    shown = manager.get(f"/farms/thistlewick/blocks/{block.pk}/advice/{row.pk}")
    assert shown["version"] == "2026.12.1"
    assert shown["same_rules"] is False
    assert shown["answer"]["question"] is None
    assert shown["answer"]["deficit_mm"] == sample(1)["answer"]["deficit_mm"]
    listed = manager.get(f"/farms/thistlewick/blocks/{block.pk}/advice")["rows"]
    assert next(r for r in listed if r["id"] == row.pk)["state"] == "irrigate_soon"


def test_format_6_had_other_names() -> None:
    row = sample(6)
    row["answer"] |= {"state": "brimming", "reasons": ["largest_set", "heat_ahead"]}
    row["answer"] |= {"past_refill_hours": 3.0, "last_word_hours": 5.0}
    found = read(6, row)
    assert found.answer.state == "above_full"
    assert found.answer.reasons == ["maximum_application", "heat_ahead"]
    assert (found.answer.below_refill_hours, found.answer.last_reading_hours) == (3.0, 5.0)
    was = [(s["school"], s["p"]) for s in row["working"]["schools"]]
    assert [(m.refill_method, m.p) for m in found.working.refill_methods] == was
    assert [w["weighing"] for w in row["working"]["weighings"]] == ["blend", "sensors", "balance"]
    assert [e.estimate_from for e in found.working.estimates] == ["combined", "sensors", "balance"]


@pytest.mark.parametrize(("old", "new"), [*kept._STATES.items(), *kept._REASONS.items()])
def test_every_new_name_is_one_of_today(old: str, new: str) -> None:
    assert new in {*map(str, State), *map(str, Reason)}
    assert old not in {*map(str, State), *map(str, Reason)}


def test_format_2_kept_less_of_what_was_assumed() -> None:
    """What it did not keep is unknown, never zero."""
    row = sample(2)
    assumed = read(2, row).inputs.assumed
    assert (row["inputs"]["weighing"], assumed.estimate_from) == ("blend", "combined")
    assert assumed.et0_mm == row["inputs"]["et0_mm"]
    assert assumed.rain_room_mm == row["inputs"]["rain_room_mm"]
    assert (assumed.soil, assumed.crop, assumed.system) == ([], None, None)
    assert (assumed.leaching_share, assumed.dual, assumed.wetted_share) == (None, None, None)
    assert (assumed.forecast_et0_mm, assumed.forecast_rain_mm) == (None, None)
    assert assumed.refill_method == row["inputs"]["school"]
    assert assumed.value is None


def test_format_5_kept_no_hour_of_a_row_and_no_new_soil() -> None:
    working = read(5, sample(5)).working
    assert [b.hours for b in working.balance] == [24.0 * b.day for b in working.balance]
    assert all(b.new_soil_mm is None for b in working.balance)
    assert all((x.equal, x.equal_kpa, x.equal_formula) == ((), None, "") for x in working.layers)


@pytest.mark.parametrize(
    ("newest", "value", "in_force", "expected"),
    [
        ("crop_p", None, "crop_p", 0.35),
        ("crop_p", 0.4, "crop_p", 0.4),
        ("flat", None, "flat", 0.5),
        ("tension", None, "tension", 30.0),
        ("flat", 0.6, "crop_p", None),
    ],
    ids=["own p", "stated p", "flat half", "own tension", "another in force"],
)
def test_format_3_kept_the_newest_rule_of_the_refill_point(
    newest: str, value: float | None, in_force: str, expected: float | None
) -> None:
    """What was in force stands in its working; the figure of a rule that was not is not its."""
    row = sample(3)
    row["inputs"]["assumed"] |= {"school": newest, "value": value}
    row["inputs"]["assumed"]["crop"] |= {"p": 0.35, "tension_kpa": 30.0}
    for method in row["working"]["schools"]:
        method["in_force"] = method["school"] == in_force
    assumed = read(3, row).inputs.assumed
    assert (assumed.refill_method, assumed.value) == (in_force, expected)
    assert assumed.wetted_share == row["inputs"]["assumed"]["wetted"]


def test_the_rule_in_force_that_day_is_kept_not_the_newest(block: Block) -> None:
    loaded = load_whole(block.farm, [block], block.farm.now())
    assumed, today = loaded.inputs[block.pk].assumed, loaded.now.date()
    assert assumed.season is not None
    crop = assumed.season.crop
    later = LimitRule(RefillMethod.FLAT, 0.4, from_on=today + timedelta(days=3))
    tension = LimitRule(RefillMethod.TENSION)
    for rules, expected in {
        (): (RefillMethod.CROP_P, crop.p),
        (LimitRule(RefillMethod.CROP_P, 0.3),): (RefillMethod.CROP_P, 0.3),
        (LimitRule(RefillMethod.FLAT), later): (RefillMethod.FLAT, 0.5),
        (tension, later): (RefillMethod.TENSION, crop.tension_kpa),
    }.items():
        kept_now = assumed_out(replace(assumed, rules=rules), today)
        assert (kept_now.refill_method, kept_now.value) == expected
    after = assumed_out(replace(assumed, rules=(tension, later)), today + timedelta(days=3))
    assert (after.refill_method, after.value) == (RefillMethod.FLAT, 0.4)
    bare = assumed_out(replace(assumed, season=None), today)
    assert (bare.refill_method, bare.value) == (None, None)


def test_what_was_assumed_is_kept_and_told_beside_what_is_today(manager: Api, block: Block) -> None:
    row = Advice.objects.for_farm(block.farm).filter(block=block).latest("day")
    block.rain_room_mm, block.capillary_mm_day = 7.5, 0.4
    block.save()
    shown = manager.get(f"/farms/thistlewick/blocks/{block.pk}/advice/{row.pk}")
    then, today = shown["inputs"]["assumed"], shown["now_assumed"]
    assert (then["rain_room_mm"], today["rain_room_mm"]) != (7.5, 7.5)
    assert (today["rain_room_mm"], today["capillary_mm_day"]) == (7.5, 0.4)
    # A full point was adopted after the advice was given.
    assert then["soil"][:2] == today["soil"][:2]
    assert then["soil"][2] != today["soil"][2]
    same = set(then) - {"rain_room_mm", "capillary_mm_day", "soil"}
    assert {k: then[k] for k in same} == {k: today[k] for k in same}
    assert then["system"]["efficiency"] == block.efficiency
    assert then["soil"][0]["top_mm"] == 0
    assert all(a["bottom_mm"] == b["top_mm"] for a, b in pairwise(then["soil"]))
    low, expected, high = then["et0_mm"]
    assert low <= expected <= high
    assert len(then["forecast_rain_mm"]) == len(then["forecast_et0_mm"]) > 3


def test_format_4_knew_no_water_table() -> None:
    assumed = read(4, sample(4)).inputs.assumed
    assert (assumed.water_table_mm, assumed.wind_m_s, assumed.rh_min) == (None, None, None)
    assert assumed.little_and_often is None


def test_what_lies_below_and_above_is_kept(block: Block) -> None:
    loaded = load_whole(block.farm, [block], block.farm.now())
    assumed, today = loaded.inputs[block.pk].assumed, loaded.now.date()
    assert assumed.season is not None
    first = today - timedelta(days=40)
    windy = Climate.before_days(first, np.full(40, 3.456), np.full(40, 31.26))
    table = WaterTable(first, np.array([1450.0]), "as entered")
    kept_now = assumed_out(
        replace(
            assumed,
            season=replace(assumed.season, climate=windy),
            water_table=table,
            little_and_often=True,
        ),
        today,
    )
    assert (kept_now.wind_m_s, kept_now.rh_min) == (3.46, 31.3)
    assert (kept_now.water_table_mm, kept_now.little_and_often) == (1450, True)
    before = assumed_out(replace(assumed, water_table=table), first - timedelta(days=1))
    assert before.water_table_mm is None
