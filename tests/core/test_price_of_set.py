"""What an irrigation costs, by hand."""

import pytest

from core.plan.network import Connection, Network, Source
from core.plan.price_of_set import price_of_set
from core.plan.tariff import Tariff, TariffBand

BORE = Source("North bore", kwh_m3=0.5, water_price=0.02, tariff="Farm power")
POWER = ("Farm power", Tariff(0.30, (TariffBand(22, 6, 0.10),)))


def test_water_power_and_labour() -> None:
    """800 m3 at 0.02 and 0.5 kWh for 0.30 each: 16 and 120; a quarter of an hour for 24: 6."""
    connection = Connection(7, labour_h=0.25)
    farm = Network((BORE,), tariffs=(POWER,), connections=(connection,), labour_price=24.0)
    assert price_of_set(farm, "north bore", 7, 800.0) == pytest.approx(142.0)
    # Another block takes labour that nobody told of.
    assert price_of_set(farm, "North bore", 8, 800.0) == pytest.approx(136.0)
    # By gravity there is the labour alone.
    assert price_of_set(farm, "", 7, 800.0) == pytest.approx(6.0)


def test_each_alone_and_none() -> None:
    unpriced = Source("Ditch")
    assert price_of_set(Network((unpriced,)), "Ditch", 1, 500.0) is None
    water = Source("Ditch", water_price=0.04)
    assert price_of_set(Network((water,)), "Ditch", 1, 500.0) == pytest.approx(20.0)
    # Power is counted where there is a tariff for it.
    power = Source("Bore", kwh_m3=0.4, tariff="Farm power")
    assert price_of_set(Network((power,), tariffs=(POWER,)), "Bore", 1, 100.0) == pytest.approx(12)
    assert price_of_set(Network((Source("Bore", kwh_m3=0.4),)), "Bore", 1, 100.0) is None
