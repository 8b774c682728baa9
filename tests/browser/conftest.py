"""The application as it is run: its own database, its own server, a real browser."""

import os
import subprocess
import sys
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, ViewportSize, expect

from bench.service import free_port
from tests.template import copied, copy_again
from tests.waiting import wait_until

ROOT = Path(__file__).resolve().parents[2]
CHROMIUM = "/usr/bin/chromium-headless-shell"
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
expect.set_options(timeout=60_000)
PHONE: ViewportSize = {"width": 390, "height": 844}
# A job waits for the worker to start, and for its turn.
WORKER_MS = 180_000
ACTION_MS = 60_000


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
        # Each page would fetch the whole interface for later; who works without signal asks for it.
        "service_workers": "block",
    }


@dataclass
class Demo:
    """The demo's database and the server before it."""

    url: str
    database: str
    environment: dict[str, str]
    as_seeded: bool = True


@contextmanager
def _running(command: list[str], demo_environment: dict[str, str]) -> Iterator[subprocess.Popen]:
    process = subprocess.Popen(
        command,
        cwd=ROOT,
        env=demo_environment,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    try:
        yield process
    finally:
        process.terminate()
        try:
            process.wait(30)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()


@pytest.fixture(scope="session")
def demo() -> Iterator[Demo]:
    """A freshly seeded demo behind the real server, taken down with its database."""
    port = free_port()
    url = f"http://127.0.0.1:{port}"
    gunicorn = str(Path(sys.executable).with_name("gunicorn"))
    options = ["--threads", "4", "--log-level", "warning", "--no-control-socket"]
    with copied("browser") as name:
        environment = {**os.environ, "FURROW_DB_NAME": name, "FURROW_DEMO": "1"}
        command = [gunicorn, "server.wsgi", "--bind", f"127.0.0.1:{port}", *options]
        with _running(command, environment) as server:
            wait_until(lambda: _answers(url, server), "the server to answer")
            yield Demo(url, name, environment)


@pytest.fixture(scope="session")
def base_url(demo: Demo) -> str:
    return demo.url


@pytest.fixture(scope="module", autouse=True)
def as_seeded(demo: Demo) -> None:
    """What the tests of one file did to the demo is not there for those of the next."""
    if not demo.as_seeded:
        copy_again(demo.database)
        # The server's connections ended with the database that was there before.
        wait_until(lambda: _is_ready(demo.url), "the server to find its database again")
    demo.as_seeded = False


@pytest.fixture
def worker(demo: Demo) -> Iterator[None]:
    """What the server leaves to later is done."""
    command = [sys.executable, "manage.py", "procrastinate", "worker"]
    with _running(command, demo.environment):
        yield


@contextmanager
def valve_controller(
    context: BrowserContext, demo: Demo, field: Path, contact_s: float
) -> Iterator[None]:
    """The simulated valve controller as a process of its own, with a token that its farm's manager
    made for it."""
    here = "/api/farms/thistlewick/valves"
    boxes = context.request.get(f"{demo.url}{here}").json()["controllers"]
    path = f"{here}/controllers/{boxes[0]['id']}/token"
    token = send(context, demo.url, "POST", path, {})["token"]
    command = [sys.executable, "-m", "standins.valve_controller", "run", "--url", demo.url]
    command += ["--contact-s", str(contact_s), "--field", str(field)]
    with _running(command, {**demo.environment, "FURROW_CONTROLLER_TOKEN": token}):
        yield


def _answers(url: str, server: "subprocess.Popen[bytes]") -> bool:
    assert server.poll() is None, "the server stopped before it answered"
    try:
        urllib.request.urlopen(f"{url}/api/session", timeout=5)  # noqa: S310
    except OSError:
        return False
    return True


def _is_ready(url: str) -> bool:
    try:
        urllib.request.urlopen(f"{url}/healthz", timeout=30)  # noqa: S310
    except OSError:
        return False
    return True


@pytest.fixture
def page(page: Page) -> Page:
    page.set_default_timeout(ACTION_MS)
    return page


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
    """Signed in as the demo manager, metric and light, at the board."""
    sign_in(page.context, base_url)
    page.goto(base_url)
    expect(page.locator("a.board-line").first).to_be_visible()
    return page


def open_farm_page(page: Page, name: str) -> None:
    """By the main navigation, as a person goes; a link elsewhere on the page is never meant."""
    page.get_by_role("navigation", name="Main navigation").get_by_role("link", name="Farm").click()
    tabs = page.get_by_role("navigation", name="Farm pages")
    tabs.get_by_role("link", name=name, exact=True).click()


def sign_in(context: BrowserContext, base_url: str) -> None:
    """Sign in behind the pages, so that each is loaded once; the click itself has a test of its
    own."""
    send(context, base_url, "POST", "/api/session/demo", {"role": "manager"})
    send(context, base_url, "PATCH", "/api/me", {"units": "metric", "theme": "light"})


def send(context: BrowserContext, base_url: str, method: str, path: str, data: Any) -> Any:
    """A request with the cookies of a context, as a page would send it."""
    request = context.request
    token = request.get(f"{base_url}/api/session").json()["csrf_token"]
    headers = {"X-CSRFToken": token, "Referer": base_url}
    answer = request.fetch(f"{base_url}{path}", method=method, data=data, headers=headers)
    assert answer.ok, answer.text()
    return answer.json()


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
