"""The columns of a file of points, whatever format it came in."""

from dataclasses import dataclass

import polars as pl

# Points of a file, and columns of one.
MOST_POINTS = 5_000_000
MOST_COLUMNS = 200
# Rows that a person is shown, and that guesses are made of.
SAMPLE_ROWS = 200


@dataclass(frozen=True)
class PointFrame:
    """A table of points as text or numbers.

    Parameters
    ----------
    rows : polars.DataFrame
    projection : str
        As the file names it; empty where it doesn't.
    total : int
        Points in the file, also where ``rows`` holds the first of them alone.
    placed : bool
        Whether the file says where it lies. A picture that doesn't has its points as shares of its
        width from the left and of its height from the top.
    """

    rows: pl.DataFrame
    projection: str
    total: int
    placed: bool = True
