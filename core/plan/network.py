"""Where a farm's water comes from and what blocks share, as people describe it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from core.plan.energy import pumping_kwh_m3
from core.plan.tariff import DAY_HOURS, WEEK, Tariff
from core.sentence import Sentence, sentence


class NetworkProblem(ValueError):
    """A description that can't be used; ``field`` is the input to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


def _above_zero(field: str, value: float | None) -> None:
    if value is not None and not 0 < value < float("inf"):
        raise NetworkProblem(field, sentence("Enter a number above 0."))


def _not_below_zero(field: str, value: float | None) -> None:
    if value is not None and not 0 <= value < float("inf"):
        raise NetworkProblem(field, sentence("Enter 0 or more."))


def _name(value: str) -> None:
    if not value.strip():
        raise NetworkProblem("name", sentence("Enter a name."))


@dataclass(frozen=True)
class Turn:
    """A share in time: so many hours from a moment on, again every so many days."""

    first_at: datetime
    hours: float
    every_days: float

    def __post_init__(self) -> None:
        if not 0 < self.every_days <= 60:
            raise NetworkProblem("turn_every_days", sentence("Enter days above 0, 60 at most."))
        if not 0 < self.hours <= self.every_days * DAY_HOURS:
            raise NetworkProblem(
                "turn_hours", sentence("A turn is longer than 0 h and ends before the next begins.")
            )


@dataclass(frozen=True)
class Source:
    """A pump, a borehole, a reservoir or the turn of a ditch; what is None is not limited.

    flow_m3_h, smallest_m3_h : float [m3/h], the most that it brings, and the least at which it may
        run
    from_hour, to_hour : float [h by the farm's clock], when it may run; past midnight the second is
        the smaller one
    day_m3, season_m3 : float [m3], by licence; the season's from ``season_from`` on
    kwh_m3 : float [kWh/m3], measured; or head_m [m] and efficiency [-] of pump and motor
    water_price : float [money/m3]
    """

    name: str
    flow_m3_h: float | None = None
    smallest_m3_h: float | None = None
    from_hour: float = 0.0
    to_hour: float = DAY_HOURS
    turn: Turn | None = None
    day_m3: float | None = None
    season_m3: float | None = None
    season_from: date | None = None
    kwh_m3: float | None = None
    head_m: float | None = None
    efficiency: float | None = None
    water_price: float = 0.0
    tariff: str | None = None

    def __post_init__(self) -> None:
        _name(self.name)
        for name in ("flow_m3_h", "smallest_m3_h", "day_m3", "season_m3"):
            _above_zero(name, getattr(self, name))
        for name in ("kwh_m3", "head_m", "water_price"):
            _not_below_zero(name, getattr(self, name))
        if self.smallest_m3_h is not None and self.smallest_m3_h > (self.flow_m3_h or float("inf")):
            raise NetworkProblem(
                "smallest_m3_h", sentence("The minimum flow can't be above the maximum flow.")
            )
        hours = (self.from_hour, self.to_hour)
        if not all(0 <= h <= DAY_HOURS for h in hours) or hours[0] == hours[1]:
            raise NetworkProblem("from_hour", sentence("Enter two different hours from 0 to 24."))
        if self.season_m3 is not None and self.season_from is None:
            raise NetworkProblem(
                "season_from", sentence("Enter from which day the season's licence counts.")
            )
        if (self.head_m is None) != (self.efficiency is None):
            raise NetworkProblem("head_m", sentence("Enter both the head and the efficiency."))
        if self.efficiency is not None and not 0 < self.efficiency <= 1:
            raise NetworkProblem(
                "efficiency", sentence("Enter an efficiency above 0 and at most 100 %.")
            )
        if self.kwh_m3 is not None and self.head_m is not None:
            raise NetworkProblem(
                "kwh_m3",
                sentence("Enter the energy for each m³, or head and efficiency, not both."),
            )

    @property
    def energy_kwh_m3(self) -> float:
        """Energy of each cubic metre [kWh/m3]; 0 where nothing is known of it, as by gravity."""
        if self.head_m is not None and self.efficiency is not None:
            return pumping_kwh_m3(self.head_m, self.efficiency)
        return self.kwh_m3 or 0.0


@dataclass(frozen=True)
class Main:
    """A pipe or canal that several blocks draw from; flow_m3_h : float [m3/h], its capacity."""

    name: str
    flow_m3_h: float

    def __post_init__(self) -> None:
        _name(self.name)
        _above_zero("flow_m3_h", self.flow_m3_h)


@dataclass(frozen=True)
class Group:
    """Blocks or valves of which only some can run together, as on one filter or cable;
    most_together : int, how many at a time."""

    name: str
    most_together: int = 1

    def __post_init__(self) -> None:
        _name(self.name)
        if not 1 <= self.most_together <= 100:
            raise NetworkProblem("most_together", sentence("Enter 1 to 100 blocks."))


