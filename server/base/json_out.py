"""Answers as JSON, in which every number is finite."""

import gzip
import json
import math
from collections.abc import Sequence
from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse
from django.utils.cache import patch_vary_headers
from ninja.renderers import JSONRenderer
from pydantic import BaseModel

from core.arrays import Floats
from server.base.incident import record_incident

# Shorter ones are not worth it. One of nine: a fifth larger than at six, in a third of the time.
WORTH_BYTES, LIGHTLY = 1_000, 1


def known(value: float | np.floating, digits: int | None = None) -> float | None:
    """A finite number, rounded for the wire where digits are given, or None."""
    number = float(value)
    if not math.isfinite(number):
        return None
    return number if digits is None else round(number, digits)


def known_rows(values: Floats, digits: int = 4) -> list[list[float | None]]:
    """A table with its gaps as None, rounded for the wire."""
    return [[None if math.isnan(v) else round(v, digits) for v in row] for row in values.tolist()]


def finite(value: Any) -> Any:
    """The same with what is no finite number as null, all the way down."""
    if isinstance(value, float):
        return known(value)
    if isinstance(value, dict):
        return {k: finite(v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [finite(v) for v in value]
    return value


def _takes_gzip(request: HttpRequest) -> bool:
    return "gzip" in request.headers.get("Accept-Encoding", "")


def _answer(body: bytes, *, packed: bool) -> HttpResponse:
    answer = HttpResponse(body, content_type="application/json; charset=utf-8")
    patch_vary_headers(answer, ["Accept-Encoding"])
    if packed:
        answer["Content-Encoding"] = "gzip"
    return answer


def pack(body: bytes) -> bytes:
    """Compressed lightly, for half of the work of a board was to compress it well."""
    return gzip.compress(body, LIGHTLY)


def ready_json(request: HttpRequest, text: str) -> HttpResponse:
    """An answer that is JSON already; a long one packed for who takes it so."""
    body: bytes = text.encode()
    light = len(body) > WORTH_BYTES and _takes_gzip(request)
    return _answer(pack(body) if light else body, packed=light)


def packed_json(request: HttpRequest, packed: bytes) -> HttpResponse:
    """An answer that is JSON and packed already; unpacked for who does not take it so."""
    light = _takes_gzip(request)
    return _answer(packed if light else gzip.decompress(packed), packed=light)


def json_answer(request: HttpRequest, content: BaseModel | Sequence[BaseModel]) -> HttpResponse:
    """An answer of many rows, sent as it was made and not checked a second time; what is no finite
    number goes out as unknown."""
    if isinstance(content, BaseModel):
        return ready_json(request, content.model_dump_json())
    return ready_json(request, f"[{','.join(row.model_dump_json() for row in content)}]")


class FiniteJson(JSONRenderer):
    """JSON has no word for infinity: one that slips through is recorded and goes out as unknown,
    for a page with one figure missing helps more than none."""

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> Any:
        try:
            return json.dumps(data, cls=self.encoder_class, allow_nan=False)
        except ValueError:
            record_incident(f"a number that is not finite at {request.method} {request.path}")
            return json.dumps(finite(data), cls=self.encoder_class, allow_nan=False)
