"""A person importing layers of Quern Field, for the tests of siting."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import pytest
from pyproj import Transformer

from server.blocks.models import Block
from server.demo.plan import polygon
from server.farms.models import Farm
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
# Ground of Quern Field on the demo's plan.
WEST, SOUTH, EAST, NORTH = 800, 150, 1120, 475
MOVE = Transformer.from_crs(4326, 32631, always_xy=True)


def net(step: float = 8.0) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Longitude, latitude and a yield on a net over Quern Field: poorer in the west."""
    x, y = (
        a.ravel() for a in np.meshgrid(np.arange(WEST, EAST, step), np.arange(SOUTH, NORTH, step))
    )
    at = np.array([polygon((a, b))["coordinates"][0][0] for a, b in zip(x, y, strict=True)])
    rng = np.random.default_rng(5)
    return at[:, 0], at[:, 1], np.where(x < 950, 6.0, 9.0) * (1 + rng.normal(0, 0.05, len(x)))


def table(heading: str, *columns: Any, separator: str = ",") -> bytes:
    rows = (separator.join(f"{v:.7f}" for v in row) for row in zip(*columns, strict=True))
    return "\n".join([heading, *rows]).encode()


def yield_table(year: int = 0, heading: str = "Longitude,Latitude,Yield (t/ha)") -> bytes:
    lon, lat, value = net()
    return table(heading, lon, lat, value + year)


@dataclass
class Bench:
    """A person importing layers."""

    api: Api
    run_jobs: Callable[[], list[str]]
    block: int

    def upload(self, data: bytes, name: str = "maize 2024.csv") -> Any:
        row = self.api.upload(f"{BASE}/layer-files", name, data, status=202)
        assert row["state"] == "looking"
        self.run_jobs()
        return self.detail(row["id"])

    def detail(self, file: int) -> Any:
        return self.api.get(f"{BASE}/layer-files/{file}")

    def read(self, up: Any, status: int = 200, **changed: Any) -> Any:
        path = f"{BASE}/layer-files/{up['summary']['id']}"
        answer = self.api.put(f"{path}/reading", {**up["reading"], **changed}, status=status)
        if status != 200:
            return answer
        self.run_jobs()
        return self.detail(up["summary"]["id"])

    def store(self, up: Any) -> Any:
        path = f"{BASE}/layer-files/{up['summary']['id']}"
        self.api.post(f"{path}/store", {}, status=202)
        self.run_jobs()
        return self.detail(up["summary"]["id"])["summary"]

    def siting(self) -> Any:
        return self.api.get(f"{BASE}/blocks/{self.block}/siting")


@pytest.fixture(name="bench")
def siting_bench(manager: Api, farm: Farm, run_jobs: Callable[[], list[str]]) -> Bench:
    return Bench(manager, run_jobs, Block.objects.for_farm(farm).get(name="Quern Field").pk)


def three_years(bench: Bench) -> None:
    for year, rain in ((2021, 190), (2022, 410), (2023, 300)):
        up = bench.upload(yield_table(), f"maize {year}.csv")
        bench.store(bench.read(up, rain_mm=rain))
