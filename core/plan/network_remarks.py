"""What of a network will stand in the way of planning, or leaves something out of it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

from core.plan.network import Network


class Remark(StrEnum):
    """What is to be told."""

    NO_SUPPLY = "no supply"
    NOT_DESCRIBED = "not described"
    NO_FLOW = "no flow"
    ABOVE_SOURCE = "above source"
    ABOVE_MAIN = "above main"
    BELOW_SMALLEST = "below smallest"


@dataclass(frozen=True)
class NetworkRemark:
    """A remark, the source or main that it is about, and the blocks by their numbers."""

    remark: Remark
    name: str
    blocks: tuple[int, ...]


@dataclass(frozen=True)
class Draw:
    """What a block draws while it runs [m3/h], and the name of its supply."""

    block: int
    supply: str
    flow_m3_h: float


def network_remarks(network: Network, draws: Sequence[Draw]) -> tuple[NetworkRemark, ...]:
    """What a person should know of a network before he plans with it."""
    return tuple(_remarks(network, draws))


def _remarks(network: Network, draws: Sequence[Draw]) -> Iterator[NetworkRemark]:
    none = tuple(d.block for d in draws if not d.supply.strip())
    if none:
        yield NetworkRemark(Remark.NO_SUPPLY, "", none)
    supplies = dict.fromkeys(d.supply.strip() for d in draws if d.supply.strip())
    for supply in supplies:
        own = [d for d in draws if d.supply.strip() == supply]
        numbers = tuple(d.block for d in own)
        if (source := network.source_of(supply)) is None:
            yield NetworkRemark(Remark.NOT_DESCRIBED, supply, numbers)
            continue
        if source.flow_m3_h is None:
            yield NetworkRemark(Remark.NO_FLOW, source.name, numbers)
            continue
        above = tuple(d.block for d in own if d.flow_m3_h > source.flow_m3_h)
        if above:
            yield NetworkRemark(Remark.ABOVE_SOURCE, source.name, above)
        smallest = source.smallest_m3_h or 0.0
        below = tuple(d.block for d in own if d.flow_m3_h < smallest)
        if below:
            yield NetworkRemark(Remark.BELOW_SMALLEST, source.name, below)
    for main in network.mains:
        users = {c.block for c in network.connections if main.name in c.mains}
        above = tuple(d.block for d in draws if d.block in users and d.flow_m3_h > main.flow_m3_h)
        if above:
            yield NetworkRemark(Remark.ABOVE_MAIN, main.name, above)
