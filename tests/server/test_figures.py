"""Figures in mail and PDF read as they do on screen: the interface is held to the same samples."""

import json
from datetime import UTC, datetime
from pathlib import Path

import pytest

from server.base.figures import Figures

SAMPLES = json.loads(Path(__file__).parents[1].joinpath("figures.json").read_text("utf-8"))


@pytest.mark.parametrize(("value", "measure", "metric", "us"), SAMPLES)
def test_a_figure_in_both_systems_of_units(
    value: float, measure: str, metric: str, us: str
) -> None:
    assert Figures("metric").with_unit(value, measure) == metric  # type: ignore[arg-type]
    assert Figures("us").with_unit(value, measure) == us  # type: ignore[arg-type]


def test_water_is_as_short_as_on_the_board() -> None:
    assert (Figures("metric").water(31.4), Figures("us").water(31.4)) == ("31 mm", "1.24 in")


@pytest.mark.parametrize(
    ("hours", "text"), [(0.75, "45 min"), (7.0, "7 h"), (7 + 1 / 3, "7 h 20"), (1.999, "2 h")]
)
def test_a_running_time_reads_as_a_clock(hours: float, text: str) -> None:
    assert Figures("us").running_time(hours) == text


def test_what_is_not_known_is_no_zero() -> None:
    shown = Figures("metric")
    for value in (None, float("nan"), float("inf")):
        assert shown.with_unit(value, "water") == shown.running_time(value) == "–"
    assert shown.moment(None, "UTC") == "–"


def test_a_moment_is_told_by_the_farms_clock() -> None:
    at = datetime(2026, 7, 14, 4, 10, tzinfo=UTC)
    assert Figures("metric").moment(at, "CET") == "Tue 14 July 06:10"
