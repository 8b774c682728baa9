"""How much is tried, and on which worker each test runs."""

import os
from collections import Counter
from pathlib import Path

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


# Made once in a file, and long in the making: seasons of simulated fields.
SHARED_SEASONS = (
    "core/test_adoption_trial.py",
    "core/test_diagnosis_truth.py",
    "core/test_events_truth.py",
)


class ByServer(LoadScopeScheduling):
    """Keeps what shares a server, a database, a set of processes or simulated seasons on one
    worker, and gives out the rest test by test."""

    def _split_scope(self, nodeid: str) -> str:
        file = nodeid.split("::", maxsplit=1)[0]
        if file.endswith(SHARED_SEASONS):
            # The seasons are a test's first parameter, where it has any.
            return file + nodeid.partition("[")[2].partition("-")[0].rstrip("]")
        return file if file.split("/")[-2] in ("browser", "faults") else nodeid


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: object) -> LoadScopeScheduling:
    # By itself it gives out the largest groups first, whatever order they are in.
    config.option.loadscopereorder = False
    return ByServer(config, log)


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """Tells what failed at once: the summary at the end is not written when a run is broken off."""
    if report.failed and "PYTEST_XDIST_WORKER" not in os.environ:
        print(f"\nfailed in {report.when}: {report.nodeid}", flush=True)


# What needs no demo runs while that is being made; then what takes longest.
TESTS = Path(__file__).parent
TURNS = ("core", "published", "faults", "browser", "server")


def _turn(item: pytest.Item) -> int:
    return TURNS.index(item.path.relative_to(TESTS).parts[0])


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """In the order of `TURNS`. Tests are given out by their names: of those that share one a
    single one would run."""
    items.sort(key=_turn)
    names = Counter(item.nodeid for item in items)
    if shared := [name for name, count in names.items() if count > 1]:
        raise pytest.UsageError(f"tests that share a name: {', '.join(shared[:5])}")
