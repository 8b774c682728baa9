"""Wrong passwords make the next try wait, longer each time: by person and by address.

Nobody is shut out: whoever waits may try. On a device where a person has signed in before only the
wrong passwords typed there count.
"""

import hashlib
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import ceil

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from core.sentence import sentence
from server.accounts.models import SignInTries
from server.base.errors import RequestError, TryLater
from server.base.retrying import retried


@dataclass(frozen=True)
class Rule:
    """How many wrong passwords pass freely, and how the wait grows [s] after them.

    Each further one doubles it. All are forgotten when there was none for a while.
    """

    free: int
    longest_s: float
    forgotten: timedelta

    def wait_s(self, failures: int) -> float:
        """How long after the last of so many the next try may come."""
        beyond = failures - self.free
        return 0.0 if beyond < 0 else min(self.longest_s, 2.0 ** min(beyond, 20))


# A person mistypes a few times; an office of many people stands behind one address.
PERSON = Rule(free=5, longest_s=900.0, forgotten=timedelta(days=1))
ADDRESS = Rule(free=20, longest_s=60.0, forgotten=timedelta(hours=1))
DEVICE = Rule(free=10, longest_s=300.0, forgotten=timedelta(days=1))


class TooManyTries(TryLater):
    """The next try comes too soon; it was not looked at."""

    status = 429

    def __init__(self, seconds: int) -> None:
        minutes = ceil(seconds / 60)
        super().__init__(
            sentence("Too many wrong passwords. Try again in {seconds} s.", seconds=seconds)
            if seconds < 120
            else sentence(
                "Too many wrong passwords. Try again in {minutes} minutes.", minutes=minutes
            ),
            seconds,
        )


@contextmanager
def counted(email: str, address: str, device: str | None) -> Iterator[None]:
    """A try to sign in: what is refused inside counts as a wrong password.

    Raises
    ------
    TooManyTries
        Before anything is looked at.
    """
    keys = {_key("device", device): DEVICE}
    if device is None:
        keys = {_key("person", email): PERSON, _key("address", address): ADDRESS}
    # Counted before it is looked at: a hundred at once are a hundred, not one.
    _count(keys, timezone.now())
    try:
        yield
    except RequestError:
        raise
    except BaseException:
        _take_back(list(keys))
        raise
    _take_back([k for k in keys if k.startswith("address")])
    SignInTries.objects.filter(key__in=[k for k in keys if not k.startswith("address")]).delete()


def _key(kind: str, of: str | None) -> str:
    # Names of strangers are nobody's business, and may be of any length.
    return f"{kind}:{hashlib.sha256(str(of).encode('utf-8', 'replace')).hexdigest()[:32]}"


@retried
def _count(keys: dict[str, Rule], now: datetime) -> None:
    SignInTries.objects.bulk_create(
        [SignInTries(key=key, failures=0, last_at=now) for key in keys], ignore_conflicts=True
    )
    rows = list(SignInTries.objects.select_for_update().filter(key__in=keys).order_by("key"))
    for row in rows:
        if now - row.last_at > keys[row.key].forgotten:
            row.failures = 0
    wait = max(
        keys[r.key].wait_s(r.failures) - (now - r.last_at).total_seconds() if r.failures else 0.0
        for r in rows
    )
    if wait > 0:
        raise TooManyTries(ceil(wait))
    for row in rows:
        row.failures, row.last_at = row.failures + 1, now
        row.save(update_fields=["failures", "last_at"])


@transaction.atomic
def _take_back(keys: list[str]) -> None:
    SignInTries.objects.filter(key__in=keys, failures__gt=0).update(failures=F("failures") - 1)


def drop_forgotten_tries() -> int:
    """Remove counts that no longer say anything; how many."""
    before = timezone.now() - max(PERSON.forgotten, ADDRESS.forgotten, DEVICE.forgotten)
    return SignInTries.objects.filter(last_at__lt=before).delete()[0]
