"""Simulated maize seasons to their end; `bench finishes` runs more."""

import pytest

from core.soil.texture import TextureClass
from core.world.climates import Climate
from core.world.finish_trial import SHORT_MM, FinishedSeason, run_finishes
from core.world.layerings import measured, uniform

SOILS = uniform((TextureClass.LOAM, TextureClass.SILT_LOAM, TextureClass.CLAY_LOAM))


@pytest.fixture(scope="module")
def seasons() -> tuple[FinishedSeason, ...]:
    return tuple(
        s
        for climate in (Climate.ARID, Climate.HUMID)
        for s in run_finishes(climate, measured(SOILS), 2)
    )


def test_what_is_said_to_be_finished_does_not_run_short(
    seasons: tuple[FinishedSeason, ...],
) -> None:
    assert all(s.said_on is not None for s in seasons)
    # Nine in ten: none of six.
    assert all(s.short_mm <= SHORT_MM for s in seasons)


def test_hardly_any_irrigation_is_too_many(seasons: tuple[FinishedSeason, ...]) -> None:
    """Before the end was looked for 60 days ahead it was more than one in each season."""
    assert sum(s.too_many for s in seasons) <= 2
