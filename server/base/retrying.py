"""A transaction that lost against another is run again: two at once are nobody's fault."""

import random
import time
from collections.abc import Callable
from functools import wraps
from typing import ParamSpec, TypeVar

from django.db import OperationalError, connection, transaction

P = ParamSpec("P")
R = TypeVar("R")

# PostgreSQL's serialization_failure, deadlock_detected and lock_not_available.
LOST = frozenset({"40001", "40P01", "55P03"})
TIMES = 6
# The first pause [s]; each further one is twice as long, and a part of it by chance.
PAUSE_S = 0.05


def has_lost(error: OperationalError) -> bool:
    """Whether the database ended a transaction in favour of another."""
    return getattr(error.__cause__, "sqlstate", None) in LOST


def pause(lost: int) -> None:
    """Wait before a transaction is run for the next time."""
    time.sleep(PAUSE_S * 2**lost * random.uniform(0.5, 1.0))  # noqa: S311 - no secret


def retried(action: Callable[P, R]) -> Callable[P, R]:
    """Run an action in a transaction, and again when that lost against another.

    The action must not leave anything behind but in the database. Within a transaction it is
    part of that, and what runs again is the whole.
    """

    @wraps(action)
    def run(*args: P.args, **kwargs: P.kwargs) -> R:
        tries = 1 if connection.in_atomic_block else TIMES
        for lost in range(tries - 1):
            try:
                with transaction.atomic():
                    return action(*args, **kwargs)
            except OperationalError as error:
                if not has_lost(error):
                    raise
            pause(lost)
        with transaction.atomic():
            return action(*args, **kwargs)

    return run
