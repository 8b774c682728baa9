"""A file of five million readings through check and store: its memory beside a small file's.

Limit: the worker's peak memory with the large file is at most 1.25 times that with a file of a
tenth of its rows, in the same run.
"""

import os
import subprocess
import sys
import tempfile
import time
from datetime import timedelta
from pathlib import Path

from bench.database import START, bench_database, make_farm
from bench.figures import Figure, run

ROWS = (500_000, 5_000_000)
PROBES = 5  # of eight depths
LIMIT = 1.25
# As the worker does it, in a process of its own.
WORK = """
import resource, sys, time
import django
django.setup()
from server.imports.models import FileImport
from server.imports.running import run_step
row = FileImport.unscoped.get(pk=int(sys.argv[1]))
start = time.perf_counter()
row.state = "checking"; row.save()
run_step(row.pk)
checked = time.perf_counter() - start
row.refresh_from_db()
assert row.state == "checked", (row.state, row.problem)
assert row.report["new"] == int(sys.argv[2]), row.report
row.state = "storing"; row.save()
run_step(row.pk)
row.refresh_from_db()
assert row.state == "stored", (row.state, row.problem)
stored = time.perf_counter() - start - checked
# The file is read in a process of its own, which counts as well.
both = (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)
peak = sum(resource.getrusage(which).ru_maxrss for which in both)
print(peak, checked, stored)
"""


def write_file(path: Path, rows: int, channels: list[int], start_step: int) -> None:
    """A long file: a row for each reading, ordered by time."""
    with path.open("w") as file:
        file.write("sensor;time;value\n")
        for step in range(rows // len(channels)):
            stamp = f"{START - timedelta(minutes=15 * (start_step - step)):%Y-%m-%dT%H:%M:%SZ}"
            value = 20 + step % 700 * 0.01
            for k in range(len(channels)):
                file.write(f"S{k};{stamp};{value + k % 8:.2f}\n")


def bring_in(rows: int, channels: list[int], start_step: int) -> tuple[float, float, float]:
    """Peak memory [MB] and seconds of check and store of a file."""
    from server.farms.models import Farm
    from server.files.kept_file import keep
    from server.imports.layout import KeyUse, Layout, Shape
    from server.imports.models import FileImport, FilePiece

    layout = Layout(
        delimiter=";",
        data_from=2,
        time_column=1,
        shape=Shape.LONG,
        value_column=2,
        key_columns=[0],
        keys=[KeyUse(key=f"S{k}", channel_id=c, unit="%") for k, c in enumerate(channels)],
    )
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "readings.csv"
        write_file(path, rows, channels, start_step)
        row = FileImport(
            farm=Farm.objects.get(slug="bench"),
            file_name=path.name,
            sha256="",
            size=path.stat().st_size,
            layout=layout.model_dump(mode="json"),
            sample={"lines": [], "cells": [], "sheets": []},
        )
        row.save()
        keep(path, lambda n, block: FilePiece(file_import=row, number=n, data=block))
    done = subprocess.run(
        [sys.executable, "-c", WORK, str(row.pk), str(rows)],
        check=True,
        capture_output=True,
        text=True,
        env=dict(os.environ),
    )
    peak, checked, stored = (float(x) for x in done.stdout.split())
    return peak / 1024, checked, stored


def measure() -> list[Figure]:
    peaks = []
    with bench_database():
        _, channels, _, _ = make_farm(PROBES)
        start_step = 10**6
        for rows in ROWS:
            began = time.perf_counter()
            peak, checked, stored = bring_in(rows, channels, start_step)
            start_step -= rows // len(channels) + 1000
            peaks.append(peak)
            print(
                f"import of {rows:,} readings: {peak:,.0f} MB at most; checked in {checked:.0f} s, "
                f"stored in {stored:.0f} s ({rows / stored:,.0f} rows/s), "
                f"{time.perf_counter() - began:.0f} s with making the file"
            )
    ratio = peaks[1] / peaks[0]
    return [Figure("import, memory of ten times the rows", ratio, "times", LIMIT)]


if __name__ == "__main__":
    run(measure)
