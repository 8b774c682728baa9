"""The application's own commands as processes that start in an instant.

Each is forked from a process that has imported the libraries and the core, but no settings: it
reads its own, from an environment of its own, and nothing else is shared. Most of the seconds that
a command takes to start are those imports. `python -m tests.faults.forked` is that process; it
takes one JSON request a line.
"""

import json
import os
import runpy
import shutil
import signal
import subprocess
import sys
from contextlib import suppress
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from pkgutil import walk_packages
from typing import Any

import core
from tests.waiting import wait_until

ROOT = Path(__file__).resolve().parents[2]
LIBRARIES = (
    *("numpy", "scipy.optimize", "numba", "polars", "openpyxl", "PIL.Image", "charset_normalizer"),
    *("django.db.models", "django.contrib.postgres.fields", "django.core.management"),
    *("pydantic", "psycopg_pool", "procrastinate.contrib.django", "httpx"),
    *("gunicorn.app.wsgiapp", "gunicorn.workers.gthread"),
)


class Forker:
    """The process that others are forked from."""

    def __init__(self) -> None:
        # Without the name of the settings, to read any of them is an error.
        environment = {k: v for k, v in os.environ.items() if k != "DJANGO_SETTINGS_MODULE"}
        self._process = subprocess.Popen(
            [sys.executable, "-m", "tests.faults.forked"],
            cwd=ROOT,
            env=environment,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
        )

    def ask(self, **request: Any) -> int | None:
        """The number that answers a request."""
        assert self._process.stdin and self._process.stdout
        self._process.stdin.write(json.dumps(request) + "\n")
        self._process.stdin.flush()
        answer: int | None = json.loads(self._process.stdout.readline())
        return answer

    def start(
        self, command: list[str], environment: dict[str, str], out: Path = Path(os.devnull)
    ) -> "Forked":
        """`manage.py` or `gunicorn` with its arguments; what it writes goes to a file."""
        pid = self.ask(command=command, environment=environment, out=str(out))
        assert pid is not None
        return Forked(self, pid)

    def guard(self, data: Path, on: bool = True) -> None:
        """End a cluster, by its folder, where the tests are ended before they could do it."""
        self.ask(guarded=on, data=str(data))

    def stop(self) -> None:
        self._process.communicate()


@dataclass
class Forked:
    """A command under way, at the head of a process group of its own."""

    forker: Forker
    pid: int
    code: int | None = None

    def poll(self) -> int | None:
        """How it ended; nothing while it runs."""
        if self.code is None:
            self.code = self.forker.ask(ended=self.pid)
        return self.code

    def wait(self) -> int:
        """How it ended, once it has."""
        wait_until(lambda: self.poll() is not None, f"process {self.pid} to end", every_s=0.02)
        assert self.code is not None
        return self.code

    def kill(self) -> None:
        """No farewell: as when the power goes."""
        if self.poll() is None:
            # Those that it started itself go with it.
            os.killpg(self.pid, signal.SIGKILL)
            self.wait()


def _ended(pid: int) -> int | None:
    found, status = os.waitpid(pid, os.WNOHANG)
    return os.waitstatus_to_exitcode(status) if found else None


def _become(command: list[str], environment: dict[str, str], out: str) -> None:
    null = os.open(os.devnull, os.O_RDONLY)
    file = os.open(out, os.O_WRONLY | os.O_APPEND)
    for source, target in ((null, 0), (file, 1), (file, 2)):
        os.dup2(source, target)
    os.environ.clear()
    os.environ.update(environment)
    sys.argv = command
    if command[0] == "gunicorn":
        runpy.run_module("gunicorn", run_name="__main__")
    else:
        runpy.run_path(command[0], run_name="__main__")


def _end_cluster(data: Path) -> None:
    """A cluster whose tests are gone ends at once, and leaves nothing."""
    with suppress(OSError, ValueError, IndexError):
        postmaster = int((data / "postmaster.pid").read_text().split()[0])
        os.kill(postmaster, signal.SIGQUIT)
    shutil.rmtree(data.parent, ignore_errors=True)


def _serve() -> None:
    started: set[int] = set()
    clusters: set[Path] = set()
    for line in sys.stdin:
        request = json.loads(line)
        if "guarded" in request:
            answer = None
            (clusters.add if request["guarded"] else clusters.discard)(Path(request["data"]))
        elif "ended" in request:
            answer = _ended(request["ended"])
            if answer is not None:
                started.discard(request["ended"])
        else:
            answer = os.fork()
            if answer == 0:
                os.setpgid(0, 0)
                return _become(**request)
            # Whichever comes first: it has its group before anybody is told its number.
            with suppress(ProcessLookupError):
                os.setpgid(answer, answer)
            started.add(answer)
        print(json.dumps(answer), flush=True)
    # Who asked is gone: what is still under way must not outlive the tests.
    for pid in started:
        with suppress(ProcessLookupError):
            os.killpg(pid, signal.SIGKILL)
    for data in clusters:
        _end_cluster(data)
    return None


if __name__ == "__main__":
    for name in (*LIBRARIES, *(m.name for m in walk_packages(core.__path__, "core."))):
        import_module(name)
    _serve()
