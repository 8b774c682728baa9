"""Points from a table of text: CSV of any usual separator, decimal mark and encoding."""

import codecs
from pathlib import Path

import polars as pl

from core.sentence import sentence
from server.base.errors import RequestError
from server.files.broken_file import refuse_broken
from server.siting.layer_files.frames import MOST_COLUMNS, MOST_POINTS, SAMPLE_ROWS, PointFrame

SEPARATORS = ("\t", ";", ",", "|")
# Lines before the heading: title, unit and comment lines.
MOST_LEADING = 30
HEAD_BYTES = 200_000
UTF_8, WESTERN = "utf-8-sig", "cp1252"


def read_point_table(path: Path, *, sample: bool) -> PointFrame:
    """The columns of a table, each as text.

    Parameters
    ----------
    sample : bool
        The first rows alone.

    Raises
    ------
    RequestError
        When it is no table, or has too many rows or columns.
    """
    with path.open("rb") as file:
        head = file.read(HEAD_BYTES)
    letters = _letters(head)
    if letters == UTF_8 and b"\x00" in head[:4096]:
        raise RequestError(
            sentence(
                "This is no file of points or grid that can be read. Export the points as CSV or "
                "a zipped Shapefile, or the grid as GeoTIFF."
            )
        )
    text = head.decode(letters, errors="replace")
    skipped, separator = _heading(text.splitlines())
    data: Path | bytes = path
    if sample:
        data = (text[: text.rfind("\n") + 1] or text).encode()
    elif letters != UTF_8:
        data = path.read_bytes().decode(letters, errors="replace").encode()
    message = sentence("The table can't be read. Export it again as CSV with a heading.")
    with refuse_broken(message):
        rows = pl.read_csv(
            data,
            separator=separator,
            skip_lines=skipped,
            infer_schema=False,
            encoding="utf8-lossy",
            n_rows=SAMPLE_ROWS if sample else None,
            truncate_ragged_lines=True,
            ignore_errors=True,
        )
    if rows.width > MOST_COLUMNS or rows.height > MOST_POINTS:
        raise RequestError(
            sentence(
                "The file has {rows:,} rows and {columns} columns; up to {most:,} rows and "
                "{most_columns} columns are taken. Split it by fields or years.",
                rows=rows.height,
                columns=rows.width,
                most=MOST_POINTS,
                most_columns=MOST_COLUMNS,
            )
        )
    rows.columns = [c.strip().strip('"') or f"column {i}" for i, c in enumerate(rows.columns, 1)]
    return PointFrame(rows, "", rows.height)


def _letters(head: bytes) -> str:
    """How the letters of a file are encoded, by its first bytes."""
    if head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    try:
        head[: max(0, len(head) - 4)].decode(UTF_8)
    except UnicodeDecodeError:
        # A file with bytes of no text at all is none of western letters either.
        return UTF_8 if b"\x00" in head else WESTERN
    return UTF_8


def _heading(lines: list[str]) -> tuple[int, str]:
    """How many lines stand before the heading, and what separates its cells.

    The heading is the first line of at least three cells most of which are no numbers.

    Raises
    ------
    RequestError
    """
    for number, line in enumerate(lines[:MOST_LEADING]):
        separator = max(SEPARATORS, key=line.count)
        cells = [c.strip().strip('"') for c in line.split(separator)]
        words = sum(not _is_number(c) for c in cells if c)
        if len(cells) >= 3 and words > len(cells) / 2:
            return number, separator
    raise RequestError(
        sentence(
            "No heading was found. The first line must name the columns, such as longitude, "
            "latitude, yield, separated by commas, semicolons or tabs."
        )
    )


def _is_number(cell: str) -> bool:
    try:
        float(cell.replace(",", "."))
    except ValueError:
        return False
    return True