@dataclass(frozen=True)
class Machine:
    """A machine that waters several blocks in turn; moving_hours : float [h], between two."""

    name: str
    moving_hours: float = 0.0

    def __post_init__(self) -> None:
        _name(self.name)
        if not 0 <= self.moving_hours <= 48:
            raise NetworkProblem("moving_hours", sentence("Enter 0 to 48 hours."))


@dataclass(frozen=True)
class Worker:
    """Somebody who begins irrigations.

    from_hour, to_hour : float [h by the farm's clock]
    weekdays : 0 is Monday
    starts : int, how many he can begin within two hours
    """

    name: str
    from_hour: float = 6.0
    to_hour: float = 20.0
    weekdays: frozenset[int] = WEEK
    starts: int = 2

    def __post_init__(self) -> None:
        _name(self.name)
        if not 0 <= self.from_hour < self.to_hour <= DAY_HOURS:
            raise NetworkProblem(
                "from_hour", sentence("Enter hours from 0 to 24, the end after the begin.")
            )
        if not self.weekdays or not self.weekdays <= WEEK:
            raise NetworkProblem("weekdays", sentence("Choose at least one weekday."))
        if not 1 <= self.starts <= 50:
            raise NetworkProblem("starts", sentence("Enter 1 to 50 starts."))


@dataclass(frozen=True)
class Connection:
    """How a block hangs on the network.

    mains : names of those that its water passes
    groups : names of those that it is in
    machine : name of the machine that it shares, or None
    people : int, who must be there when an irrigation begins; 0 where it begins by itself
    labour_h : float [h], for each irrigation; None where nobody said
    """

    block: int
    mains: frozenset[str] = frozenset()
    machine: str | None = None
    people: int = 1
    labour_h: float | None = None
    groups: frozenset[str] = frozenset()

    def __post_init__(self) -> None:
        if not 0 <= self.people <= 20:
            raise NetworkProblem("people", sentence("Enter 0 to 20 people."))
        if self.labour_h is not None and not 0 <= self.labour_h <= 48:
            raise NetworkProblem("labour_h", sentence("Enter 0 to 48 hours."))


@dataclass(frozen=True)
class Network:
    """All of it; tariffs by name; ``labour_price`` of an hour, None where nobody said. Names are
    told apart without regard to capitals."""

    sources: tuple[Source, ...] = ()
    mains: tuple[Main, ...] = ()
    groups: tuple[Group, ...] = ()
    machines: tuple[Machine, ...] = ()
    workers: tuple[Worker, ...] = ()
    tariffs: tuple[tuple[str, Tariff], ...] = ()
    connections: tuple[Connection, ...] = ()
    labour_price: float | None = None

    def connection(self, block: int) -> Connection:
        """How a block hangs on it; a block of which nothing is said needs one person to begin."""
        return next((c for c in self.connections if c.block == block), Connection(block))

    def source_of(self, supply: str) -> Source | None:
        """The source of a block's supply; None where it is not described."""
        return next((s for s in self.sources if same_name(s.name, supply)), None)


def same_name(one: str, other: str) -> bool:
    """Whether people mean the same by two names."""
    return one.strip().casefold() == other.strip().casefold()


@dataclass(frozen=True)
class NetworkFault:
    """Something that can't be, and where: a path of fields from the network."""

    field: str
    message: Sentence


def network_faults(network: Network) -> tuple[NetworkFault, ...]:
    """What of a network contradicts itself: a name twice, or a name of nothing."""
    return tuple(_faults(network))


def _faults(network: Network) -> Iterator[NetworkFault]:
    named: Sequence[tuple[str, list[str]]] = (
        ("sources", [s.name for s in network.sources]),
        ("mains", [m.name for m in network.mains]),
        ("groups", [g.name for g in network.groups]),
        ("machines", [m.name for m in network.machines]),
        ("workers", [w.name for w in network.workers]),
        ("tariffs", [name for name, _ in network.tariffs]),
    )
    for part, names in named:
        for k, name in enumerate(names):
            if any(same_name(name, other) for other in names[:k]):
                yield NetworkFault(
                    f"{part}.{k}.name", sentence("There are two named {name}.", name=name.strip())
                )
    of = dict(named)
    for k, source in enumerate(network.sources):
        if source.tariff is not None and not _has(of["tariffs"], source.tariff):
            yield NetworkFault(f"sources.{k}.tariff", _nothing(source.tariff))
    for k, one in enumerate(network.connections):
        if any(one.block == other.block for other in network.connections[:k]):
            yield NetworkFault(f"connections.{k}.block_id", sentence("This block is listed twice."))
        for main in sorted(one.mains):
            if not _has(of["mains"], main):
                yield NetworkFault(f"connections.{k}.mains", _nothing(main))
        for group in sorted(one.groups):
            if not _has(of["groups"], group):
                yield NetworkFault(f"connections.{k}.groups", _nothing(group))
        if one.machine is not None and not _has(of["machines"], one.machine):
            yield NetworkFault(f"connections.{k}.machine", _nothing(one.machine))


def _has(names: Sequence[str], name: str) -> bool:
    return any(same_name(name, n) for n in names)


def _nothing(name: str) -> Sentence:
    return sentence("Nothing here is named {name}.", name=name)
