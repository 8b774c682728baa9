"""A file as rows of text cells, a stretch at a time: CSV and its kin, or a workbook."""

import csv
import zipfile
from bisect import bisect_left
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from pathlib import Path
from typing import TYPE_CHECKING, TextIO

from openpyxl import Workbook, load_workbook

from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.files.broken_file import refuse_broken
from server.imports.layout import DELIMITERS, Delimiter, Encoding, Layout

if TYPE_CHECKING:
    import _csv

SAMPLE_ROWS = 400
STRETCH_ROWS = 20_000
FURTHER_PLACES, FURTHER_BYTES = 4, 32_768
MAX_COLUMNS = 500
MAX_CELL = 200  # characters; longer ones are remarks
MAX_LINE = 100_000  # characters; no logger writes longer ones
# Of a workbook: texts that its cells share, bytes of what is no sheet, rows without a cell in one
# go, and the last row that a sheet can have.
MAX_SHARED, MAX_PART_BYTES, MAX_EMPTY_ROWS, LAST_ROW = 500_000, 32 * 2**20, 20_000, 1_048_576
# What a packed file begins with.
PACKED = b"PK\x03\x04"
UNREADABLE = sentence("The workbook can't be read. Save it again as .xlsx, or its sheet as CSV.")
csv.field_size_limit(1_000_000)


@dataclass(frozen=True)
class Rows:
    """Consecutive rows that hold anything: line numbers as an editor counts, and cells."""

    lines: list[int]
    cells: list[list[str]]

    def above(self, line: int) -> "Rows":
        """Rows that stand above a line."""
        at = bisect_left(self.lines, line)
        return Rows(self.lines[:at], self.cells[:at])

    def below(self, line: int) -> "Rows":
        """Rows from a line on."""
        at = bisect_left(self.lines, line)
        return Rows(self.lines[at:], self.cells[at:])


def cell_of(row: list[str], column: int) -> str:
    """A row's cell; empty where the row is too short."""
    return row[column] if column < len(row) else ""


def column_of(cells: list[list[str]], column: int) -> list[str]:
    """A column of rows that may differ in length."""
    return [cell_of(row, column) for row in cells]


def is_workbook(path: Path) -> bool:
    """Whether a file is a zipped workbook rather than text, whole or not."""
    with path.open("rb") as file:
        return file.read(len(PACKED)) == PACKED


def _refuse_bomb(path: Path) -> None:
    """Refuse a workbook that unpacks to more than a sheet of readings needs.

    What is shared between sheets is loaded whole before the first row is seen.

    Raises
    ------
    RequestError
    """
    with zipfile.ZipFile(path) as book:
        for part in book.infolist():
            if part.filename.startswith("xl/worksheets/"):
                continue  # these are read as they stream by
            shared = part.filename.endswith("sharedStrings.xml")
            if part.file_size > MAX_PART_BYTES or (shared and _texts(book, part) > MAX_SHARED):
                raise RequestError(
                    sentence(
                        "The workbook unpacks to more than readings need. Save the sheet with the "
                        "readings as CSV and import that."
                    )
                )


def _texts(book: zipfile.ZipFile, part: zipfile.ZipInfo) -> int:
    """How many texts a workbook's cells share, counted as they stream by."""
    count, tail = 0, b""
    with book.open(part) as file:
        while piece := file.read(2**20):
            count += (tail + piece).count(b"<si")
            tail = piece[-2:]
            if count > MAX_SHARED:
                break
    return count


@contextmanager
def _workbook(path: Path) -> Iterator[Workbook]:
    """A workbook, read as it streams by; opened as a file, since its name may say anything."""
    with path.open("rb") as file:
        with refuse_broken(UNREADABLE):
            _refuse_bomb(path)
            book = load_workbook(file, read_only=True, data_only=True)
        try:
            yield book
        finally:
            book.close()


def sheet_names(path: Path) -> list[str]:
    """Sheets of a workbook, in its order.

    Raises
    ------
    RequestError
        When it can't be opened.
    """
    with _workbook(path) as book:
        return list(book.sheetnames)


def encoding_of(head: bytes) -> Encoding:
    """Encoding of a text file by its first bytes.

    Raises
    ------
    RequestError
        When it is no text.
    """
    if head.startswith((b"\xff\xfe", b"\xfe\xff")):
        return "utf-16"
    if b"\x00" in head:
        raise RequestError(
            sentence(
                "This is not a text file. Save the table as CSV or as a workbook (.xlsx) and "
                "import that."
            )
        )
    for cut in range(4):  # the head may end within a character
        try:
            head[: len(head) - cut].decode("utf-8")
        except UnicodeDecodeError:
            continue
        return "utf-8-sig"
    return "cp1252"


def _reader(lines: Iterable[str], delimiter: str) -> "_csv.Reader":
    return csv.reader(lines, delimiter=delimiter, skipinitialspace=delimiter == " ")


