"""The network between web and database cut, or dead: nothing acknowledged is lost or doubled."""

import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor

import pytest

from tests.faults.conftest import Cluster, Server
from tests.faults.test_ingest_faults import (
    BATCHES,
    ROWS,
    SET_UP,
    Logger,
    ask,
    run_beside,
    stored,
    wait_for,
    whole_batches_only,
)
from tests.faults.wire import Wire
from tests.waiting import LONGEST_S, wait_until

# What the issue of a cut or dead network may cost once it is over.
BACK_S = 30.0


@pytest.fixture
def wire(cluster: Cluster) -> Iterator[Wire]:
    wire = Wire(cluster.port)
    wire.start()
    yield wire
    wire.stop()


@pytest.fixture
def logger(cluster: Cluster, wire: Wire) -> Iterator[Logger]:
    told = cluster.shell(SET_UP)
    _, token, channel = next(x for x in told.splitlines() if x.startswith("MADE")).split()
    server = Server(cluster, more={"FURROW_DB_PORT": str(wire.port)})
    server.start()
    yield Logger(server, token, int(channel))
    server.kill()


def test_the_network_is_cut_again_and_again(cluster: Cluster, wire: Wire, logger: Logger) -> None:
    """In the middle of batches, before and after they are committed, wherever it happens."""
    sending = run_beside(logger)
    for count in (3, 8, 14):
        wait_for(logger, count)
        for pause in (0.0, 0.05, 0.1):
            time.sleep(pause)
            wire.cut()
            # However slow the machine is: the first cut lasts until it was felt.
            wait_until(lambda: bool(logger.failures), "a batch to fail")
            assert whole_batches_only(cluster, logger.channel)
            wire.mend()
    sending.join(LONGEST_S)
    assert not sending.is_alive()
    assert logger.failures
    assert stored(cluster, logger.channel) == (BATCHES * ROWS, BATCHES * ROWS, 0)


def test_without_a_way_to_the_database_everybody_is_told(wire: Wire, logger: Logger) -> None:
    assert logger.send(0)
    wire.cut()
    with ThreadPoolExecutor(8) as together:
        answers = list(together.map(lambda _: ask(logger), range(8)))
    assert {status for status, _ in answers} == {503}
    assert all(after > 0 for _, after in answers)
    wire.mend()
    began = time.monotonic()
    wait_until(lambda: ask(logger, "/healthz")[0] == 200, "the database to be found again")
    assert logger.send(1)
    assert time.monotonic() - began < BACK_S


def test_a_dead_network_holds_nobody_once_it_lives(
    cluster: Cluster, wire: Wire, logger: Logger
) -> None:
    assert logger.send(0)
    with ThreadPoolExecutor(8) as together:
        wire.freeze()
        answers = [together.submit(ask, logger) for _ in range(8)]
        time.sleep(2)
        began = time.monotonic()
        wire.mend()
        assert {a.result(LONGEST_S)[0] for a in answers} <= {200, 503}
        assert time.monotonic() - began < BACK_S
    assert logger.send(1)
    assert stored(cluster, logger.channel) == (2 * ROWS, 2 * ROWS, 0)
