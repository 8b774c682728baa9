"""Small files and bodies made to fill memory or time: one and more of every format taken."""

import gzip
import io
import json
import struct
import zipfile
import zlib
from collections.abc import Iterator

from PIL import Image

from tests.fuzz.files import (
    FORMATS,
    RING,
    Format,
    days_of_weather,
    laboratory,
    outlines,
    readings,
    shapes,
    workbook,
    worksheet,
)

SHEET = "xl/worksheets/sheet1.xml"
SHARED = b'<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">'
ENTITIES = (
    b'<?xml version="1.0"?><!DOCTYPE l [<!ENTITY a "'
    + b"l" * 1000
    + b'">'
    + b"".join(b'<!ENTITY %c "%s">' % (98 + k, b"&%c;" % (97 + k) * 10) for k in range(8))
    + b"]><sst>&i;</sst>"
)


def repacked(data: bytes, parts: dict[str, bytes]) -> bytes:
    """A packed file with other parts, or more of them."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as packed, zipfile.ZipFile(out, "w", 8) as again:
        for name in packed.namelist():
            if name not in parts:
                again.writestr(name, packed.read(name))
        for name, part in parts.items():
            again.writestr(name, part)
    return out.getvalue()


def _part(data: bytes, name: str) -> bytes:
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        return packed.read(name)


def _claims(size: tuple[int, int]) -> bytes:
    """A PNG that says it is as large as that, and holds next to nothing."""

    def chunk(kind: bytes, content: bytes) -> bytes:
        sum_ = zlib.crc32(kind + content)
        return struct.pack(">I", len(content)) + kind + content + struct.pack(">I", sum_)

    head = struct.pack(">IIBBBBB", *size, 8, 6, 0, 0, 0)
    pixels = zlib.compress(b"\0" * 10_000_000)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", pixels)


def _flat(side: int, kind: str) -> bytes:
    out = io.BytesIO()
    Image.new("L", (side, side), 90).save(out, kind)
    return out.getvalue()


def _workbooks() -> Iterator[bytes]:
    sheet = _part(workbook(), SHEET)
    yield repacked(workbook(), {SHEET: sheet.replace(b'<row r="3"', b'<row r="2000000000"')})
    yield repacked(workbook(), {SHEET: sheet.replace(b'r="B3"', b'r="XFDXFD3"')})
    yield repacked(workbook(), {"xl/sharedStrings.xml": SHARED + b"<si><t/></si>" * 3_500_000})
    yield repacked(workbook(), {"xl/sharedStrings.xml": ENTITIES})
    yield repacked(workbook(), {"xl/styles.xml": b" " * 300_000_000})
    row = b'<row r="%d"><c r="A%d"><v>1</v></c></row>'
    rows = b"".join(row % (k, k) for k in range(1, 400_000))
    whole = sheet.split(b"<sheetData>")[0] + b"<sheetData>" + rows + b"</sheetData></worksheet>"
    yield repacked(workbook(), {SHEET: whole})
    yield repacked(workbook(), {SHEET: b"<a>" * 2_000_000})
    yield repacked(workbook(), {f"xl/more/{k}.xml": b"" for k in range(70_000)})


def _tables(good: bytes) -> Iterator[bytes]:
    first, _, rest = good.partition(b"\n")
    yield b"1," * 5_000_000
    yield first + b"\n" + b"1," * 5_000_000 + b"\n" + rest
    yield first + b"," + b"x," * 500_000 + b"\n" + rest
    yield good + b"\n" * 10_000_000
    yield good + b'"' + b"a\n" * 3_000_000
    yield first + b"\n" + (rest.splitlines()[0] + b"\n") * 250_000
    yield b"\xff\xfe" + "1,\n".encode("utf-16-le") * 1_000_000


def _outlines() -> Iterator[bytes]:
    feature = json.loads(outlines())["features"][0]
    yield b"[" * 9_000_000
    yield b'{"type":"FeatureCollection","features":[' + b"{}," * 3_000_000 + b"{}]}"
    many = [[x + k * 1e-9, y] for k in range(60_000) for x, y in RING]
    feature["geometry"]["coordinates"] = [many]
    yield json.dumps(feature).encode()
    yield json.dumps(feature).replace("51.0", "1" * 5_000).encode()[:19_000_000]


def _shapes() -> Iterator[bytes]:
    head = _part(shapes(), "blocks.shp")
    length = struct.pack(">i", 2**30)
    yield repacked(shapes(), {"blocks.shp": head[:24] + length + head[28:]})
    yield repacked(shapes(), {"blocks.shp": head + b"\0" * 300_000_000})
    # Claims two thousand million points in a shape of some.
    claim = bytearray(head)
    claim[100 + 8 + 40 : 100 + 8 + 44] = struct.pack("<i", 2**31 - 1)
    yield repacked(shapes(), {"blocks.shp": bytes(claim)})
    table = bytearray(_part(shapes(), "blocks.dbf"))
    table[4:8] = struct.pack("<I", 2**32 - 1)
    yield repacked(shapes(), {"blocks.dbf": bytes(table)})
    yield repacked(shapes(), {"blocks.prj": b"PROJCS[" * 3_000_000})
    yield repacked(shapes(), {f"{k}.shp": b"" for k in range(70_000)})


def _pictures() -> Iterator[bytes]:
    yield _flat(7_700, "PNG")
    yield _flat(16_000, "PNG")
    yield _claims((2**31 - 1, 2**31 - 1))
    yield _claims((60_000, 2))
    out = io.BytesIO()
    frames = [Image.new("P", (2_000, 2_000), k) for k in range(200)]
    frames[0].save(out, "GIF", save_all=True, append_images=frames[1:])
    yield out.getvalue()


def _bombs_of(kind: Format) -> Iterator[bytes]:
    match kind.name:
        case "readings as CSV":
            return _tables(readings())
        case "days of weather" | "hours of weather":
            return _tables(days_of_weather())
        case "laboratory sheet":
            return _tables(laboratory())
        case "worksheet":
            return _tables(worksheet())
        case "readings as a workbook":
            return _workbooks()
        case "outlines as GeoJSON":
            return _outlines()
        case "outlines as a shapefile":
            return _shapes()
        case _:
            return _pictures()


def files() -> Iterator[tuple[Format, bytes]]:
    """Bombs of every format, each with the kind of file it claims to be."""
    for kind in FORMATS:
        for data in _bombs_of(kind):
            yield kind, data


def packed_bodies() -> Iterator[bytes]:
    """Bodies of an ingest, as gzip."""
    yield gzip.compress(b" " * 1_000_000_000, 9, mtime=0)
    yield gzip.compress(b"[" * 60_000_000, 9, mtime=0)
    yield gzip.compress(b'{"series":[' + b"{}," * 10_000_000 + b"{}]}", 9, mtime=0)
    yield gzip.compress(b"channel,time,value,unit\n" + b"1,1,1,%\n" * 5_000_000, 9, mtime=0)