def delimiter_of(lines: list[str]) -> Delimiter:
    """What separates the columns: the first mark by which most lines fall into as many cells.

    Raises
    ------
    RequestError
        When no mark does.
    """
    tail = lines[len(lines) // 4 :]
    for mark in DELIMITERS:
        counts = [len(row) for row in _reader(tail, mark) if row]
        if not counts:
            continue
        usual = max(set(counts), key=counts.count)
        if usual > 1 and counts.count(usual) >= 0.6 * len(counts):
            return mark
    raise RequestError(
        sentence("The file has a single column."),
        (
            Problem(
                row=1,
                column=lines[0][:40] if lines else "",
                message=sentence(
                    "Columns should be separated by commas, semicolons, tabs or bars."
                ),
            ),
        ),
    )


def _lines(file: TextIO) -> Iterator[str]:
    """Lines of a text file, none longer than a logger's can be.

    Raises
    ------
    RequestError
    """
    number = 0
    while line := file.readline(MAX_LINE + 1):
        number += 1
        if len(line) > MAX_LINE:
            raise RequestError(
                sentence("The file is not a table that can be read."),
                (
                    Problem(
                        row=number,
                        message=sentence(
                            "Line {number} has more than {max_line:,} characters. Is this the "
                            "logger's own export, with its line ends?",
                            number=number,
                            max_line=MAX_LINE,
                        ),
                    ),
                ),
            )
        # No text holds it, and no database stores it: what it stands in is no number and no time.
        yield line.replace("\x00", "\ufffd")


def head_lines(path: Path, encoding: str, count: int = 80) -> list[str]:
    """First lines of a text file that are not blank."""
    lines: list[str] = []
    with path.open(encoding=encoding, errors="replace") as file:
        for line in _lines(file):
            if line.strip():
                lines.append(line[:5000].rstrip("\n"))
            if len(lines) == count:
                break
    return lines


def _text(cell: object) -> str:
    """A workbook's cell as a logger would write it; a day's fraction is rounded to seconds."""
    if cell is None:
        return ""
    if isinstance(cell, datetime):
        moment = cell + timedelta(microseconds=500_000)
        return moment.replace(microsecond=0).isoformat(sep=" ")
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, time):
        return cell.replace(microsecond=0).isoformat()
    if isinstance(cell, float):
        return f"{cell:.12g}"
    return str(cell)[:MAX_CELL]


def _sheet_rows(book: Workbook, sheet: str) -> Iterator[tuple[object, ...]]:
    """Rows of a sheet as they stream by; one that breaks off is refused where it does."""
    with refuse_broken(UNREADABLE):
        # What a sheet says of its own size may be wrong: rows beyond it would be lost.
        book[sheet].reset_dimensions()
        rows = book[sheet].iter_rows(values_only=True)
    while True:
        with refuse_broken(UNREADABLE):
            row = next(rows, None)
        if row is None:
            return
        yield row


def _workbook_rows(path: Path, sheet: str) -> Iterator[tuple[int, list[str]]]:
    with _workbook(path) as book:
        if sheet not in book.sheetnames:
            raise RequestError(sentence("The workbook has no sheet named '{sheet}'.", sheet=sheet))
        empty = width = 0
        for number, row in enumerate(_sheet_rows(book, sheet), start=1):
            empty = empty + 1 if not row or all(cell is None for cell in row) else 0
            if empty > MAX_EMPTY_ROWS or number > LAST_ROW:
                raise RequestError(
                    sentence(
                        "The sheet '{sheet}' is empty from row {number} on and goes on after "
                        "that. Delete the empty rows, or save it as CSV.",
                        sheet=sheet,
                        number=number - empty + 1,
                    ),
                )
            cells = [_text(cell) for cell in row[:MAX_COLUMNS]]
            # A row ends with its last cell that holds anything; those after it are gaps.
            width = max(width, len(cells))
            yield number, cells + [""] * (width - len(cells))


def _text_rows(path: Path, encoding: str, delimiter: str) -> Iterator[tuple[int, list[str]]]:
    with path.open(encoding=encoding, errors="replace") as file:
        reader = _reader(_lines(file), delimiter)
        try:
            for row in reader:
                yield reader.line_num, row[:MAX_COLUMNS]
        except csv.Error as error:
            problem = Problem(
                row=reader.line_num + 1, message=sentence("Unreadable: {error}.", error=error)
            )
            raise RequestError(
                sentence("The file is not a table that can be read."), (problem,)
            ) from None


def _every_row(path: Path, layout: Layout) -> Iterator[tuple[int, list[str]]]:
    if layout.sheet:
        return _workbook_rows(path, layout.sheet)
    return _text_rows(path, layout.encoding, layout.delimiter)


def read_rows(path: Path, layout: Layout, size: int = STRETCH_ROWS) -> Iterator[Rows]:
    """A file's rows that hold anything, in stretches, so that its length costs no memory."""
    lines: list[int] = []
    cells: list[list[str]] = []
    for number, row in _every_row(path, layout):
        if not any(c and not c.isspace() for c in row):
            continue
        lines.append(number)
        cells.append(row)
        if len(lines) == size:
            yield Rows(lines, cells)
            lines, cells = [], []
    if lines:
        yield Rows(lines, cells)


def further_cells(path: Path, layout: Layout) -> list[list[str]]:
    """Some rows from further down a text file, for what its first rows don't show; none of a
    workbook, which can't be entered half-way."""
    if layout.sheet or layout.encoding == "utf-16":
        return []
    size, out = path.stat().st_size, []
    with path.open("rb") as file:
        for k in range(1, FURTHER_PLACES + 1):
            file.seek(size * k // (FURTHER_PLACES + 1))
            file.readline()  # where it began is not known
            lines = file.read(FURTHER_BYTES).decode(layout.encoding, "replace").splitlines()[:-1]
            try:
                out += [row[:MAX_COLUMNS] for row in _reader(lines, layout.delimiter) if row]
            except csv.Error:
                continue
    return out


def sample(path: Path, layout: Layout) -> Rows:
    """The first rows of a file."""
    return next(read_rows(path, layout, SAMPLE_ROWS), Rows([], []))
