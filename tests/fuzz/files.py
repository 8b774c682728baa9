"""Good files of every format that is taken, and what becomes of them on a bad day."""

import io
import json
import random
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

import shapefile
from openpyxl import Workbook
from PIL import Image
from pyproj import CRS

from tests.fuzz.bodies import NUMBERS, TEXTS, TIMES, mutated
from tests.fuzz.request import Request, uploaded

PART_NAMES = ("x", "../../x", "/x", "a\x00b", "x/" * 400, "X.SHP", "xl/x.xml", "\u202e", "x" * 300)


@dataclass(frozen=True)
class Format:
    """A kind of file: where it goes, a good one, and what the form says with it.

    path : with ``{instrument_id}`` where it belongs to one
    inside : how a file of this kind is broken besides byte by byte
    """

    name: str
    path: str
    file_name: str
    good: Callable[[], bytes]
    form: dict[str, str]
    inside: Callable[[bytes, random.Random], bytes]


# --- how files break ---------------------------------------------------------------------


def by_bytes(data: bytes, chance: random.Random) -> bytes:
    """Bytes turned, cut off, put in, said twice or left out."""
    out = bytearray(data)
    for _ in range(chance.choice((1, 1, 2, 8))):
        at = chance.randrange(len(out) + 1)
        length = chance.choice((1, 1, 4, 40, 400))
        what = chance.randrange(6)
        if what == 0 and out:
            out[min(at, len(out) - 1)] ^= 1 << chance.randrange(8)
        elif what == 1:
            del out[at:]
        elif what == 2:
            out[at:at] = chance.randbytes(length)
        elif what == 3:
            out[at:at] = out[at : at + length] * chance.choice((1, 2, 30))
        elif what == 4:
            del out[at : at + length]
        else:
            out[at : at + length] = bytes([chance.choice((0, 9, 10, 34, 44, 128, 255))]) * length
    return bytes(out)


def by_cells(data: bytes, chance: random.Random) -> bytes:
    """Cells of a table as somebody may type them, columns too many, rows that are not."""
    lines = [line.split(",") for line in data.decode().splitlines()]
    for _ in range(chance.choice((1, 2, 6))):
        row = chance.choice(lines)
        column = chance.randrange(len(row))
        what = chance.randrange(5)
        if what == 0:
            row.insert(column, chance.choice(TEXTS[:20]))
        elif what == 1 and len(row) > 1:
            del row[column]
        elif what == 2:
            lines.insert(chance.randrange(len(lines)), chance.choice(([""], ["", "", ""], row[:])))
        else:
            row[column] = chance.choice((*NUMBERS, *TEXTS, *TIMES))
    text = chance.choice("\n\n\n\r").join(chance.choice(",,,,;\t").join(row) for row in lines)
    return text.encode(chance.choice(("utf-8", "utf-8", "utf-16", "utf-8-sig")), "surrogatepass")


