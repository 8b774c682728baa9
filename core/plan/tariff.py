"""What a kilowatt-hour costs, by hour, weekday and holiday; and what the month's peak costs."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np

from core.arrays import Floats
from core.plan.slots import SLOT_H
from core.sentence import Sentence, sentence

WEEK = frozenset(range(7))
SUNDAY = 6
DAY_HOURS = 24.0
# Prices of a slot are the mean of so many moments in it.
PARTS = 4


class TariffProblem(ValueError):
    """A tariff that can't be used; ``field`` is the input to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


@dataclass(frozen=True)
class TariffBand:
    """Hours of some weekdays at one price.

    from_hour, to_hour : float [h by the farm's clock]; a band past midnight ends below its begin
    price : money for a kWh
    weekdays : 0 is Monday
    """

    from_hour: float
    to_hour: float
    price: float
    weekdays: frozenset[int] = WEEK

    def holds(self, weekday: int, hour: float) -> bool:
        """Whether an hour of a weekday lies in it; what is past midnight belongs to the weekday on
        which the band began."""
        if self.from_hour < self.to_hour:
            return weekday in self.weekdays and self.from_hour <= hour < self.to_hour
        if hour >= self.from_hour:
            return weekday in self.weekdays
        return hour < self.to_hour and (weekday - 1) % 7 in self.weekdays


@dataclass(frozen=True)
class Tariff:
    """Prices of power.

    price : money for a kWh outside every band
    bands : the first one that holds counts
    holidays : days that count as Sundays
    peak_price : money for each kW of a month's highest draw
    """

    price: float
    bands: tuple[TariffBand, ...] = ()
    holidays: frozenset[date] = frozenset()
    peak_price: float = 0.0

    def __post_init__(self) -> None:
        for name, value in (("price", self.price), ("peak_price", self.peak_price)):
            if not 0 <= value < float("inf"):
                raise TariffProblem(name, sentence("A price must be 0 or more."))
        for k, band in enumerate(self.bands):
            if not 0 <= band.price < float("inf"):
                raise TariffProblem(f"bands.{k}.price", sentence("A price must be 0 or more."))
            hours = (band.from_hour, band.to_hour)
            if not all(0 <= h <= DAY_HOURS for h in hours) or hours[0] == hours[1]:
                raise TariffProblem(
                    f"bands.{k}.from_hour",
                    sentence("Enter two different hours from 0 to 24."),
                )
            if not band.weekdays or not band.weekdays <= WEEK:
                raise TariffProblem(f"bands.{k}.weekdays", sentence("Choose at least one weekday."))

    def price_at(self, moment: datetime) -> float:
        """Money for a kWh at a moment of the farm's clock."""
        day = moment.date()
        weekday = SUNDAY if day in self.holidays else day.weekday()
        hour = moment.hour + moment.minute / 60
        return next((b.price for b in self.bands if b.holds(weekday, hour)), self.price)


def slot_prices(tariff: Tariff, starts: Sequence[datetime]) -> Floats:
    """Money for a kWh in each slot.

    Parameters
    ----------
    starts : sequence of datetime, by the farm's clock

    Returns
    -------
    array, shape (slots,)
        Means where a price changes within a slot.
    """
    part = timedelta(hours=SLOT_H / PARTS)
    return np.array(
        [np.mean([tariff.price_at(s + k * part) for k in range(PARTS)]) for s in starts]
    )
