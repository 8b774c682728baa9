"""Waiting for something that another process does, however slow the machine is."""

import time
from collections.abc import Callable

# Only a run that is broken waits this long.
LONGEST_S = 300.0


def wait_until(done: Callable[[], bool], what: str, every_s: float = 0.1) -> None:
    """Ask again and again until it is so.

    Raises
    ------
    AssertionError
        When it is not so after `LONGEST_S`, with what was waited for.
    """
    end = time.monotonic() + LONGEST_S
    while not done():
        assert time.monotonic() < end, f"waited {LONGEST_S:.0f} s in vain for {what}"
        time.sleep(every_s)
