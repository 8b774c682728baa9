"""The letters of a Shapefile's table."""

import io
import zipfile

import pytest
import shapefile

from core.sentence import sentence
from server.base.errors import RequestError
from server.files.zipped_shapefile import shapefile_parts, table_encoding

TOO_LARGE = sentence("too large")


def packed(encoding: str, cpg: str | None = None, soil: str = "Lößlehm") -> bytes:
    """A soil map of one point, with names that ASCII has no letters for."""
    parts = {e: io.BytesIO() for e in ("shp", "shx", "dbf")}
    with shapefile.Writer(**parts, shapeType=shapefile.POINT, encoding=encoding) as writer:
        writer.field("Größe", "C", 254)
        writer.point(3, 56)
        writer.record(soil)
    archive = io.BytesIO()
    with zipfile.ZipFile(archive, "w") as file:
        for ending, part in parts.items():
            file.writestr(f"soil.{ending}", part.getvalue())
        if cpg is not None:
            file.writestr("soil.cpg", cpg)
    return archive.getvalue()


@pytest.mark.parametrize(
    ("encoding", "cpg", "soil"),
    [
        ("utf-8", None, "Lößlehm"),
        ("cp1252", None, "Lößlehm"),
        ("utf-8", "UTF-8\n", "Glina łęgowa"),
        ("cp1250", "1250", "Glina łęgowa"),
        ("cp1250", "ANSI 1250", "Glina łęgowa"),
        ("iso-8859-15", "ISO-8859-15", "Šedá"),
        ("iso-8859-15", "885915", "Šedá"),
        ("cp1252", "no such letters", "Lößlehm"),
    ],
)
def test_names_are_read_in_the_letters_they_are_written_in(
    encoding: str, cpg: str | None, soil: str
) -> None:
    with zipfile.ZipFile(io.BytesIO(packed(encoding, cpg, soil))) as file:
        parts = shapefile_parts(file, 10**6, TOO_LARGE)
    read = {e: io.BytesIO(parts[e]) for e in ("shp", "shx", "dbf")}
    with shapefile.Reader(**read, encoding=table_encoding(parts)) as reader:
        assert [f[0] for f in reader.fields][-1] == "Größe"
        assert reader.record(0)[0] == soil


def test_an_archive_without_its_parts_or_too_large_is_refused() -> None:
    with (
        zipfile.ZipFile(io.BytesIO(packed("utf-8"))) as file,
        pytest.raises(RequestError, match="too large"),
    ):
        shapefile_parts(file, 100, TOO_LARGE)
    empty = io.BytesIO()
    with zipfile.ZipFile(empty, "w") as file:
        file.writestr("readme.txt", "nothing")
        with pytest.raises(RequestError, match="no Shapefile"):
            shapefile_parts(file, 100, TOO_LARGE)
