"""What loggers send after an accident: as JSON of two shapes, as CSV, plain and packed."""

import gzip
import random
from collections.abc import Iterator

from tests.fuzz.bodies import mutated
from tests.fuzz.bombs import packed_bodies
from tests.fuzz.files import by_bytes, by_cells
from tests.fuzz.request import Request

START = 1_783_000_000


def _batch(token: str, body: bytes, kind: str, encoding: str = "") -> Request:
    headers = {"Authorization": f"Bearer {token}"}
    if encoding:
        headers["Content-Encoding"] = encoding
    return Request("ingest", "POST", "/api/ingest", body, kind, headers)


def batches(
    tokens: list[str], channels: list[int], count: int, chance: random.Random
) -> Iterator[Request]:
    """So many batches of loggers with tokens, each in turn, for channels that exist."""
    for number in range(count):
        token = tokens[number % len(tokens)]
        channel, at = chance.choice(channels), START + 900 * number
        what = chance.randrange(5)
        if what == 0:
            rows = [{"channel": channel, "time": at, "value": 0.2, "unit": "m3/m3"}] * 2
            body = mutated({"batch": f"r{number}", "readings": rows}, chance)
            yield _batch(token, body.encode(), "application/json")
        elif what < 3:
            series = [
                {"channel": channel, "unit": "m3/m3", "times": [at], "values": [0.24]},
                {"channel": channel, "unit": "%", "times": [at + 1, at + 2], "values": [24, None]},
            ]
            said = {"sent_at": at + 60, "battery_v": 3.6, "signal_dbm": -80}
            body = mutated({"batch": f"s{number}", **said, "series": series}, chance)
            yield _batch(token, body.encode(), "application/json")
        else:
            rows = [f"{channel},{at},0.24,m3/m3", f"{channel},{at + 9},24,%"]
            table = "\n".join(["channel,time,value,unit", *rows, ""]).encode()
            broken = (by_cells if what == 3 else by_bytes)(table, chance)
            if chance.random() < 0.3:
                packed = gzip.compress(broken, mtime=0)
                packed = packed if chance.random() < 0.5 else by_bytes(packed, chance)
                yield _batch(token, packed, "text/csv", "gzip")
            else:
                yield _batch(token, broken, "text/csv")


def packed(token: str) -> Iterator[Request]:
    """Batches that unpack to far more than a batch is."""
    for body in packed_bodies():
        for kind in ("application/json", "text/csv"):
            yield _batch(token, body, kind, "gzip")
