"""Files made to fill memory or spin: refused with a word, and soon."""

import io
import zipfile
from pathlib import Path

import pytest
from openpyxl import Workbook
from PIL import Image

from server.base.errors import RequestError
from server.imports.layout import Layout
from server.imports.sheet import LAST_ROW, MAX_LINE, MAX_SHARED, head_lines, read_rows, sheet_names
from server.instruments.pictures import LONG_SIDE, MAX_PIXELS, small_picture
from tests.server.test_imports import Bench, bench  # noqa: F401


def workbook(rows: int = 3) -> bytes:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.append(["time", "VWC_10cm"])
    for k in range(rows):
        sheet.append([f"2026-07-{k + 1:02d} 06:00", 0.2 + k / 100])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def with_part(data: bytes, name: str, old: bytes | None, new: bytes) -> bytes:
    """The workbook with a part changed, or put in another's place."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as book, zipfile.ZipFile(out, "w", 8) as changed:
        for part in book.infolist():
            text = book.read(part)
            if part.filename == name:
                text = new if old is None else text.replace(old, new)
            changed.writestr(part.filename, text)
        if name not in book.namelist():
            changed.writestr(name, new)
    return out.getvalue()


SHEET = "xl/worksheets/sheet1.xml"


def test_a_row_two_billion_rows_down(bench: Bench) -> None:  # noqa: F811
    """1.7 kB that spun a thread for hours: the rows between are counted, and soon enough."""
    bomb = with_part(workbook(), SHEET, b'<row r="3"', b'<row r="2000000000"')
    assert "is empty from row 3 on" in bench.unreadable(bomb, "bomb.xlsx")
    assert LAST_ROW == 2**20


@pytest.mark.parametrize("share", [0.5, 0.9])
def test_half_a_workbook_is_a_broken_workbook(bench: Bench, share: float) -> None:  # noqa: F811
    """What was cut off on its way is no text file, and nobody should be told to save it as one."""
    whole = workbook()
    told = bench.unreadable(whole[: int(share * len(whole))], "logger.xlsx")
    assert "The workbook can't be read. Save it again" in told


def test_an_empty_row_here_and_there_is_no_bomb(tmp_path: Path) -> None:
    path = tmp_path / "gap.xlsx"
    path.write_bytes(with_part(workbook(), SHEET, b'<row r="4"', b'<row r="900"'))
    (rows,) = read_rows(path, Layout(sheet="Sheet", data_from=2, time_column=0))
    assert rows.lines == [1, 2, 3, 900]


def test_millions_of_shared_texts(bench: Bench) -> None:  # noqa: F811
    head = b'<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">'
    texts = head + b"<si><t/></si>" * (MAX_SHARED + 1) + b"</sst>"
    bomb = with_part(workbook(), "xl/sharedStrings.xml", None, texts)
    assert len(bomb) < 200_000
    assert "unpacks to more than readings need" in bench.unreadable(bomb, "bomb.xlsx")


def test_a_part_that_unpacks_to_hundreds_of_megabytes(tmp_path: Path) -> None:
    path = tmp_path / "bomb.xlsx"
    path.write_bytes(with_part(workbook(), "xl/styles.xml", None, b" " * (40 * 2**20)))
    with pytest.raises(RequestError, match="unpacks to more"):
        sheet_names(path)


def test_a_line_of_millions_of_columns(tmp_path: Path, bench: Bench) -> None:  # noqa: F811
    rows = [f"2026-07-14 {k:02d}:00,0.2" for k in range(12)]
    text = "\n".join(["time,VWC_10cm", *rows, "1," * 5_000_000, *rows])
    path = tmp_path / "line.csv"
    path.write_text(text)
    with pytest.raises(RequestError) as told:
        list(read_rows(path, Layout(data_from=2, time_column=0)))
    assert told.value.problems[0].row == 14
    assert f"{MAX_LINE:,} characters" in told.value.problems[0].message
    one_line = tmp_path / "one.csv"
    one_line.write_text("1," * 5_000_000)
    with pytest.raises(RequestError):
        head_lines(one_line, "utf-8")
    assert "Row 1: Line 1 has more" in bench.unreadable(one_line.read_bytes(), "one.csv")


def picture(size: tuple[int, int], kind: str, mode: str = "L") -> bytes:
    out = io.BytesIO()
    Image.new(mode, size, 90).save(out, kind)
    return out.getvalue()


def test_a_picture_of_too_many_pixels_is_not_decoded() -> None:
    side = int(MAX_PIXELS**0.5) + 1
    with pytest.raises(RequestError, match="too many pixels"):
        small_picture(picture((side, side), "PNG", "1"))
    with pytest.raises(RequestError, match="too many pixels"):
        small_picture(picture((20_000, 20_000), "PNG", "1"))


def test_a_phones_large_photograph_is_taken() -> None:
    """A JPEG is decoded at a fraction of its size: 36 million pixels are no trouble."""
    small = Image.open(io.BytesIO(small_picture(picture((6000, 6000), "JPEG"))))
    assert small.size == (LONG_SIDE, LONG_SIDE)
