"""The life of an instrument by its log."""

from datetime import UTC, datetime, timedelta

import pytest

from core.instrument.cautions import cautions
from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.life import (
    LifeStatus,
    LogEntry,
    LogKind,
    life_status,
    silent_stretches,
    tasks_due,
)

NOW = datetime(2026, 7, 14, 6, tzinfo=UTC)
TENSIOMETER = kinds()[InstrumentKind.TENSIOMETER]


def ago(days: float) -> datetime:
    return NOW - timedelta(days=days)


@pytest.mark.parametrize(
    "log, expected",
    [
        ((), LifeStatus.IN_SERVICE),
        (((LogKind.PREPARED, 3),), LifeStatus.PREPARED),
        (((LogKind.PREPARED, 30), (LogKind.INSTALLED, 10)), LifeStatus.SETTLING),
        (((LogKind.INSTALLED, 20),), LifeStatus.IN_SERVICE),
        (((LogKind.INSTALLED, 60), (LogKind.SUSPECT, 2)), LifeStatus.SUSPECT),
        # Service alone does not clear a doubt.
        (
            ((LogKind.INSTALLED, 60), (LogKind.SUSPECT, 2), (LogKind.SERVICED, 1)),
            LifeStatus.SUSPECT,
        ),
        (
            ((LogKind.INSTALLED, 60), (LogKind.SUSPECT, 2), (LogKind.CLEARED, 1)),
            LifeStatus.IN_SERVICE,
        ),
        (((LogKind.INSTALLED, 60), (LogKind.REPLACED, 5)), LifeStatus.SETTLING),
        (((LogKind.INSTALLED, 60), (LogKind.RETIRED, 5)), LifeStatus.RETIRED),
        # What is written for later has not happened yet.
        (((LogKind.INSTALLED, 60), (LogKind.RETIRED, -5)), LifeStatus.IN_SERVICE),
    ],
)
def test_status(log: tuple[tuple[LogKind, float], ...], expected: LifeStatus) -> None:
    entries = [LogEntry(kind, ago(days)) for kind, days in log]
    assert life_status(entries, 18, NOW) is expected
    assert life_status(entries[::-1], 18, NOW) is expected


def test_stretches_that_are_not_heard() -> None:
    log = [
        LogEntry(LogKind.PREPARED, ago(90)),
        LogEntry(LogKind.INSTALLED, ago(80)),
        LogEntry(LogKind.SUSPECT, ago(40)),
        LogEntry(LogKind.SERVICED, ago(39)),
        LogEntry(LogKind.CLEARED, ago(30)),
        LogEntry(LogKind.RETIRED, ago(3)),
    ]
    assert silent_stretches(log) == [(ago(90), ago(80)), (ago(40), ago(30)), (ago(3), None)]
    assert silent_stretches([]) == []


def test_a_proof_reading_raises_a_doubt_and_clears_it() -> None:
    """A tube that stands otherwise than the water around it is clogged until it stands alike."""
    log = [
        LogEntry(LogKind.INSTALLED, ago(60)),
        LogEntry(LogKind.SERVICED, ago(40), passed=True),
        LogEntry(LogKind.SERVICED, ago(9), passed=False),
        LogEntry(LogKind.SERVICED, ago(8), ("clean",)),
        LogEntry(LogKind.SERVICED, ago(7), ("clean",), passed=True),
    ]
    assert life_status(log[:2], 18, NOW) is LifeStatus.IN_SERVICE
    # A service without one says nothing.
    serviced = [log[0], LogEntry(LogKind.SERVICED, ago(9), ("clean",))]
    assert life_status(serviced, 18, NOW) is LifeStatus.IN_SERVICE
    assert life_status(log[:3], 18, NOW) is LifeStatus.SUSPECT
    assert life_status(log[:4], 18, NOW) is LifeStatus.SUSPECT
    assert life_status(log, 18, NOW) is LifeStatus.IN_SERVICE
    assert silent_stretches(log) == [(ago(9), ago(7))]


def test_what_is_due() -> None:
    log = [
        LogEntry(LogKind.INSTALLED, ago(40)),
        LogEntry(LogKind.SERVICED, ago(5), ("refill",)),
    ]
    due = tasks_due(TENSIOMETER.tasks, log, NOW)
    # The stopper was last new at the installing, 40 days ago; it holds for 30.
    assert [(d.task.key, d.overdue(NOW)) for d in due] == [("stopper", True), ("refill", False)]
    assert due[1].due == ago(-2)
    never = tasks_due(TENSIOMETER.tasks, [], NOW)
    assert all(d.last is None and d.due is None and not d.overdue(NOW) for d in never)


def test_every_caution_is_there() -> None:
    named = {c for facts in kinds().values() for c in facts.cautions}
    assert named <= set(cautions())
    assert "kill" in cautions()["pressure"].title
