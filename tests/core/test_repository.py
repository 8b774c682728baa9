"""Promises about the repository itself."""

import re
import subprocess
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


def tracked(*patterns: str) -> list[Path]:
    listed = subprocess.run(
        ["git", "ls-files", *patterns], cwd=ROOT, check=True, capture_output=True, text=True
    )
    return [ROOT / line for line in listed.stdout.splitlines()]


def test_locks_have_hashes_and_no_address() -> None:
    for path in tracked("requirements/*.txt", "web/package-lock.json"):
        text = path.read_text()
        assert '"resolved"' not in text, path
        if path.suffix == ".txt":
            assert "://" not in text
            pins = re.findall(r"^[a-z0-9][\w.\-\[\],]*==", text, re.M)
            assert pins
            assert text.count("--hash=sha256:") >= len(pins)


def test_the_core_neither_asks_the_clock_nor_knows_the_web() -> None:
    forbidden = re.compile(
        r"datetime\.now|date\.today|time\.time\(|import (django|requests|socket)"
    )
    for path in tracked("core/*.py"):
        assert not forbidden.search(path.read_text()), path


def test_pictures_are_few_and_all_are_in_the_readme() -> None:
    pictures = tracked("docs/screenshots/*.png")
    readme = (ROOT / "README.md").read_text()
    assert 0 < len(pictures) < 20
    for path in pictures:
        assert f"docs/screenshots/{path.name}" in readme


def test_ci_runs_the_readmes_test_command() -> None:
    lines = [
        line
        for line in (ROOT / ".ci/run").read_text().splitlines()
        if line and not line.startswith("#")
    ]
    assert lines == ["exec ./furrow test"]
    assert "./furrow test" in (ROOT / "README.md").read_text()


def test_nothing_is_fetched_at_run_time() -> None:
    """No page, style or script names another host."""
    for path in tracked("web/src/*.ts", "web/src/*.tsx", "web/index.html"):
        found = re.findall(r"https?://[\w.]+", path.read_text())
        assert not [f for f in found if "w3.org" not in f], path
