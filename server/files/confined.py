"""Work on a stranger's file in a process of its own, with limits on its time and memory.

Whatever the file does to the process that reads it, the one that was asked goes on.
"""

import multiprocessing
import pickle
import resource
import signal
import threading
from collections.abc import Callable, Generator, Iterator
from contextlib import contextmanager
from multiprocessing import forkserver
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from typing import Any, Concatenate, ParamSpec, TypeVar

import django
from django.apps import apps
from django.core.files.uploadedfile import UploadedFile

from core.sentence import sentence
from server.base.errors import RequestError, TryLater
from server.base.incident import record_incident

P = ParamSpec("P")
R = TypeVar("R")

# Forked from a process that has imported what is needed once: a start takes 20 ms, not 2 s.
_PROCESSES = multiprocessing.get_context("forkserver")
_PROCESSES.set_forkserver_preload(["server.confined_imports"])

# Of a file that a request waits for.
MAX_BYTES = 20 * 2**20
# Beyond what the process holds when it starts. A shapefile of 20 MB needs 0.3 GB, a table of
# 20 MB 0.5 GB.
MEMORY_BYTES = 1_200 * 2**20
# Of one answer; a file of a farm's size takes less than one.
SECONDS = 20.0
# Of a process of the web server: others wait, those who waited too long are told to come again.
AT_ONCE, WAIT_SECONDS = 1, 5.0
_turns = threading.BoundedSemaphore(AT_ONCE)

TOO_MUCH = sentence(
    "The file needs more time or memory than a farm's files do, so it was not read. Nothing was "
    "changed. Is it the right one? Save it again from the program it comes from, or split it."
)


def warm() -> None:
    """Start what the processes are forked from, so that the first file need not wait for it."""
    forkserver.ensure_running()


def content_of(file: "UploadedFile[Any]") -> bytes:
    """An uploaded file's bytes.

    Raises
    ------
    RequestError
        When it has more than `MAX_BYTES`; it is not taken into memory then.
    """
    size = file.size or 0
    if size > MAX_BYTES:
        raise RequestError(
            sentence(
                "The file has {size:.0f} MB; up to {max_bytes:.0f} MB can be imported at once. "
                "Split it and import the parts.",
                size=size / 1000000.0,
                max_bytes=MAX_BYTES / 1000000.0,
            )
        )
    return file.read()


def read_confined(
    reader: Callable[Concatenate[bytes, P], R], data: bytes, *args: P.args, **kwargs: P.kwargs
) -> R:
    """What a reader makes of a file's bytes, for a request that waits for it.

    Parameters
    ----------
    reader : a function of a module; its answer and arguments must be picklable

    Raises
    ------
    RequestError
        What the reader refuses, and a file that needs too much.
    TryLater
        When others' files are being read already.
    """
    if not _turns.acquire(timeout=WAIT_SECONDS):
        raise TryLater(sentence("Other files are being read just now. Try again in a moment."), 5)
    try:
        return confined(reader, data, *args, **kwargs)
    finally:
        _turns.release()


def confined(function: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> R:
    """A function's answer, worked out in a process of its own.

    Raises
    ------
    RequestError
        What the function refuses; also when it takes more than `SECONDS` or `MEMORY_BYTES`.
    """
    with _started(_answer, function, args, kwargs) as connection:
        answer: R = _received(connection)
        return answer


def confined_parts(
    function: Callable[P, Iterator[R]], *args: P.args, **kwargs: P.kwargs
) -> Generator[R, None, None]:
    """What a generator yields, in a process of its own; each part has `SECONDS`.

    Raises
    ------
    RequestError
        What the function refuses; also when a part takes too much.
    """
    with _started(_parts, function, args, kwargs) as connection:
        while (part := _received(connection)) is not None:
            (content,) = part
            yield content


@contextmanager
def _started(
    run: Callable[..., None], function: Callable[..., Any], args: Any, kwargs: Any
) -> Iterator[Connection]:
    """A process at work, and the end of the pipe that it answers through."""
    ours, theirs = _PROCESSES.Pipe(duplex=False)
    # Packed apart: a process needs Django before it can unpack what belongs to it.
    task = pickle.dumps((function, args, kwargs))
    process: BaseProcess = _PROCESSES.Process(target=run, args=(theirs, task), daemon=True)
    process.start()
    theirs.close()
    try:
        yield ours
    finally:
        ours.close()
        process.kill()
        process.join()
        process.close()


def _received(connection: Connection) -> Any:
    if not connection.poll(SECONDS):
        raise RequestError(TOO_MUCH)
    try:
        kind, content = connection.recv()
    except (EOFError, ConnectionResetError):
        # It was ended, by the kernel or by a library that could not get memory.
        raise RequestError(TOO_MUCH) from None
    if kind == "refused":
        raise content
    if kind == "failed":
        raise RuntimeError(f"in a confined process: {content}")
    return content


def _answer(connection: Connection, task: bytes) -> None:
    def work(function: Callable[..., Any], args: Any, kwargs: Any) -> None:
        connection.send(("answer", function(*args, **kwargs)))

    _run(connection, task, work)


def _parts(connection: Connection, task: bytes) -> None:
    def work(function: Callable[..., Any], args: Any, kwargs: Any) -> None:
        for part in function(*args, **kwargs):
            connection.send(("answer", (part,)))
        connection.send(("answer", None))

    _run(connection, task, work)


def _run(connection: Connection, task: bytes, work: Callable[..., None]) -> None:
    # A terminal's Ctrl-C is for the one that waits, which ends this one.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    if not apps.ready:
        django.setup()
    _limit()
    try:
        work(*pickle.loads(task))  # noqa: S301 - of our own making
    except RequestError as refused:
        connection.send(("refused", refused))
    except (MemoryError, RecursionError):
        connection.send(("refused", RequestError(TOO_MUCH)))
    except BrokenPipeError:
        pass  # nobody waits for it any more
    except Exception as error:
        number = record_incident("reading a file")
        connection.send(("failed", f"{type(error).__name__}, incident {number}"))


def _limit() -> None:
    """Let this process have no more than a file needs."""
    with open("/proc/self/statm") as file:  # noqa: PTH123 - no import in a limited process
        pages = int(file.read().split()[0])
    most = pages * resource.getpagesize() + MEMORY_BYTES
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
