"""Simulated maize seasons to their end; `bench finishes` runs more."""

from core.world.finish_trial import SHORT_MM, run_finishes


def test_what_is_said_to_be_finished_runs_short_no_more_often_than_the_chance_says() -> None:
    seasons = run_finishes(range(10))
    assert all(s.said_on is not None for s in seasons)
    # Nine in ten.
    assert sum(s.short_mm > SHORT_MM for s in seasons) <= 1
