"""A database cluster and a server of the tests' own, to be killed and restarted at will."""

import os
import shutil
import subprocess
import tempfile
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import psycopg
import pytest

from bench.service import free_port
from tests.faults.forked import Forked, Forker
from tests.waiting import LONGEST_S, wait_until

# Sessions that wait for what another holds.
WAITING = "SELECT count(*) FROM pg_stat_activity WHERE wait_event_type = 'Lock'"
PG_BIN = Path("/usr/lib/postgresql/15/bin")


@dataclass
class Cluster:
    """PostgreSQL with its usual safety on: what is committed must survive."""

    data: Path
    forker: Forker
    options: str = ""
    port: int = field(default_factory=free_port)

    def run(self, *command: str) -> None:
        as_postgres = ["runuser", "-u", "postgres", "--"] if os.getuid() == 0 else []
        subprocess.run(
            [*as_postgres, *command],
            cwd="/",
            check=True,
            stdout=subprocess.DEVNULL,
            timeout=LONGEST_S,
        )

    def own(self, base: Path) -> None:
        """PostgreSQL never runs as root."""
        if os.getuid() == 0:
            for path in (base, *base.rglob("*")):
                shutil.chown(path, "postgres", "postgres")

    def start(self) -> None:
        options = (
            f"-c listen_addresses=127.0.0.1 -c port={self.port} -c unix_socket_directories='' "
            f"{self.options}"
        )
        log = str(self.data / "server.log")
        self.run(
            str(PG_BIN / "pg_ctl"), "-D", str(self.data), "-w", "-l", log, "-o", options, "start"
        )

    def stop(self, how: str) -> None:
        self.run(str(PG_BIN / "pg_ctl"), "-D", str(self.data), "-w", "-m", how, "stop")

    @property
    def environment(self) -> dict[str, str]:
        return {
            **os.environ,
            "FURROW_DB_HOST": "127.0.0.1",
            "FURROW_DB_PORT": str(self.port),
            "FURROW_DB_USER": "furrow",
            "FURROW_DB_PASSWORD": "",
            "FURROW_DB_NAME": "furrow",
        }

    def connect(self) -> "psycopg.Connection[Any]":
        return psycopg.connect(host="127.0.0.1", port=self.port, user="furrow", dbname="furrow")

    def ask(self, query: str, *values: object) -> Any:
        """The one row that a query finds."""
        with self.connect() as connection:
            row = connection.execute(query, values).fetchone()
        assert row is not None
        return row

    def manage(self, *arguments: str) -> str:
        """What one of the application's commands writes."""
        with tempfile.NamedTemporaryFile("r") as out:
            done = self.forker.start(["manage.py", *arguments], self.environment, Path(out.name))
            code, told = done.wait(), out.read()
        assert code == 0, told[-2000:]
        return told

    def shell(self, script: str) -> str:
        """What some lines of Python write that run inside the application."""
        return self.manage("shell", "-v0", "-c", script)


@contextmanager
def new_cluster(base: Path, migrated: Cluster, options: str = "") -> Iterator[Cluster]:
    """A cluster in a folder, from files of a migrated one, running until the block is left."""
    data = base / "data"
    shutil.copytree(migrated.data, data)
    made = Cluster(data, migrated.forker, options)
    made.own(base)
    try:
        made.start()
        made.forker.guard(data)
        yield made
    finally:
        made.stop("immediate")
        made.forker.guard(data, on=False)


@pytest.fixture(scope="session")
def forker() -> Iterator[Forker]:
    made = Forker()
    yield made
    made.stop()


@pytest.fixture(scope="session")
def migrated(forker: Forker) -> Iterator[Cluster]:
    """Stopped, with what the migrations make and nothing else: its files are to be copied."""
    base = Path(tempfile.mkdtemp(prefix="furrow-migrated-"))
    made = Cluster(base / "data", forker, "-c fsync=off")
    made.own(base)
    try:
        made.run(
            str(PG_BIN / "initdb"),
            *("-D", str(made.data), "-U", "furrow", "-A", "trust", "-E", "UTF8"),
            *("--locale=C.UTF-8", "--no-sync"),
        )
        made.start()
        where = ("-h", "127.0.0.1", "-p", str(made.port), "-U", "furrow")
        made.run(str(PG_BIN / "createdb"), *where, "furrow")
        made.manage("migrate", "-v0")
        made.stop("fast")
        yield made
    finally:
        shutil.rmtree(base, ignore_errors=True)


@pytest.fixture(scope="session")
def cluster(migrated: Cluster) -> Iterator[Cluster]:
    base = Path(tempfile.mkdtemp(prefix="furrow-faults-"))
    try:
        with new_cluster(base, migrated) as made:
            yield made
    finally:
        shutil.rmtree(base, ignore_errors=True)


@dataclass
class Server:
    """The application behind its real server; ``more`` is what its environment has besides."""

    cluster: Cluster
    more: dict[str, str] = field(default_factory=dict)
    port: int = field(default_factory=free_port)
    process: Forked | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.process = self.cluster.forker.start(
            [
                *("gunicorn", "server.wsgi", "--bind", f"127.0.0.1:{self.port}", "--threads", "4"),
                *("--log-level", "critical", "--no-control-socket"),
            ],
            {**self.cluster.environment, **self.more},
        )
        wait_until(self._answers, "the server to answer")

    def _answers(self) -> bool:
        try:
            urllib.request.urlopen(f"{self.url}/api/session", timeout=5)  # noqa: S310
        except OSError:
            return False
        return True

    def kill(self) -> None:
        """No farewell: as when the power goes."""
        if self.process is not None:
            self.process.kill()
            self.process = None


@pytest.fixture
def server(cluster: Cluster) -> Iterator[Server]:
    made = Server(cluster)
    made.start()
    yield made
    made.kill()
