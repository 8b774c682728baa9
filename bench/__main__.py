"""Runs every benchmark, or those named, each in a process of its own; one table at the end.

A benchmark that misses a limit or breaks does not keep the others from running.
"""

import json
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench.figures import WRITE_TO, Figure

HERE = Path(__file__).parent
HEADINGS = ("figure", "measured", "limit", "review")


def measured(script: Path, folder: Path) -> tuple[list[Figure], bool]:
    """The figures of one benchmark, and whether it broke."""
    path = folder / f"{script.stem}.jsonl"
    environment = {**os.environ, WRITE_TO: str(path)}
    done = subprocess.run([sys.executable, str(script)], env=environment, check=False)
    if not path.exists():
        return [], True
    figures = [Figure(**json.loads(line)) for line in path.read_text().splitlines()]
    return figures, done.returncode not in (0, 1)


def table(rows: list[tuple[str, str, str, str]]) -> str:
    widths = [max(len(row[i]) for row in (HEADINGS, *rows)) for i in range(4)]
    lines = [HEADINGS, tuple("-" * w for w in widths), *rows]
    return "\n".join(
        "  ".join(text.ljust(w) for text, w in zip(line, widths, strict=True)).rstrip()
        for line in lines
    )


def main(names: list[str]) -> int:
    scripts = sorted(HERE.glob("bench_*.py"))
    known = {s.stem.removeprefix("bench_"): s for s in scripts}
    if unknown := [n for n in names if n not in known]:
        print(f"no benchmark {', '.join(unknown)}; there are {', '.join(known)}", file=sys.stderr)
        return 2
    rows: list[tuple[str, str, str, str]] = []
    well = True
    with tempfile.TemporaryDirectory() as folder:
        for name in names or known:
            print(f"\n== {name}", flush=True)
            began = time.perf_counter()
            figures, broke = measured(known[name], Path(folder))
            print(f"   {time.perf_counter() - began:.0f} s", flush=True)
            rows += [f.row for f in figures]
            if broke:
                rows.append((name, "-", "-", "BROKE"))
            well = well and not broke and all(f.kept for f in figures)
    print(f"\n{table(rows)}")
    return 0 if well else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
