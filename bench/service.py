"""The server and its worker as `./furrow serve` runs them, for a benchmark to ask."""

import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from pathlib import Path

# As the start command does: each thread with a heap of its own keeps what one large request took.
ARENAS = {"MALLOC_ARENA_MAX": "2"}
# How a line of the log begins that is none of a traceback.
LEVELS = ("DEBUG ", "INFO ", "WARNING ", "ERROR ", "CRITICAL ")
ROOT = Path(__file__).resolve().parent.parent


@dataclass(frozen=True)
class Service:
    """Where it answers, the process that does, and what all of them write of themselves."""

    port: int
    web: "subprocess.Popen[bytes]"
    log: Path

    def incidents(self) -> list[str]:
        """What the log tells of failures on our side, with the last line of each traceback."""
        told: list[str] = []
        inside = False
        for line in self.log.read_text().splitlines():
            if line.startswith(LEVELS):
                inside = "incident " in line
                if inside:
                    told.append(line)
            elif inside and line.strip() and not line.startswith(" "):
                told[-1] = f"{told[-1].splitlines()[0]}\n{line}"
        return told


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


@contextmanager
def service(*, worker: bool = True) -> Iterator[Service]:
    """Web server and worker on the benchmark's database, until the block is left."""
    port = free_port()
    commands = [
        [
            str(Path(sys.executable).with_name("gunicorn")),
            *("server.wsgi", "--bind", f"127.0.0.1:{port}", "--workers", "2"),
            *("--threads", "4", "--log-level", "error", "--no-control-socket"),
        ]
    ]
    if worker:
        commands.append(["nice", "-n", "5", sys.executable, "manage.py", "procrastinate", "worker"])
    with ExitStack() as stack:
        environment = {**os.environ, **ARENAS}
        path = Path(stack.enter_context(tempfile.TemporaryDirectory())) / "log"
        log = stack.enter_context(path.open("w"))
        running = [
            subprocess.Popen(command, cwd=ROOT, env=environment, stdout=log, stderr=log)
            for command in commands
        ]
        for process in running:
            stack.callback(process.wait)
            stack.callback(process.terminate)
        _wait(port)
        yield Service(port, running[0], path)


def _wait(port: int) -> None:
    for _ in range(300):
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/session", timeout=60):
                return
        except OSError:
            time.sleep(0.2)
    raise RuntimeError("the server did not start")


def memory_mb(pid: int) -> float:
    """The most that a process and its children held, the largest of them."""
    found = [pid]
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                parent = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
            except OSError:
                continue
            if parent == pid:
                found.append(int(entry.name))
    peaks = []
    for one in found:
        for line in Path(f"/proc/{one}/status").read_text().splitlines():
            if line.startswith("VmHWM"):
                peaks.append(int(line.split()[1]) / 1024)
    return max(peaks)
