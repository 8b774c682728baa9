"""A stranger's bytes in a library's hands: whatever it stumbles over there is a broken file."""

import logging
from collections.abc import Iterator
from contextlib import contextmanager

from core.sentence import Sentence
from server.base.errors import RequestError

log = logging.getLogger(__name__)


@contextmanager
def refuse_broken(message: Sentence) -> Iterator[None]:
    """Turn what a library raises into a refusal; inside stands the library's work alone.

    Libraries that read files fail in as many ways as files are broken, most of them not among
    the exceptions that they name. Failures of our own code must not be hidden here.

    Raises
    ------
    RequestError
    """
    try:
        yield
    except (RequestError, MemoryError):
        raise
    except Exception as error:
        log.info("a file could not be read: %r", error)
        raise RequestError(message) from None
