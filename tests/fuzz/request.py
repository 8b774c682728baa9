"""A request as it goes over the wire, whatever was thought up."""

from dataclasses import dataclass, field
from io import BytesIO
from typing import Any
from urllib.parse import quote

from urllib3.filepost import encode_multipart_formdata


@dataclass(frozen=True)
class Request:
    """What is asked; ``of`` says what kind of input it is, for whoever has to look into it."""

    of: str
    method: str
    path: str
    body: bytes = b""
    content_type: str = ""
    headers: dict[str, str] = field(default_factory=dict)

    def headers_sent(self) -> dict[str, str]:
        """The headers as they go over the wire: UTF-8, told to a library as Latin-1."""
        return {k: v.encode().decode("latin-1") for k, v in self.headers.items()}

    def __str__(self) -> str:
        shown = self.body[:300] + (b"..." if len(self.body) > 300 else b"")
        return f"{self.of}: {self.method} {self.path} {shown!r}"


def uploaded(of: str, path: str, name: str, data: bytes, **form: str) -> Request:
    """A file as a browser sends it, with what the form says besides."""
    body, kind = encode_multipart_formdata({**form, "file": (name, BytesIO(data).read())})
    return Request(of, "POST", path, body, kind)


def filled(path: str, values: dict[str, Any]) -> str:
    """A path with values in place of its parameters, as an address may have them."""
    for name, value in values.items():
        path = path.replace(f"{{{name}}}", quote(str(value), safe="", errors="surrogatepass"))
    return path
