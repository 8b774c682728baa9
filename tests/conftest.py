"""How much is tried, and on which worker each test runs."""

import os

import pytest
from hypothesis import HealthCheck, settings
from xdist.scheduler import LoadScopeScheduling

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


class ByServer(LoadScopeScheduling):
    """Keeps what shares a server on one worker, and gives out the rest test by test."""

    def _split_scope(self, nodeid: str) -> str:
        folder = nodeid.split("/")[-2] if "/" in nodeid else ""
        return folder if folder in TOGETHER else nodeid


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: object) -> LoadScopeScheduling:
    return ByServer(config, log)


# These need no database: they run while it is being made.
ALONE = ("core", "published")


def _turn(item: pytest.Item) -> int:
    folder = item.path.parent.name
    if folder in ALONE:
        return 0
    # Then what takes longest and can't be split.
    return 1 if folder in TOGETHER else 2


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """First what needs no database, then what one worker does in one go."""
    items.sort(key=_turn)
