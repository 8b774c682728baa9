"""Rows of fixed width in and out of PostgreSQL by binary COPY, as numpy arrays.

The binary COPY format is documented with PostgreSQL: a header, then for each row a field
count and, for each field, its length and bytes, all big-endian; -1 ends it. Rows without
nulls and with fields of fixed width are an array.
"""

import numpy as np
from django.db.backends.utils import CursorWrapper
from numpy.typing import NDArray

_HEADER = b"PGCOPY\n\xff\r\n\0" + bytes(8)
_TRAILER = b"\xff\xff"
_SEND = {"i2": "int2send", "i4": "int4send", "i8": "int8send", "f8": "float8send"}
_WIDTH = {"i2": 2, "i4": 4, "i8": 8, "f8": 8}
# timestamptz counts microseconds from here.
EPOCH_US = 946_684_800_000_000

Records = NDArray[np.void]


def _framed(dtype: np.dtype[np.void]) -> np.dtype[np.void]:
    """The row as it travels: field count, then length and value of each field."""
    fields: list[tuple[str, str]] = [("_n", ">i2")]
    for name in dtype.names or ():
        kind = dtype[name].str[1:]
        fields += [(f"_{name}", ">i4"), (name, f">{kind}")]
    return np.dtype(fields)


def copy_in(cursor: CursorWrapper, table: str, rows: Records) -> None:
    """Write records to a table whose columns bear their fields' names.

    Parameters
    ----------
    rows : structured array of i2, i4, i8 and f8 fields
    """
    names = rows.dtype.names or ()
    out = np.empty(rows.shape, _framed(rows.dtype))
    out["_n"] = len(names)
    for name in names:
        out[f"_{name}"] = _WIDTH[rows.dtype[name].str[1:]]
        out[name] = rows[name]
    columns = ", ".join(f'"{n}"' for n in names)
    whole = f"COPY {table} ({columns}) FROM STDIN (FORMAT binary)"
    with cursor.db.wrap_database_errors, cursor.copy(whole) as copy:
        copy.write(_HEADER + out.tobytes() + _TRAILER)


def copy_out(
    cursor: CursorWrapper,
    query: str,
    parameters: dict[str, object],
    dtype: np.dtype[np.void],
    moments: tuple[str, ...] = ("time",),
) -> Records:
    """Rows of a query whose columns have the fields' types, in their order, without nulls.

    Fields named in ``moments`` are timestamps in the query and epoch microseconds here. The rows
    travel as one value: each by itself would be an object in Python on its way. An aggregate
    takes the rows of an ordered subquery in its order.
    """
    names = dtype.names or ()
    columns = [f"c{k}" for k in range(len(names))]
    sent = " || ".join(
        f"{'timestamptz_send' if name in moments else _SEND[dtype[name].str[1:]]}({column})"
        for name, column in zip(names, columns, strict=True)
    )
    whole = f"SELECT string_agg({sent}, ''::bytea) FROM ({query}) AS q({', '.join(columns)})"  # noqa: S608
    # The driver's own cursor: Django's debugging one takes no parameters for a COPY.
    whole = f"COPY ({whole}) TO STDOUT (FORMAT binary)"
    with cursor.db.wrap_database_errors, cursor.cursor.copy(whole, parameters) as copy:
        data = b"".join(bytes(block) for block in copy)
    # One row of one field: header, field count, length, bytes, trailer; no rows are a null.
    body = data[len(_HEADER) + 6 : -len(_TRAILER)]
    rows = np.frombuffer(body, dtype.newbyteorder(">")).astype(dtype)
    for name in names:
        if name in moments:
            rows[name] += EPOCH_US
    return rows
