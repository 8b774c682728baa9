"""The life of an instrument from its log: what state it is in, and what is due."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from core.instrument.kinds import Task


class LogKind(StrEnum):
    """Entries of the log."""

    PREPARED = "prepared"
    INSTALLED = "installed"
    SERVICED = "serviced"
    SUSPECT = "suspect"
    CLEARED = "cleared"
    REPLACED = "replaced"
    RETIRED = "retired"
    NOTE = "note"


class LifeStatus(StrEnum):
    PREPARED = "prepared"
    SETTLING = "settling"
    IN_SERVICE = "in service"
    SUSPECT = "suspect"
    RETIRED = "retired"


@dataclass(frozen=True)
class LogEntry:
    """``done`` are the tasks that were ticked; ``passed`` whether its proof reading lay where it
    should, None without one."""

    kind: LogKind
    at: datetime
    done: tuple[str, ...] = ()
    passed: bool | None = None


@dataclass(frozen=True)
class TaskDue:
    """A task, when it was last done, and when it is due next; None: not written down yet."""

    task: Task
    last: datetime | None
    due: datetime | None

    def overdue(self, now: datetime) -> bool:
        """Whether it is due by now; of one that was never written down that is not known."""
        return self.due is not None and self.due <= now


_STARTS = frozenset({LogKind.INSTALLED, LogKind.REPLACED})
_SILENT = frozenset({LifeStatus.PREPARED, LifeStatus.SUSPECT, LifeStatus.RETIRED})


def _after(entry: LogEntry, before: LifeStatus) -> LifeStatus:
    kind = entry.kind
    if kind is LogKind.SERVICED and entry.passed is False:
        return LifeStatus.SUSPECT
    if kind in (LogKind.SERVICED, LogKind.CLEARED) and before is LifeStatus.SUSPECT:
        seen_right = kind is LogKind.CLEARED or entry.passed
        return LifeStatus.IN_SERVICE if seen_right else before
    if kind in _STARTS:
        return LifeStatus.SETTLING
    if kind is LogKind.PREPARED:
        return LifeStatus.PREPARED
    if kind is LogKind.RETIRED:
        return LifeStatus.RETIRED
    if kind is LogKind.SUSPECT:
        return LifeStatus.SUSPECT
    return before


def installed_at(log: Sequence[LogEntry], now: datetime) -> datetime | None:
    """When an instrument was last put in or replaced; None where the log does not say."""
    return max((e.at for e in log if e.kind in _STARTS and e.at <= now), default=None)


def life_status(log: Sequence[LogEntry], settles_days: int, now: datetime) -> LifeStatus:
    """State of an instrument; without a log it is taken to be in service.

    A new or replaced one settles for its kind's days. Service alone does not clear a doubt: a
    person does, who has seen that it reads right, or a proof reading that passes. One that does not
    pass raises it, as where a clogged tube stands otherwise than the water around it.
    """
    status, installed = LifeStatus.IN_SERVICE, installed_at(log, now)
    for entry in sorted((e for e in log if e.at <= now), key=lambda e: e.at):
        status = _after(entry, status)
    settled = installed is None or now - installed >= timedelta(days=settles_days)
    return LifeStatus.IN_SERVICE if status is LifeStatus.SETTLING and settled else status


def silent_stretches(log: Sequence[LogEntry]) -> list[tuple[datetime, datetime | None]]:
    """Stretches whose readings are not used: prepared, suspect or retired; None: until now."""
    out: list[tuple[datetime, datetime | None]] = []
    status, since = LifeStatus.IN_SERVICE, None
    for entry in sorted(log, key=lambda e: e.at):
        status = _after(entry, status)
        if status in _SILENT and since is None:
            since = entry.at
        elif status not in _SILENT and since is not None:
            out.append((since, entry.at))
            since = None
    if since is not None:
        out.append((since, None))
    return out


def tasks_due(tasks: Sequence[Task], log: Sequence[LogEntry], now: datetime) -> list[TaskDue]:
    """Each task of a kind with its next date, the most urgent first.

    Installing or replacing does all of them; a service those that were ticked.
    """
    out = []
    for task in tasks:
        done = [
            e.at
            for e in log
            if e.at <= now
            and (e.kind in _STARTS or (e.kind is LogKind.SERVICED and task.key in e.done))
        ]
        last = max(done, default=None)
        due = None if last is None else last + timedelta(days=task.every_days)
        out.append(TaskDue(task, last, due))
    return sorted(out, key=lambda d: (d.due is None, d.due or now))
