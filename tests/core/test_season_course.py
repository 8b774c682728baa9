"""A season of a block day by day."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.season_course import season_course
from tests.core.blocks import NOW, lived


def test_from_planting_to_yesterday() -> None:
    """Thirty days of record; the crop was planted twelve days ago."""
    of = lived()
    season = of.assumed.season
    assert season is not None
    planted = replace(season, planted_on=NOW.date() - timedelta(days=12), seen=())
    course = season_course(replace(of, assumed=replace(of.assumed, season=planted)))
    assert course is not None
    assert course.first == NOW.date() - timedelta(days=12)
    assert {getattr(course, name).size for name in vars(course) if name != "first"} == {12}


def test_it_goes_by_the_same_balance_as_the_answer() -> None:
    """The last day's figures are those of the working's newest rows; below refill is more gone
    than may be used."""
    of = lived()
    course = season_course(of)
    assert course is not None
    rows = assess(of).balance
    assert course.used_mm[-1] == pytest.approx(rows[-1].et_mm, abs=1e-6)
    known = ~np.isnan(course.depletion_mm)
    assert known.any()
    assert (course.below_refill[known] == (course.depletion_mm > course.raw_mm)[known]).all()
    assert not course.below_refill[~known].any()


def test_nothing_without_a_crop_or_before_planting() -> None:
    of = lived()
    assert season_course(replace(of, assumed=replace(of.assumed, season=None))) is None
    season = of.assumed.season
    assert season is not None
    ahead = replace(season, planted_on=NOW.date() + timedelta(days=3), seen=())
    assert season_course(replace(of, assumed=replace(of.assumed, season=ahead))) is None
