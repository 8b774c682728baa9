"""Bad days of the ingest: killed in mid-batch, the database restarted, batches sent over and over.

What was acknowledged is there, once; what was not may be sent again.
"""

import json
import threading
import time
import urllib.error
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta

import psycopg
import pytest

from tests.faults.conftest import Cluster, Server
from tests.waiting import LONGEST_S, wait_until

START = datetime(2025, 5, 1, tzinfo=UTC)
ROWS = 1200  # readings of a batch
BATCHES = 24

SET_UP = """
from server.accounts.models import User
from server.blocks.models import Block
from server.devices.services import add_device
from server.farms.access import Access
from server.farms.models import Farm, Membership, Role
from server.instruments.models import Channel, Instrument
import uuid
name = uuid.uuid4().hex[:8]
farm = Farm(name=name, slug=name, time_zone="CET"); farm.save()
user = User.objects.create_user(f"{name}@example.org", "N")
Membership(user=user, farm=farm, role=Role.MANAGER).save()
block = Block(farm=farm, name="B", area_m2=10000, system_kind="drip", efficiency=0.9)
block.save()
probe = Instrument(block=block, label="P", kind="capacitance_probe"); probe.save()
channel = Channel(instrument=probe, quantity="theta", depth_mm=100); channel.save()
print("MADE", add_device(Access(user, farm, Role.MANAGER), "D", []).token, channel.pk)
"""


# Three more probes, each with a logger of its own.
THREE_MORE = (
    SET_UP
    + """
for k in range(3):
    probe = Instrument(block=block, label=f"P{k}", kind="capacitance_probe"); probe.save()
    channel = Channel(instrument=probe, quantity="theta", depth_mm=100); channel.save()
    made = add_device(Access(user, farm, Role.MANAGER), f"D{k}", [])
    print("MADE", made.token, channel.pk)
"""
)


@dataclass
class Logger:
    """Sends its batches until each is acknowledged, whatever happens meanwhile."""

    server: Server
    token: str
    channel: int
    every: timedelta = timedelta(minutes=15)
    acknowledged: set[int] = field(default_factory=set)
    failures: list[str] = field(default_factory=list)

    def body(self, batch: int) -> bytes:
        times = [START + self.every * (batch * ROWS + i) for i in range(ROWS)]
        values = [round(25 + (batch * 7 + i) % 11 * 0.01, 3) for i in range(ROWS)]
        series = {
            "channel": self.channel,
            "unit": "%",
            "times": [t.timestamp() for t in times],
            "values": values,
        }
        return json.dumps({"batch": f"b{batch}", "series": [series]}).encode()

    def send(self, batch: int) -> bool:
        request = urllib.request.Request(  # noqa: S310
            f"{self.server.url}/api/ingest",
            self.body(batch),
            {"Authorization": f"Bearer {self.token}", "Content-Type": "application/json"},
        )
        try:
            with urllib.request.urlopen(request, timeout=60) as answer:  # noqa: S310
                told = json.loads(answer.read())
        except OSError as error:
            self.failures.append(str(error))
            return False
        assert told["refused_count"] == 0
        self.acknowledged.add(batch)
        return True

    def send_all(self, batches: range) -> None:
        for batch in batches:
            while not self.send(batch):
                time.sleep(0.1)


def new_logger(cluster: Cluster, server: Server) -> Logger:
    """A logger of a farm of its own."""
    told = cluster.shell(SET_UP)
    _, token, channel = next(x for x in told.splitlines() if x.startswith("MADE")).split()
    return Logger(server, token, int(channel))


@pytest.fixture
def logger(cluster: Cluster, server: Server) -> Logger:
    return new_logger(cluster, server)


def stored(cluster: Cluster, channel: int) -> tuple[int, int, int]:
    """Readings, distinct moments, and revisions of a channel."""
    with psycopg.connect(host="127.0.0.1", port=cluster.port, user="furrow", dbname="furrow") as db:
        row = db.execute(
            'SELECT count(*), count(DISTINCT "time"), '
            "(SELECT count(*) FROM readings_readingrevision WHERE channel_id = %(c)s) "
            "FROM readings_reading WHERE channel_id = %(c)s",
            {"c": channel},
        ).fetchone()
        assert row is not None
        return int(row[0]), int(row[1]), int(row[2])


def whole_batches_only(cluster: Cluster, channel: int) -> bool:
    """No batch is there in part."""
    with psycopg.connect(host="127.0.0.1", port=cluster.port, user="furrow", dbname="furrow") as db:
        counts = db.execute(
            "SELECT count(*) FROM readings_reading WHERE channel_id = %s GROUP BY batch_id",
            [channel],
        ).fetchall()
        return all(c == (ROWS,) for c in counts)


