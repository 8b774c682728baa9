"""What went wrong on our side: recorded under a number that a person can tell the operator."""

import logging
import secrets
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import InterfaceError, OperationalError

log = logging.getLogger(__name__)

# The database gone is nothing of one farm or block: whoever loops stops, and is tried again.
NOBODYS = (OperationalError, InterfaceError)


def record_incident(what: str) -> str:
    """Log the exception under way, and give it a number."""
    number = secrets.token_hex(4)
    log.exception("incident %s: %s", number, what)
    return number


@contextmanager
def isolated(what: str) -> Iterator[None]:
    """Keep what fails inside from whatever comes after it; it is recorded."""
    try:
        yield
    except NOBODYS:
        raise
    except Exception:
        record_incident(what)
