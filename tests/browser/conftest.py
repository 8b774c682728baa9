"""The application as it is run: its own database, its own server, a real browser."""

import os
import secrets
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psycopg
import pytest
from playwright.sync_api import Page, expect

ROOT = Path(__file__).resolve().parents[2]
CHROMIUM = "/usr/bin/chromium"
CHROMIUM_FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


# The machine may be busy with other work; how fast a page is, is not asked here.
expect.set_options(timeout=20_000)
# A job waits for the worker to start, and for its turn.
WORKER_MS = 60_000


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    return {**browser_type_launch_args, "executable_path": CHROMIUM, "args": CHROMIUM_FLAGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    # The farm's zone is not the browser's: what shows must be the farm's all the same.
    return {
        **browser_context_args,
        "viewport": {"width": 1280, "height": 800},
        "timezone_id": "Pacific/Auckland",
        "locale": "en-GB",
    }


def _free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


def _admin() -> psycopg.Connection[Any]:
    return psycopg.connect(
        host=os.environ["FURROW_DB_HOST"],
        port=os.environ["FURROW_DB_PORT"],
        user=os.environ["FURROW_DB_USER"],
        password=os.environ["FURROW_DB_PASSWORD"],
        dbname="postgres",
        autocommit=True,
    )


@pytest.fixture(scope="session")
def base_url() -> Iterator[str]:
    """A freshly seeded demo behind the real server, taken down with its database."""
    name = f"furrow_browser_{secrets.token_hex(4)}"
    environment = {**os.environ, "FURROW_DB_NAME": name, "FURROW_DEMO": "1"}
    port = _free_port()
    with _admin() as admin:
        admin.execute(f'CREATE DATABASE "{name}"')
    server = worker = None
    try:
        for command in ("migrate", "seed_demo"):
            subprocess.run(
                [sys.executable, "manage.py", command],
                cwd=ROOT,
                env=environment,
                check=True,
                capture_output=True,
            )
        server = subprocess.Popen(
            [
                str(Path(sys.executable).with_name("gunicorn")),
                "server.wsgi",
                "--bind",
                f"127.0.0.1:{port}",
                "--threads",
                "4",
                "--log-level",
                "warning",
                "--no-control-socket",
            ],
            cwd=ROOT,
            env=environment,
        )
        worker = subprocess.Popen(
            [sys.executable, "manage.py", "procrastinate", "worker"],
            cwd=ROOT,
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        url = f"http://127.0.0.1:{port}"
        _wait_for(url, server)
        yield url
    finally:
        for process in (worker, server):
            if process is not None:
                process.terminate()
                process.wait(15)
        with _admin() as admin:
            admin.execute(f'DROP DATABASE "{name}" WITH (FORCE)')


def _wait_for(url: str, server: "subprocess.Popen[bytes]") -> None:
    for _ in range(100):
        if server.poll() is not None:
            raise RuntimeError("the server stopped before it answered")
        try:
            urllib.request.urlopen(f"{url}/api/session", timeout=2)  # noqa: S310
            return
        except OSError:
            time.sleep(0.1)
    raise RuntimeError("the server did not answer")


@pytest.fixture
def console(page: Page) -> Iterator[list[str]]:
    """Errors of the page, a broken content policy among them; there must be none."""
    said: list[str] = []
    page.on("console", lambda m: said.append(m.text) if m.type == "error" else None)
    page.on("pageerror", lambda e: said.append(str(e)))
    yield said
    unexpected = [s for s in said if "status of 422" not in s]
    assert unexpected == []


@pytest.fixture
def at_board(page: Page, base_url: str, console: list[str]) -> Page:
    """Signed in as the demo manager by one click, metric and light, at the board."""
    page.goto(base_url)
    page.get_by_role("button", name="Sign in as the demo manager").click()
    expect(page.locator("a.board-line").first).to_be_visible()
    prefer(page, units="metric", theme="light")
    return page


def prefer(page: Page, **preferences: str) -> None:
    """Set the person's units and theme behind the page, and load it again."""
    page.evaluate(
        """async (preferences) => {
            const session = await (await fetch('/api/session')).json();
            await fetch('/api/me', {
                method: 'PATCH',
                headers: {
                    'content-type': 'application/json',
                    'X-CSRFToken': session.csrf_token,
                },
                body: JSON.stringify(preferences),
            });
        }""",
        preferences,
    )
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_be_visible()
