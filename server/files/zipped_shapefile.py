"""A Shapefile's parts in an archive, and the letters that its table is written in."""

import codecs
import re
import zipfile

from core.sentence import Sentence, sentence
from server.base.errors import RequestError

PARTS = ("shp", "dbf", "shx", "prj", "cpg")
# Of a table's head: where its records begin, where its columns do, and what one takes [bytes].
_RECORDS_AT, _COLUMNS_AT, _COLUMN, _NAME = slice(8, 10), 32, 32, 11
# What tables are written in that name nothing and are no UTF-8.
_WESTERN = "cp1252"


def shapefile_parts(
    packed: zipfile.ZipFile, most_bytes: int, too_large: Sentence
) -> dict[str, bytes]:
    """What a packed Shapefile is made of, by the parts' endings.

    Raises
    ------
    RequestError
        When a part is missing, or as ``too_large`` says.
    """
    if sum(i.file_size for i in packed.infolist()) > most_bytes:
        raise RequestError(too_large)
    by_ending = {n.lower().rsplit(".", 1)[-1]: n for n in packed.namelist() if "." in n}
    if "shp" not in by_ending or "dbf" not in by_ending:
        raise RequestError(
            sentence(
                "The archive holds no Shapefile: .shp and .dbf are needed, and .prj for the "
                "projection. Zip them together."
            )
        )
    return {e: packed.read(by_ending[e]) for e in PARTS if e in by_ending}


def table_encoding(parts: dict[str, bytes]) -> str:
    """How the letters of a Shapefile's table are encoded: as its .cpg says, else as they read."""
    stated = parts.get("cpg", b"").decode("ascii", "replace").strip()
    if code := re.fullmatch(r"(?:ANSI|OEM|cp|windows-)?[ -]?(\d{3,6})", stated, re.I):
        stated = f"cp{code[1]}" if not code[1].startswith("8859") else f"iso-8859-{code[1][4:]}"
    try:
        return codecs.lookup(stated).name
    except LookupError:
        pass
    table = parts["dbf"]
    begin = int.from_bytes(table[_RECORDS_AT], "little")
    names = [table[at : at + _NAME] for at in range(_COLUMNS_AT, begin - 1, _COLUMN)]
    try:
        b"".join([*names, table[begin:]]).decode("utf-8")
    except UnicodeDecodeError:
        return _WESTERN
    return "utf-8"
