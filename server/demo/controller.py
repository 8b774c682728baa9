"""Valves of the demo farm as they stand in the field: what its simulated controller has."""

from dataclasses import dataclass

CONTROLLER = "Pump house controller"


@dataclass(frozen=True)
class DemoValve:
    """A valve, the block behind it and its flow by the block's design [L/s]."""

    number: int
    name: str
    block: str
    flow_ls: float


# Rate × area: 2.4 mm/h on 6.2 ha, 2.6 mm/h on 7.4 ha in two halves, 1.1 mm/h on 4.1 ha.
VALVES = (
    DemoValve(1, "Alder Reach", "Alder Reach", 41.3),
    DemoValve(2, "Upper Hanger, north", "Upper Hanger", 26.7),
    DemoValve(3, "Upper Hanger, south", "Upper Hanger", 26.7),
    DemoValve(4, "Wick Terrace", "Wick Terrace", 12.5),
)
