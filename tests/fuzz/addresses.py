"""Requests of every operation with something odd in the address or the headers."""

import random
from typing import Any
from urllib.parse import quote

from tests.fuzz.bodies import TEXTS, TIMES
from tests.fuzz.request import Request, filled

KEYS = (
    *("0", "-1", "1", "2147483648", "9223372036854775808", "1" * 300, "1.5", "1e3", "None"),
    *("true", "[]", "*", ".", "..", "1;2", "1 2", "0x1", "+1", "1_000", "٣"),
)
HEADERS = (
    {"Content-Type": "text/plain"},
    {"Content-Type": "application/json; charset=utf-7"},
    {"Content-Type": "multipart/form-data"},
    {"Content-Type": "multipart/form-data; boundary=" + "x" * 300},
    {"Content-Type": "application/x-www-form-urlencoded"},
    {"Content-Encoding": "gzip"},
    {"Content-Encoding": "br, gzip"},
    {"Content-Length": "0"},
    {"Accept": "text/html, */*;q=0"},
    {"Accept-Encoding": "gzip;q=x, *;q=0"},
    {"Accept-Language": "x" * 500},
    {"If-None-Match": "*"},
    {"If-Modified-Since": "Fri, 31 Dec 9999 23:59:59 GMT"},
    {"Range": "bytes=5-2"},
    {"X-Forwarded-For": "::1, " * 200},
    {"X-Forwarded-For": "not an address"},
    {"Authorization": "Bearer " + "\u00e9" * 40},
    {"Authorization": "Bearer"},
    {"Cookie": "sessionid=" + "x" * 3_000},
    {"Origin": "null", "Referer": "http://[::1"},
    {"X-HTTP-Method-Override": "DELETE"},
)


def odd_address(
    method: str, path: str, operation: dict[str, Any], keys: dict[str, Any], chance: random.Random
) -> Request:
    """An operation with one odd key in its path, odd queries, or an odd header.

    Parameters
    ----------
    keys : values of the path's parameters that lead somewhere
    """
    values = dict(keys)
    if values and chance.random() < 0.4:
        values[chance.choice(list(values))] = chance.choice((*KEYS, *TEXTS[:30], *TIMES))
    queries = [p["name"] for p in operation.get("parameters", []) if p["in"] == "query"]
    query = ""
    for name in [*queries, *queries, "more"]:
        if chance.random() < 0.6:
            value = chance.choice((*KEYS, *TEXTS[:30], *TIMES))
            query += f"&{name}={quote(value, safe='', errors='surrogatepass')}"
    if query and chance.random() < 0.1:
        query += chance.choice(("&%", "&%zz=%", "&=", "&a[]=1", "&" * 2_000, "&%ff=%fe"))
    headers = chance.choice(HEADERS) if chance.random() < 0.4 else {}
    body = chance.choice((b"", b"{}", b"\xff\xfe", b"a=b")) if method != "get" else b""
    address = filled(path, values) + ("?" + query[1:] if query else "")
    return Request("address", method.upper(), address, body, "application/json", headers)