def run_beside(logger: Logger) -> threading.Thread:
    thread = threading.Thread(target=logger.send_all, args=(range(BATCHES),), daemon=True)
    thread.start()
    return thread


def wait_for(logger: Logger, count: int) -> None:
    wait_until(lambda: len(logger.acknowledged) >= count, f"{count} batches", every_s=0.05)


def test_the_server_is_killed_in_mid_batch(cluster: Cluster, logger: Logger) -> None:
    sending = run_beside(logger)
    for count in (4, 10):
        wait_for(logger, count)
        time.sleep(0.03)
        logger.server.kill()
        assert whole_batches_only(cluster, logger.channel)
        rows, _, _ = stored(cluster, logger.channel)
        assert rows >= len(logger.acknowledged) * ROWS
        logger.server.start()
    sending.join(LONGEST_S)
    assert logger.failures
    assert stored(cluster, logger.channel) == (BATCHES * ROWS, BATCHES * ROWS, 0)


def test_the_database_restarts_meanwhile(cluster: Cluster, logger: Logger) -> None:
    sending = run_beside(logger)
    # As when the power goes: no checkpoint, no farewell to those connected.
    for count, how in ((4, "immediate"), (10, "fast")):
        wait_for(logger, count)
        cluster.stop(how)
        time.sleep(0.3)
        cluster.start()
        rows, _, _ = stored(cluster, logger.channel)
        assert rows >= len(logger.acknowledged) * ROWS
        assert whole_batches_only(cluster, logger.channel)
    sending.join(LONGEST_S)
    assert not sending.is_alive()
    assert stored(cluster, logger.channel) == (BATCHES * ROWS, BATCHES * ROWS, 0)


def test_the_same_batches_from_four_at_once(cluster: Cluster, logger: Logger) -> None:
    """Each three times and more, in different orders, interleaved with the others."""
    orders = [range(8), range(7, -1, -1), range(8), range(7, -1, -1)]
    threads = [
        threading.Thread(target=logger.send_all, args=(order,), daemon=True) for order in orders
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(120)
    assert logger.failures == []
    assert stored(cluster, logger.channel) == (8 * ROWS, 8 * ROWS, 0)


def test_four_loggers_open_new_months_at_once(cluster: Cluster, server: Server) -> None:
    """Each month is made once, by whoever comes first, and nobody waits for somebody who waits."""
    told = cluster.shell(THREE_MORE)
    made = [x.split()[1:] for x in told.splitlines() if x.startswith("MADE")]
    # A batch spans a month and some days more: 1200 rows of 37 minutes.
    loggers = [
        Logger(server, token, int(channel), timedelta(minutes=-37)) for token, channel in made
    ]
    batches = range(1, 13)
    threads = [
        threading.Thread(target=logger.send_all, args=(order,), daemon=True)
        for logger, order in zip(loggers, [batches, batches[::-1]] * 2, strict=True)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(LONGEST_S)
    assert [logger.failures for logger in loggers] == [[], [], [], []]
    for logger in loggers:
        assert stored(cluster, logger.channel) == (12 * ROWS, 12 * ROWS, 0)


def ask(logger: Logger, path: str = "/api/ingest/clock") -> tuple[int, int]:
    """Status of an answer, and after how many seconds one may come again."""
    request = urllib.request.Request(  # noqa: S310
        f"{logger.server.url}{path}", headers={"Authorization": f"Bearer {logger.token}"}
    )
    try:
        with urllib.request.urlopen(request, timeout=60) as answer:  # noqa: S310
            return answer.status, 0
    except urllib.error.HTTPError as error:
        return error.code, int(error.headers["Retry-After"] or 0)


def test_without_a_database_everybody_is_told_to_come_again(
    cluster: Cluster, logger: Logger
) -> None:
    assert logger.send(0)
    with ThreadPoolExecutor(8) as together:
        # Every thread has a connection; each of them dies.
        assert set(together.map(lambda _: ask(logger), range(16))) == {(200, 0)}
        cluster.stop("fast")
        try:
            began = time.monotonic()
            answers = list(together.map(lambda _: ask(logger), range(8)))
            assert {a[0] for a in answers} == {503}
            assert all(after > 0 for _, after in answers)
            assert not logger.send(1)
            assert "503" in logger.failures[-1]
            assert ask(logger, "/healthz")[0] == 503
            # The page itself needs none.
            assert ask(logger, "/")[0] in (200, 503)
            assert time.monotonic() - began < LONGEST_S
        finally:
            cluster.start()
        # Connections that died in the pool are replaced before anybody is given one.
        wait_until(lambda: ask(logger, "/healthz")[0] == 200, "the database to be found again")
        answers = list(together.map(lambda _: ask(logger), range(32)))
        assert {a[0] for a in answers} == {200}
    assert logger.send(1)
    assert stored(cluster, logger.channel) == (2 * ROWS, 2 * ROWS, 0)
