"""A network as it is sent, and as it is stored: format 3; format 1 had no wind limits, and none
before 3 had groups."""

from typing import Annotated, Literal, Self

from pydantic import Field

from core.irrigation.system import SystemKind
from core.plan.network import (
    Connection,
    Group,
    Machine,
    Main,
    Network,
    NetworkProblem,
    Source,
    Turn,
    Worker,
    network_faults,
)
from core.plan.tariff import Tariff, TariffBand, TariffProblem
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.base.moment import Day, Moment
from server.base.schema import Body, Name

Weekdays = Annotated[list[int], Field(min_length=1, max_length=7)]
ALL_WEEK = list(range(7))
MOST_PARTS, MOST_BLOCKS = 200, 2000


class TurnPart(Body):
    """A share in time of a ditch: the begin of one turn with its offset, how long [h], how often
    [days]."""

    first_at: Moment
    hours: float
    every_days: float


class SourcePart(Body):
    """A source of water, see `core.plan.network.Source`; ``id`` stays while its name changes."""

    id: int = Field(default=0, ge=0, le=2**31)
    name: Name
    flow_m3_h: float | None = None
    smallest_m3_h: float | None = None
    from_hour: float = 0
    to_hour: float = 24
    turn: TurnPart | None = None
    day_m3: float | None = None
    season_m3: float | None = None
    season_from: Day | None = None
    kwh_m3: float | None = None
    head_m: float | None = None
    efficiency: float | None = None
    water_price: float = 0
    tariff: Name | None = None

    def core(self) -> Source:
        turn = None if self.turn is None else self._turn(self.turn)
        return Source(turn=turn, **self.model_dump(exclude={"id", "turn"}))

    @staticmethod
    def _turn(turn: TurnPart) -> Turn:
        if turn.first_at.tzinfo is None:
            raise NetworkProblem(
                "turn.first_at", sentence("Enter the begin of a turn with its offset from UTC.")
            )
        return Turn(turn.first_at, turn.hours, turn.every_days)


class MainPart(Body):
    name: Name
    flow_m3_h: float

    def core(self) -> Main:
        return Main(self.name, self.flow_m3_h)


class GroupPart(Body):
    """Blocks of which so many can run together."""

    name: Name
    most_together: int = 1

    def core(self) -> Group:
        return Group(self.name, self.most_together)


class MachinePart(Body):
    name: Name
    moving_hours: float = 0

    def core(self) -> Machine:
        return Machine(self.name, self.moving_hours)


class WorkerPart(Body):
    name: Name
    from_hour: float = 6
    to_hour: float = 20
    weekdays: Weekdays = ALL_WEEK
    starts: int = 2

    def core(self) -> Worker:
        return Worker(
            self.name, self.from_hour, self.to_hour, frozenset(self.weekdays), self.starts
        )


class BandPart(Body):
    from_hour: float
    to_hour: float
    price: float
    weekdays: Weekdays = ALL_WEEK


class TariffPart(Body):
    """Prices of power by kWh; peak_price by kW of a month's highest draw."""

    name: Name
    price: float
    peak_price: float = 0
    bands: list[BandPart] = Field(default=[], max_length=50)
    holidays: list[Day] = Field(default=[], max_length=400)

    def core(self) -> tuple[str, Tariff]:
        if not self.name.strip():
            raise NetworkProblem("name", sentence("Enter a name."))
        bands = (
            TariffBand(b.from_hour, b.to_hour, b.price, frozenset(b.weekdays)) for b in self.bands
        )
        tariff = Tariff(self.price, tuple(bands), frozenset(self.holidays), self.peak_price)
        return self.name, tariff


class ConnectionPart(Body):
    """How a block hangs on the network; names of mains, groups and of a machine."""

    block_id: int
    mains: list[Name] = Field(default=[], max_length=MOST_PARTS)
    machine: Name | None = None
    people: int = 1
    labour_h: float | None = None
    groups: list[Name] = Field(default=[], max_length=MOST_PARTS)

    def core(self) -> Connection:
        return Connection(
            self.block_id,
            frozenset(self.mains),
            self.machine,
            self.people,
            self.labour_h,
            frozenset(self.groups),
        )


class CropValuePart(Body):
    """What the whole yield of a crop is worth [money/ha]."""

    crop_key: Name
    value_ha: float = Field(gt=0, le=1e7)


class WindLimitPart(Body):
    """The most wind at which blocks of a system are irrigated [m/s]."""

    system: SystemKind
    most_m_s: float = Field(gt=0, le=30)


class NetworkDocument(Body):
    """All that blocks share, with its prices; ``currency`` is written beside money."""

    format: Literal[1, 2, 3] = 3
    currency: str = Field(default="", max_length=8)
    labour_price: float | None = Field(default=None, ge=0, le=1e4)
    sources: list[SourcePart] = Field(default=[], max_length=MOST_PARTS)
    mains: list[MainPart] = Field(default=[], max_length=MOST_PARTS)
    groups: list[GroupPart] = Field(default=[], max_length=MOST_PARTS)
    machines: list[MachinePart] = Field(default=[], max_length=MOST_PARTS)
    workers: list[WorkerPart] = Field(default=[], max_length=MOST_PARTS)
    tariffs: list[TariffPart] = Field(default=[], max_length=MOST_PARTS)
    connections: list[ConnectionPart] = Field(default=[], max_length=MOST_BLOCKS)
    crop_values: list[CropValuePart] = Field(default=[], max_length=MOST_PARTS)
    wind_limits: list[WindLimitPart] = Field(default=[], max_length=len(SystemKind))

    @classmethod
    def read(cls, content: object) -> Self:
        """A stored document."""
        return cls.model_validate(content)

    def value_ha(self, crop_key: str) -> float | None:
        """What a crop's yield is worth [money/ha]; None where nobody said."""
        return next((v.value_ha for v in self.crop_values if v.crop_key == crop_key), None)


_PARTS = ("sources", "mains", "groups", "machines", "workers", "tariffs", "connections")


def network_of(document: NetworkDocument) -> Network:
    """A document as the core takes it.

    Raises
    ------
    RequestError
        With every part that can't be used, by its field.
    """
    problems: list[Problem] = []
    found: dict[str, tuple[object, ...]] = {}
    for part in _PARTS:
        rows = []
        for k, row in enumerate(getattr(document, part)):
            try:
                rows.append(row.core())
            except (NetworkProblem, TariffProblem) as wrong:
                problems.append(Problem(wrong.message, field=f"{part}.{k}.{wrong.field}"))
        found[part] = tuple(rows)
    for k, limit in enumerate(document.wind_limits):
        if any(limit.system == before.system for before in document.wind_limits[:k]):
            problems.append(
                Problem(
                    sentence("This system has a wind limit already."),
                    field=f"wind_limits.{k}.system",
                )
            )
    network = Network(labour_price=document.labour_price, **found)  # type: ignore[arg-type]
    problems += [Problem(f.message, field=f.field) for f in network_faults(network)]
    if problems:
        raise RequestError(sentence("The water supply was not saved."), tuple(problems))
    return network
