"""Tables that people upload as text: decoding, separators, cells, and what is wrong where."""

import csv
import io
import math
from collections.abc import Mapping

from core.sentence import Sentence, sentence
from server.base.errors import Problem, RequestError

# Lines of a file, and characters of one: eleven years of hours, and more columns than any has.
MAX_LINES, MAX_LINE = 100_000, 20_000
MAX_PROBLEMS = 50
MISSING = frozenset({"", "nan", "na", "n/a", "null", "none", "-", "--", "---", "-9999", "-9999.0"})


class FileProblems:
    """Collects what is wrong, up to a screenful.

    ``headings`` are the columns' headings as the file has them, by the names used here: a person
    looks for the one that he sees.
    """

    def __init__(self, headings: Mapping[str, str] | None = None) -> None:
        self.headings = headings or {}
        self.found: list[Problem] = []
        self.more = 0

    def add(self, row: int | None, column: str, message: Sentence) -> None:
        if len(self.found) < MAX_PROBLEMS:
            shown = self.headings.get(column, column)
            self.found.append(Problem(message=message, row=row, column=shown))
        else:
            self.more += 1

    def refuse(self) -> RequestError:
        count = len(self.found) + self.more
        if self.more:
            message = sentence(
                "The file was not imported: {count} places to correct. Nothing was changed. The "
                "first {most} are listed.",
                count=count,
                most=MAX_PROBLEMS,
            )
        elif count == 1:
            message = sentence(
                "The file was not imported: 1 place to correct. Nothing was changed."
            )
        else:
            message = sentence(
                "The file was not imported: {count} places to correct. Nothing was changed.",
                count=count,
            )
        return RequestError(message, tuple(self.found))


def read_text(data: bytes) -> str:
    """Text of an uploaded table, line ends made alike.

    Raises
    ------
    RequestError
        When it is no text, empty, or longer or wider than such a table can be.
    """
    if b"\x00" in data[:4096]:
        raise RequestError(
            sentence(
                "This is not a text file. Save the table as CSV (comma separated) and import that."
            )
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
    if not text.strip():
        raise RequestError(sentence("The file is empty. Export it again."))
    # Loggers end lines in every way there is, some files in two ways.
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    _refuse_endless(text)
    return text


def _refuse_endless(text: str) -> None:
    """Refuse what would take long to be read and be no such table in the end."""
    if text.count("\n") > MAX_LINES:
        raise RequestError(
            sentence(
                "The file has more than {max_lines:,} lines. Split it by years, or leave the "
                "empty lines out.",
                max_lines=MAX_LINES,
            )
        )
    for number, line in enumerate(text.split("\n"), start=1):
        if len(line) > MAX_LINE:
            message = sentence(
                "Line {number} has more than {max_line:,} characters. Is it the right file?",
                number=number,
                max_line=MAX_LINE,
            )
            raise RequestError(
                sentence("The file is not a table that can be read."),
                (Problem(row=number, message=message),),
            )


def read_rows(text: str, delimiter: str) -> list[tuple[int, list[str]]]:
    """Cells of each row that has any, with its number as an editor counts lines."""
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    rows = []
    try:
        for cells in reader:
            if any(c.strip() for c in cells):
                rows.append((reader.line_num, cells))
    except csv.Error as error:
        problem = Problem(
            row=reader.line_num + 1,
            column="",
            message=sentence("Unreadable: {error}.", error=error),
        )
        raise RequestError(
            sentence("The file is not a table that can be read."), (problem,)
        ) from None
    return rows


def delimiter_of(heading: str, example: str) -> str:
    """What separates the columns of a heading; refused, with an example, when nothing does."""
    counts = {d: heading.count(d) for d in ("\t", ";", ",")}
    best = max(counts, key=lambda d: counts[d])
    if counts[best] == 0:
        raise RequestError(
            sentence("The first line has a single column."),
            (
                Problem(
                    row=1,
                    column=heading[:40],
                    message=sentence(
                        "Expected a heading such as '{example}', separated by commas, semicolons "
                        "or tabs.",
                        example=example,
                    ),
                ),
            ),
        )
    return best


def cell_number(cell: str, decimal_comma: bool) -> float | None:
    """Number of a cell; None when it isn't one."""
    text = cell.strip().replace("\u2212", "-")
    if decimal_comma:
        text = text.replace(",", ".")
    try:
        value = float(text)
    except ValueError:
        return None
    return value if math.isfinite(value) else None