def by_parts(data: bytes, chance: random.Random) -> bytes:
    """A packed file with one of its parts broken, left out or twice in it, packed well again."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as packed, zipfile.ZipFile(out, "w", 8) as again:
        names = packed.namelist()
        broken, what = chance.choice(names), chance.randrange(6)
        for name in names:
            part = packed.read(name)
            if name != broken:
                again.writestr(name, part)
            elif what == 1:
                again.writestr(chance.choice(PART_NAMES), part)
            elif what > 1:
                again.writestr(name, chance.choice((by_bytes, by_values))(part, chance))
    return out.getvalue()


def by_values(data: bytes, chance: random.Random) -> bytes:
    """Numbers and texts between quotes or tags, in whatever they stand, put otherwise."""
    found = list(re.finditer(rb"\d+(?:\.\d+)?|(?<=[>\"])[^<>\"]{1,40}(?=[<\"])", data))
    if not found:
        return by_bytes(data, chance)
    for one in sorted(chance.sample(found, min(len(found), 2)), key=lambda m: -m.start()):
        value = chance.choice((*NUMBERS, *TEXTS[:20], *TIMES))
        data = data[: one.start()] + value.encode("utf-8", "surrogatepass") + data[one.end() :]
    return data


def by_json(data: bytes, chance: random.Random) -> bytes:
    return mutated(json.loads(data), chance).encode("utf-8", "surrogatepass")


# --- good ones ---------------------------------------------------------------------------

DAYS = range(1, 29)
HEADINGS = ("time", "VWC_10cm", "VWC_20cm")


def _table(heading: str, rows: list[str]) -> bytes:
    return "\n".join([heading, *rows, ""]).encode()


def readings() -> bytes:
    rows = [f"2026-06-{d:02d} 06:00,{20 + d / 10},{22 + d / 10}" for d in DAYS]
    return _table(",".join(HEADINGS), rows)


@cache
def workbook() -> bytes:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.append(list(HEADINGS))
    for day in DAYS:
        sheet.append([f"2026-06-{day:02d} 06:00", 0.2 + day / 1000, 0.22])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def days_of_weather() -> bytes:
    rows = [f"2026-06-{d:02d},12.3,21.5,84,63,2.8,22,1" for d in DAYS]
    heading = "date,Tmin (°C),Tmax (°C),RH max %,RH min %,wind m/s,solar MJ/m2,rain mm"
    return _table(heading, rows)


def hours_of_weather() -> bytes:
    rows = [f"2026-07-{d:02d}T{h:02d}:00,21,60,2,300,0" for d in (3, 4) for h in range(24)]
    heading = "time,Temperature (°C),RH %,wind m/s,Solar radiation (W/m2),rain mm"
    return _table(heading, [*rows, "2026-07-05T00:00,20,60,2,0,0"])


def laboratory() -> bytes:
    rows = ["Slade,0,30,40,20,3", "Slade,30,90,35,30,1", "Over,0,60,70,10,2"]
    return _table("soil,top cm,bottom cm,sand,clay,organic matter", rows)


def worksheet() -> bytes:
    rows = [f"{raw},{160 + raw / 10},140,10,100" for raw in (300, 400, 500, 600, 700)]
    return _table("raw,wet_g,dry_g,tare_g,volume_ml", rows)


RING = [[0.001, 51.0], [0.004, 51.0], [0.004, 51.003], [0.001, 51.003], [0.001, 51.0]]


def outlines() -> bytes:
    shapes = [("Slade", [RING]), ("Over", [[[x + 0.01, y] for x, y in RING]])]
    features = [
        {
            "type": "Feature",
            "properties": {"name": name, "area": 6.9},
            "geometry": {"type": "Polygon", "coordinates": rings},
        }
        for name, rings in shapes
    ]
    return json.dumps({"type": "FeatureCollection", "features": features}).encode()


@cache
def shapes() -> bytes:
    parts = {ending: io.BytesIO() for ending in ("shp", "shx", "dbf")}
    with shapefile.Writer(**parts) as writer:
        writer.field("NAME", "C")
        writer.poly([RING])
        writer.record("Slade")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for ending, part in parts.items():
            packed.writestr(f"blocks.{ending}", part.getvalue())
        packed.writestr("blocks.prj", CRS.from_epsg(4326).to_wkt("WKT1_ESRI"))
    return out.getvalue()


def picture(kind: str) -> Callable[[], bytes]:
    @cache
    def made() -> bytes:
        out = io.BytesIO()
        Image.radial_gradient("L").resize((96, 64)).convert("RGB").save(out, kind)
        return out.getvalue()

    return made


_PHOTOS = "instruments/{instrument_id}/photos"
_SURE = {"dry_run": "false"}
FORMATS = (
    Format("readings as CSV", "imports", "logger.csv", readings, {}, by_cells),
    Format("readings as a workbook", "imports", "logger.xlsx", workbook, {}, by_parts),
    Format("days of weather", "weather-file", "days.csv", days_of_weather, _SURE, by_cells),
    Format("hours of weather", "weather-file", "hours.csv", hours_of_weather, _SURE, by_cells),
    Format("laboratory sheet", "laboratory", "soils.csv", laboratory, {}, by_cells),
    Format(
        *("worksheet", "instruments/{instrument_id}/worksheet/file", "sheet.csv", worksheet),
        *({}, by_cells),
    ),
    Format("outlines as GeoJSON", "map/import", "blocks.geojson", outlines, {}, by_json),
    Format("outlines as a shapefile", "map/import", "blocks.zip", shapes, {}, by_parts),
    Format("photo as JPEG", _PHOTOS, "site.jpg", picture("JPEG"), {}, by_bytes),
    Format("photo as PNG", _PHOTOS, "site.png", picture("PNG"), {}, by_bytes),
)


def sent(kind: Format, data: bytes, slug: str, instrument_id: int) -> Request:
    """A file of a kind as it is uploaded."""
    path = f"/api/farms/{slug}/{kind.path}".replace("{instrument_id}", str(instrument_id))
    return uploaded(kind.name, path, kind.file_name, data, **kind.form)


def broken(kind: Format, chance: random.Random) -> bytes:
    """A good file of a kind after an accident."""
    return chance.choice((by_bytes, kind.inside, kind.inside))(kind.good(), chance)
