"""Times of yield points as machines write them."""

import numpy as np
import polars as pl
import pytest

from server.siting.layer_files.point_times import point_seconds


def read(*texts: str | None) -> list[float]:
    found = point_seconds(pl.Series(list(texts), dtype=pl.String))
    assert found is not None
    first = found[np.isfinite(found)][0]
    return [round(float(v - first), 3) for v in found]


@pytest.mark.parametrize(
    "texts",
    [
        ("2023-08-10T10:00:05", "2023-08-10T10:00:06", "2023-08-11T10:00:05"),
        ("2023-08-10T10:00:05Z", "2023-08-10T12:00:06+02:00", "2023-08-11T10:00:05Z"),
        ("10.08.2023 10:00:05", "10.08.2023 10:00:06", "11.08.2023 10:00:05"),
        ("8/10/2023 10:00:05 AM", "8/10/2023 10:00:06 AM", "8/11/2023 10:00:05 AM"),
        ("10-Aug-2023 10:00:05", "10-Aug-2023 10:00:06", "11-Aug-2023 10:00:05"),
        ("20230810100005", "20230810100006", "20230811100005"),
    ],
)
def test_dates_in_any_order(texts: tuple[str, ...]) -> None:
    assert read(*texts) == [0.0, 1.0, 86_400.0]


def test_a_date_of_two_readings_makes_the_shorter_harvest() -> None:
    # The eighth to tenth of September, or the ninth of three months.
    assert read("9/8/2023 10:00", "9/9/2023 10:00", "9/10/2023 10:00")[-1] == 2 * 86_400
    assert read("8/9/2023 10:00", "9/9/2023 10:00", "10/9/2023 10:00")[-1] == 2 * 86_400


def test_a_clock_alone_passes_midnight() -> None:
    assert read("23:59:59", "", "00:00:01.5", "00:00:02") == pytest.approx(
        [0.0, np.nan, 2.5, 3.0], nan_ok=True
    )
    assert read("11:59:59 PM", "12:00:01 AM") == [0.0, 2.0]


def test_what_is_no_time_is_none() -> None:
    assert point_seconds(pl.Series(["east", "west", "2023-08-10T10:00:05"])) is None
    assert point_seconds(pl.Series([None, None], dtype=pl.String)) is None
