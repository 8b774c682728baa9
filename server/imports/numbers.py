"""Cells as numbers: decimal comma or point, grouped thousands, marks for no reading."""

import numpy as np
import polars as pl

from core.arrays import Bools, Floats
from core.instrument.possible import is_sentinel
from server.files.table_file import MISSING

_SPACES = r"[\s\u00a0\u202f']"
_GROUPED_POINT = r"^[+-]?\d{1,3}(?:\.\d{3})+(?:,\d+)?$"
_GROUPED_COMMA = r"^[+-]?\d{1,3}(?:,\d{3})+(?:\.\d+)?$"


def read_numbers(
    cells: list[str], decimal_comma: bool, missing: frozenset[str]
) -> tuple[Floats, Bools]:
    """Numbers of a column.

    Parameters
    ----------
    missing : lower-case texts that stand for no reading, besides the usual ones

    Returns
    -------
    value : array
        NaN where there is none.
    wrong : array of bool
        Where there is text that is no number.
    """
    text = pl.Series(cells, dtype=pl.String).str.strip_chars(' \t"\u00a0')
    empty = text.str.to_lowercase().is_in(list(MISSING | missing)).to_numpy()
    value = _cast(text.str.replace("\u2212", "-", literal=True))
    if np.isnan(value[~empty]).any():
        value = _cast(_plain(text, decimal_comma))
    gone = empty | is_sentinel(value)
    wrong = ~gone & ~np.isfinite(value)
    return np.where(gone | wrong, np.nan, value), wrong


def _cast(text: pl.Series) -> Floats:
    return text.cast(pl.Float64, strict=False).fill_null(float("nan")).to_numpy().copy()


def _plain(text: pl.Series, decimal_comma: bool) -> pl.Series:
    """Numbers in the one way that a machine reads."""
    text = text.str.replace("\u2212", "-", literal=True).str.replace_all(_SPACES, "")
    frame = text.to_frame("t")
    t = pl.col("t")
    if decimal_comma:
        plain = (
            pl.when(t.str.contains(_GROUPED_POINT))
            .then(t.str.replace_all(".", "", literal=True))
            .otherwise(t)
            .str.replace(",", ".", literal=True)
        )
    else:
        plain = (
            pl.when(t.str.contains(_GROUPED_COMMA))
            .then(t.str.replace_all(",", "", literal=True))
            .otherwise(t)
        )
    return frame.select(plain).to_series()


def uses_decimal_comma(cells: list[str]) -> bool:
    """Whether most numbers that bear a mark bear a comma."""
    text = pl.Series(cells, dtype=pl.String).str.strip_chars()
    comma = int(text.str.contains(r"^[+-]?\d+,\d+$").sum())
    point = int(text.str.contains(r"^[+-]?\d+\.\d+$").sum())
    return comma > point
