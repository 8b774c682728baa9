"""A process that is kept comes back when it is killed, and goes when its keeper is told to."""

import os
import signal
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.waiting import LONGEST_S, wait_until

ROOT = Path(__file__).resolve().parents[2]
# Tells its process number, then waits for ever.
KEPT = 'echo "pid $BASHPID"; exec sleep infinity'


def lives(pid: int) -> bool:
    """Whether the process is there, and not merely uncollected."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except FileNotFoundError:
        return False


def told(log: Path) -> list[int]:
    lines = log.read_text().splitlines() if log.exists() else []
    return [int(line.split()[1]) for line in lines if line.startswith("pid ")]


@pytest.fixture
def log(tmp_path: Path) -> Path:
    return tmp_path / "kept.log"


# On a busy machine any time can pass between two commands of the keeper.
BUSY = 'set -T; trap "sleep 0.1" DEBUG;'


@pytest.fixture(params=["", BUSY], ids=["idle", "busy"])
def keeper(request: pytest.FixtureRequest, log: Path) -> Iterator[subprocess.Popen[bytes]]:
    keep = f"keep '{log}' bash -c '{KEPT}'"
    script = f"set -euo pipefail; . scripts/supervise.sh; {request.param} {keep}"
    with subprocess.Popen(["bash", "-c", script], cwd=ROOT) as process:
        try:
            yield process
            process.terminate()
            process.wait(LONGEST_S)
        finally:
            process.kill()
            for pid in told(log):
                if lives(pid):
                    os.kill(pid, signal.SIGKILL)


def test_what_is_killed_is_started_again(keeper: subprocess.Popen[bytes], log: Path) -> None:
    for times in (1, 2):
        wait_until(lambda times=times: len(told(log)) == times, f"start {times}")
        os.kill(told(log)[-1], signal.SIGKILL)
    wait_until(lambda: len(told(log)) == 3, "the third start")
    assert log.read_text().count("ended, started again: bash -c") == 2
    assert len(set(told(log))) == 3


def test_it_ends_with_its_keeper(keeper: subprocess.Popen[bytes], log: Path) -> None:
    wait_until(lambda: bool(told(log)), "the first start")
    [pid] = told(log)
    keeper.terminate()
    assert keeper.wait(LONGEST_S) == 0
    assert not lives(pid)
    assert told(log) == [pid]
