"""Prices of power by hour, weekday and holiday, worked by hand."""

from datetime import date, datetime, timedelta

import numpy as np
import pytest

from core.plan.energy import pumping_kwh_m3
from core.plan.slots import SLOT_H
from core.plan.tariff import Tariff, TariffBand, TariffProblem, slot_prices

WORKDAYS = frozenset(range(5))
NIGHT = TariffBand(22, 6, 0.10)
PEAK = TariffBand(16, 20, 0.40, WORKDAYS)
TARIFF = Tariff(0.20, (NIGHT, PEAK))
MONDAY = datetime(2026, 7, 13)


def test_lifting_water() -> None:
    """9.81 * 100 / (3600 * 0.6): handbook figure, exact."""
    assert pumping_kwh_m3(100.0, 0.6) == pytest.approx(0.454, abs=0.0005)
    assert pumping_kwh_m3(0.0, 0.6) == 0.0


@pytest.mark.parametrize("head, efficiency", [(-1.0, 0.6), (50.0, 0.0), (50.0, 1.1)])
def test_what_no_pump_does(head: float, efficiency: float) -> None:
    with pytest.raises(ValueError, match="head_m must be"):
        pumping_kwh_m3(head, efficiency)


@pytest.mark.parametrize(
    "hour, price",
    [(0, 0.10), (5, 0.10), (6, 0.20), (15, 0.20), (16, 0.40), (19, 0.40), (20, 0.20), (22, 0.10)],
)
def test_by_the_hour(hour: int, price: float) -> None:
    assert TARIFF.price_at(MONDAY.replace(hour=hour)) == price


def test_by_the_weekday() -> None:
    saturday = MONDAY + timedelta(days=5)
    assert TARIFF.price_at(saturday.replace(hour=17)) == 0.20


def test_a_night_belongs_to_the_day_it_began_on() -> None:
    """From Friday 22:00 to Saturday 6:00, and not from Sunday to Monday."""
    tariff = Tariff(0.20, (TariffBand(22, 6, 0.10, WORKDAYS),))
    friday = MONDAY + timedelta(days=4)
    assert tariff.price_at(friday.replace(hour=23)) == 0.10
    assert tariff.price_at((friday + timedelta(days=1)).replace(hour=3)) == 0.10
    assert tariff.price_at((friday + timedelta(days=1)).replace(hour=23)) == 0.20
    assert tariff.price_at(MONDAY.replace(hour=3)) == 0.20


def test_a_holiday_is_a_sunday() -> None:
    tariff = Tariff(0.20, (PEAK,), frozenset({date(2026, 7, 13)}))
    assert tariff.price_at(MONDAY.replace(hour=17)) == 0.20
    assert tariff.price_at((MONDAY + timedelta(days=1)).replace(hour=17)) == 0.40


def test_the_first_band_that_holds_counts() -> None:
    tariff = Tariff(0.20, (TariffBand(0, 24, 0.30), NIGHT))
    assert tariff.price_at(MONDAY.replace(hour=23)) == 0.30


def test_a_slot_in_which_the_price_changes() -> None:
    """From 5:00 to 7:00 half an hour is two of four parts at night's price."""
    starts = [MONDAY.replace(hour=h) for h in (3, 5, 7)]
    assert slot_prices(TARIFF, starts) == pytest.approx(np.array([0.10, 0.15, 0.20]))
    assert SLOT_H == 2.0


@pytest.mark.parametrize(
    "field, made",
    [
        ("price", lambda: Tariff(-0.1)),
        ("peak_price", lambda: Tariff(0.1, peak_price=float("inf"))),
        ("bands.0.price", lambda: Tariff(0.1, (TariffBand(0, 6, -1.0),))),
        ("bands.1.from_hour", lambda: Tariff(0.1, (NIGHT, TariffBand(6, 6, 0.1)))),
        ("bands.0.from_hour", lambda: Tariff(0.1, (TariffBand(6, 25, 0.1),))),
        ("bands.0.weekdays", lambda: Tariff(0.1, (TariffBand(6, 8, 0.1, frozenset()),))),
    ],
)
def test_tariffs_that_can_not_be(field: str, made: object) -> None:
    with pytest.raises(TariffProblem) as problem:
        made()  # type: ignore[operator]
    assert problem.value.field == field
