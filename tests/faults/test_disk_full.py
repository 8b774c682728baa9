"""The database's disk full: everybody is told so, and when there is room again all goes on."""

import os
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import pytest

from tests.faults.conftest import Cluster, Server, new_cluster
from tests.faults.test_ingest_faults import ROWS, Logger, new_logger, stored, whole_batches_only
from tests.waiting import wait_until

# A cluster with the application's tables takes about 90 MB.
DISK_MB = 220
LEFT_KB = 200


@pytest.fixture(scope="module")
def small_disk() -> Iterator[Path]:
    """A disk of its own, in memory."""
    base = Path(tempfile.mkdtemp(prefix="furrow-disk-"))
    mount = ["mount", "-t", "tmpfs", "-o", f"size={DISK_MB}m", "furrow", str(base)]
    if os.getuid() != 0 or subprocess.run(mount, check=False, capture_output=True).returncode:
        base.rmdir()
        pytest.skip("a disk can't be mounted here: that takes root")
    try:
        yield base
    finally:
        subprocess.run(["umount", "-l", str(base)], check=True)
        base.rmdir()


@pytest.fixture(scope="module")
def cluster(small_disk: Path, migrated: Cluster) -> Iterator[Cluster]:
    """A database on that disk, which is not written far ahead."""
    with new_cluster(small_disk, migrated, "-c max_wal_size=48MB -c min_wal_size=32MB") as made:
        yield made


@pytest.fixture
def logger(cluster: Cluster) -> Iterator[Logger]:
    server = Server(cluster)
    server.start()
    yield new_logger(cluster, server)
    server.kill()


def fill(disk: Path) -> None:
    """Leave next to nothing of a disk."""
    free = shutil.disk_usage(disk).free - LEFT_KB * 1024
    with (disk / "filler").open("ab") as file:
        for _ in range(free // 65536):
            file.write(bytes(65536))


def test_a_full_disk(small_disk: Path, cluster: Cluster, logger: Logger) -> None:
    assert logger.send(0)
    fill(small_disk)
    sent = 0
    # There may be room in files that are there already, and the database gives some up.
    while logger.send(sent + 1):
        fill(small_disk)
        sent += 1
        assert sent < 200
    assert "503" in logger.failures[-1]
    acknowledged = len(logger.acknowledged)
    (small_disk / "filler").unlink()
    with suppress(subprocess.CalledProcessError):
        # As the keeper of processes does, where the database gave up.
        cluster.start()
    wait_until(lambda: logger.send(sent + 1), "the database to take readings again")
    assert len(logger.acknowledged) == acknowledged + 1
    rows = len(logger.acknowledged) * ROWS
    assert stored(cluster, logger.channel) == (rows, rows, 0)
    assert whole_batches_only(cluster, logger.channel)
