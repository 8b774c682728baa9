"""Answers that changed mean another version of the rules."""

import json

import pytest

from core.advice.version import RULES_VERSION
from tests.core.golden import CASES, FILE, answers

# Processors round differently, and a filter passes that on: millimetres, days.
CLOSE = {"rel": 0.02, "abs": 0.3}


def test_the_same_blocks_get_the_same_answers_under_the_same_version() -> None:
    kept = json.loads(FILE.read_text())
    assert kept["version"] == RULES_VERSION, "write the answers of the new rules: tests.core.golden"
    found = answers()
    assert len(kept["answers"]) == len(found) == CASES
    for number, (was, now) in enumerate(zip(kept["answers"], found, strict=True)):
        assert now["state"] == was["state"], number
        for name in ("deficit_mm", "sigma_mm", "raw_mm", "days_left", "net_mm"):
            expected = was[name]
            if expected is not None:
                expected = pytest.approx(expected, **CLOSE)
            assert now[name] == expected, (number, name, "raise RULES_VERSION")


def test_the_drawn_blocks_are_not_all_alike() -> None:
    states = {a["state"] for a in json.loads(FILE.read_text())["answers"]}
    assert len(states) >= 3
