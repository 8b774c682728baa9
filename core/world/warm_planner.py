"""Compiles the planner's loops once, so that no request has to wait for it."""

from core.plan.make_plan import make_plan
from core.world.plan_farms import drawn_farm


def warm() -> None:
    """Plan for a small farm, by the search."""
    make_plan(*drawn_farm(6, 2, 1.0, 0, members=2), looks=1_000)


if __name__ == "__main__":
    warm()
