"""The database that tests copy: migrated, and with the demo farm in it.

`python -m tests.template` makes it where it is missing and prints its name. Its name carries a
checksum of everything that went into it, so that a changed model or demo makes another.
"""

import hashlib
import os
import secrets
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from psycopg import sql

from bench.database import admin

ROOT = Path(__file__).resolve().parents[1]
PREFIX = "furrow_template_"
SOURCES = ("server", "core")
SUFFIXES = {".py", ".csv", ".json", ".toml", ".txt"}


def template_name() -> str:
    """The name that the template of today's code has."""
    digest = hashlib.sha256()
    files = [p for s in SOURCES for p in (ROOT / s).rglob("*") if p.suffix in SUFFIXES]
    for path in [*sorted(files), ROOT / "requirements" / "app.txt"]:
        digest.update(str(path.relative_to(ROOT)).encode())
        digest.update(path.read_bytes())
    return PREFIX + digest.hexdigest()[:16]


def _manage(database: str, *arguments: str) -> None:
    environment = {**os.environ, "FURROW_DB_NAME": database, "FURROW_DEMO": "1"}
    done = subprocess.run(
        [sys.executable, "manage.py", *arguments],
        cwd=ROOT,
        env=environment,
        check=False,
        capture_output=True,
        text=True,
    )
    if done.returncode:
        raise RuntimeError(f"{' '.join(arguments)} failed:\n{done.stderr[-3000:]}")


def make_template() -> str:
    """Make the template unless it stands already; older ones go. Its name."""
    name = template_name()
    with admin() as db:
        # Two runs at once: the second waits for the first and finds its work done.
        db.execute("SELECT pg_advisory_lock(7341)")
        there = {r[0] for r in db.execute("SELECT datname FROM pg_database").fetchall()}
        if name in there:
            return name
        for old in there:
            if old.startswith(PREFIX):
                db.execute(sql.SQL("DROP DATABASE {} WITH (FORCE)").format(sql.Identifier(old)))
        making = f"furrow_making_{secrets.token_hex(4)}"
        db.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(making)))
        try:
            _manage(making, "migrate", "--verbosity", "0")
            _manage(making, "seed_demo")
            rename = sql.SQL("ALTER DATABASE {} RENAME TO {}")
            db.execute(rename.format(sql.Identifier(making), sql.Identifier(name)))
        except BaseException:
            db.execute(sql.SQL("DROP DATABASE {} WITH (FORCE)").format(sql.Identifier(making)))
            raise
    return name


def _copy(template: str, name: str) -> None:
    with admin() as db:
        # File by file: the demo is large, and what tests write need not be logged.
        copy = sql.SQL("CREATE DATABASE {} TEMPLATE {} STRATEGY file_copy")
        db.execute(copy.format(sql.Identifier(name), sql.Identifier(template)))


def _drop(name: str) -> None:
    with admin() as db:
        db.execute(sql.SQL("DROP DATABASE {} WITH (FORCE)").format(sql.Identifier(name)))


def copy_again(name: str) -> None:
    """Put a copy back to what the template holds, under whoever is connected to it."""
    _drop(name)
    _copy(template_name(), name)


@contextmanager
def copied(purpose: str) -> Iterator[str]:
    """A copy of the template for one user of it; gone afterwards. Yields its name."""
    template = make_template()
    name = f"furrow_{purpose}_{secrets.token_hex(4)}"
    _copy(template, name)
    try:
        yield name
    finally:
        _drop(name)


if __name__ == "__main__":
    print(make_template())
