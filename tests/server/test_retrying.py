"""A transaction that lost against another is run again; what failed for another reason is not."""

from collections.abc import Callable, Iterator
from typing import Any

import psycopg
import pytest
from django.db import OperationalError, connection, transaction

from server.base import retrying
from server.base.retrying import TIMES, retried


@pytest.fixture
def naps(
    monkeypatch: pytest.MonkeyPatch, django_db_setup: None, django_db_blocker: Any
) -> Iterator[list[int]]:
    """Which pauses were made, none taking any time; in no transaction, and nothing is written."""
    made: list[int] = []
    monkeypatch.setattr(retrying, "pause", made.append)
    with django_db_blocker.unblock():
        yield made
        connection.close()


def losing(times: int, reason: type[psycopg.Error]) -> Callable[[], int]:
    """An action that loses as often before it comes through."""
    calls = 0

    def action() -> int:
        nonlocal calls
        calls += 1
        if calls <= times:
            raise OperationalError from reason()
        return calls

    return action


LOST = [
    psycopg.errors.DeadlockDetected,
    psycopg.errors.SerializationFailure,
    psycopg.errors.LockNotAvailable,
]


@pytest.mark.parametrize("reason", LOST)
def test_what_lost_is_run_again(naps: list[int], reason: type[psycopg.Error]) -> None:
    assert retried(losing(0, reason))() == 1
    assert naps == []
    assert retried(losing(3, reason))() == 4
    assert naps == [0, 1, 2]


def test_it_is_not_run_for_ever(naps: list[int]) -> None:
    assert retried(losing(TIMES - 1, LOST[0]))() == TIMES
    with pytest.raises(OperationalError):
        retried(losing(TIMES, LOST[0]))()


def test_what_failed_otherwise_is_not_run_again(naps: list[int]) -> None:
    with pytest.raises(OperationalError):
        retried(losing(1, psycopg.errors.AdminShutdown))()
    assert naps == []


def test_within_a_transaction_the_whole_is_run_again(naps: list[int]) -> None:
    inner = retried(losing(1, LOST[0]))
    with pytest.raises(OperationalError), transaction.atomic():
        inner()
    assert naps == []
    assert retried(retried(losing(1, LOST[0])))() == 2
    assert naps == [0]


def test_pauses_grow_and_differ() -> None:
    slept: list[float] = []
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(retrying.time, "sleep", slept.append)
        for lost in (0, 0, 4):
            retrying.pause(lost)
    assert slept[0] != slept[1]
    assert 0.025 <= slept[0] <= 0.05
    assert 0.4 <= slept[2] <= 0.8
