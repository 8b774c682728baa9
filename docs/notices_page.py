"""The page of what others made that ships with the application, from the lock files."""

import json
import re
from importlib.metadata import PackageNotFoundError, metadata
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
NOTICES = ROOT / "docs" / "third-party-notices.md"
PINNED = re.compile(r"^([A-Za-z0-9_.-]+)(?:\[[^\]]*\])?==([^ ;\\]+)")
SHORT = 60

HEAD = """# Third-party notices

What others made that is installed to run Even Furrow, at the versions in the lock files, each under
its own licence; their texts come with the packages. PostgreSQL and Chromium come from Debian.

Made from `requirements/app.txt` and `web/package-lock.json` by `./furrow docs`.
"""


def _python_licence(name: str) -> str:
    """As the package states it: an expression, a short text, or its classifiers."""
    try:
        told = metadata(name)
    except PackageNotFoundError:
        return "not installed on this platform"
    stated = (told.get("License-Expression") or told.get("License") or "").strip()
    if stated and len(stated) <= SHORT and "\n" not in stated:
        return str(stated)
    classes = [c.rpartition(" :: ")[2] for c in told.get_all("Classifier") or () if "License" in c]
    return ", ".join(classes) or "see the package"


def _python() -> list[tuple[str, str, str]]:
    lines = (ROOT / "requirements" / "app.txt").read_text("utf-8").splitlines()
    pinned = [m.groups() for line in lines if (m := PINNED.match(line))]
    return [(name, version, _python_licence(name)) for name, version in sorted(pinned)]


def _interface() -> list[tuple[str, str, str]]:
    lock = json.loads((ROOT / "web" / "package-lock.json").read_text("utf-8"))
    found = {
        (path.rpartition("node_modules/")[2], p["version"], p.get("license", "see the package"))
        for path, p in lock["packages"].items()
        if path and not p.get("dev") and not p.get("optional") and not p.get("peer")
    }
    return sorted(found)


def notices_page() -> str:
    """Both lists as tables."""
    out = [HEAD]
    for title, rows in (("Server", _python()), ("Interface", _interface())):
        out.append(f"## {title}\n\n| package | version | licence |\n|---|---|---|")
        out += [f"| {name} | {version} | {licence} |" for name, version, licence in rows]
        out.append("")
    return "\n".join(out).rstrip() + "\n"
