"""Rain by year, as the API takes and gives it."""

from ninja import Field

from server.base.schema import Body, Schema


class RainYearIn(Body):
    year: int = Field(ge=1950, le=2100)
    rain_mm: float = Field(ge=0, le=20_000)


class RainYearsIn(Body):
    """All years of the farm; those that are not told are forgotten."""

    years: list[RainYearIn] = Field(max_length=200)


class RainYearOut(Schema):
    """``rain_mm`` as entered and ``weather_mm`` of the farm's weather; null where not known."""

    year: int
    rain_mm: float | None
    weather_mm: float | None


class RainFileOut(Schema):
    """Years of a file."""

    years: list[RainYearIn]
    saved: bool
