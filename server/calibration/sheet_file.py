"""A worksheet as CSV, in and out: raw, wet_g, dry_g, tare_g, volume_ml."""

import csv
import io

from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.calibration.schemas import SampleIn
from server.files.table_file import FileProblems, cell_number, delimiter_of, read_rows, read_text

COLUMNS = ("raw", "wet_g", "dry_g", "tare_g", "volume_ml")


def read_sheet(data: bytes) -> list[SampleIn]:
    """Samples of an uploaded worksheet.

    Raises
    ------
    RequestError
        With row, column and cure of each problem.
    """
    text = read_text(data)
    example = ",".join(COLUMNS)
    delimiter = delimiter_of(next(x for x in text.split("\n") if x.strip()), example)
    rows = read_rows(text, delimiter)
    first, heading = rows[0]
    names = [h.strip().lower().replace(" ", "_") for h in heading]
    missing = [c for c in COLUMNS if c not in names]
    if missing:
        raise RequestError(
            sentence("The file was not read."),
            (
                Problem(
                    row=first,
                    column=", ".join(missing),
                    message=sentence("The heading needs the columns {example}.", example=example),
                ),
            ),
        )
    problems, out = FileProblems(), []
    for number, cells in rows[1:]:
        values = {}
        for name in COLUMNS:
            place = names.index(name)
            cell = cells[place] if place < len(cells) else ""
            value = cell_number(cell, decimal_comma=delimiter != ",")
            if value is None:
                problems.add(
                    number, name, sentence("'{cell}' is not a number.", cell=cell.strip()[:40])
                )
            else:
                values[name] = value
        if len(values) == len(COLUMNS):
            out.append(SampleIn(**values))
    if problems.found:
        raise problems.refuse()
    if not out:
        raise RequestError(sentence("The file holds no samples below its heading."))
    return out


def write_sheet(samples: list[dict[str, float]]) -> str:
    """The same as CSV."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    writer.writeheader()
    writer.writerows({name: s[name] for name in COLUMNS} for s in samples)
    return out.getvalue()
