"""How much is tried, and on which worker each test runs."""

import os

import pytest
from hypothesis import HealthCheck, settings

# Machines differ in speed, so nothing has a deadline. In the test command every run tries the
# same few examples; `./furrow bench` tries many, and other ones each time.
_ALWAYS = {
    "deadline": None,
    "suppress_health_check": [HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
}
settings.register_profile("few", max_examples=25, derandomize=True, database=None, **_ALWAYS)
settings.register_profile("many", max_examples=300, print_blob=True, **_ALWAYS)
settings.load_profile(os.environ.get("FURROW_EXAMPLES", "few"))

# Each of these has one server, one database or one set of processes for all of its tests.
TOGETHER = ("browser", "faults")


@pytest.hookimpl(tryfirst=True)  # before the workers note the groups
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Keep what shares a server on one worker, and begin with it: it takes longest."""
    first: list[pytest.Item] = []
    rest: list[pytest.Item] = []
    for item in items:
        folder = item.path.parent.name
        if folder in TOGETHER:
            item.add_marker(pytest.mark.xdist_group(folder))
        (first if folder in TOGETHER else rest).append(item)
    items[:] = first + rest
