"""Arrays as bytes in the database: compressed, in a form with a version of its own."""

import io
import zlib

import numpy as np

from core.arrays import Floats, Ints
from core.siting.clean import Dropped
from core.siting.yield_points import YieldPoints

FORMAT = b"EFS1"
POINT_ARRAYS = ("x", "y", "value", "time_s", "speed_m_s", "width_m")


def packed(arrays: dict[str, Floats]) -> bytes:
    """Arrays by name, each as 32-bit floats."""
    buffer = io.BytesIO()
    np.savez(
        buffer, allow_pickle=False, **{n: np.asarray(a, np.float32) for n, a in arrays.items()}
    )
    return FORMAT + zlib.compress(buffer.getvalue(), 6)


def unpacked(data: bytes | memoryview) -> dict[str, Floats]:
    """Arrays by name, as 64-bit floats.

    Raises
    ------
    ValueError
        When the bytes are of a form that this version does not know.
    """
    with np.load(io.BytesIO(_opened(data)), allow_pickle=False) as arrays:
        return {n: arrays[n].astype(float) for n in arrays.files}


def _opened(data: bytes | memoryview) -> bytes:
    stored = bytes(data)
    if stored[:4] != FORMAT:
        raise ValueError("arrays are packed in another form")
    return zlib.decompress(stored[4:])


def packed_points(points: YieldPoints) -> bytes:
    """Points on a block's map; times are kept from the first one on."""
    arrays = {n: getattr(points, n) for n in POINT_ARRAYS if getattr(points, n) is not None}
    if points.time_s is not None and len(points):
        arrays["time_s"] = points.time_s - np.nanmin(points.time_s)
    return packed(arrays)


def unpacked_points(data: bytes | memoryview) -> YieldPoints:
    """Points on a block's map."""
    return YieldPoints(**unpacked(data))


def packed_label(label: Ints) -> bytes:
    """Small whole numbers by cell, from -1."""
    return FORMAT + zlib.compress(label.astype(np.int8).tobytes(), 6)


def unpacked_label(data: bytes | memoryview) -> Ints:
    """Small whole numbers by cell.

    Raises
    ------
    ValueError
        When the bytes are of a form that this version does not know.
    """
    return np.frombuffer(_opened(data), np.int8).astype(int)


def counts(why: Ints) -> dict[str, int]:
    """Points by what became of them."""
    return {d.name.lower(): int((why == d).sum()) for d in Dropped}
