"""Where the water of an irrigation that moves over a block falls, and when.

A place is a share of the way over the block, 0 where passes begin and 1 where they end.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import ceil, isclose

from core.sentence import Sentence, sentence

PIECE_H = 6.0  # of a pass over a place that is not known is credited at a time [h]


class Going(StrEnum):
    """What a machine does from the moment it was seen."""

    FORWARD = "forward"
    BACK = "back"
    STOPPED = "stopped"


class PassProblem(ValueError):
    """Places of a pass that can't be; ``field`` is the input to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


@dataclass(frozen=True)
class Position:
    """Where a machine was seen: hours from now [h], place [-], and where it went from there."""

    hours: float
    place: float
    going: Going = Going.FORWARD


@dataclass(frozen=True)
class Leg:
    """From one moment and place to another; it stands where the places are one."""

    start_hours: float
    end_hours: float
    start: float
    end: float

    @property
    def length(self) -> float:
        """Share of the way, in either direction [-]."""
        return abs(self.end - self.start)

    @property
    def lasts(self) -> float:
        """[h]"""
        return self.end_hours - self.start_hours

    def at(self, place: float, is_last: bool) -> float | None:
        """Hours from now at which it comes over a place; None where it does not. The place where
        it ends belongs to the leg that leaves it, unless this is the last.
        """
        share = (place - self.start) / (self.end - self.start)
        if share < 0 or share > 1 or (isclose(share, 1) and not is_last):
            return None
        return self.start_hours + share * self.lasts


@dataclass(frozen=True)
class Arrival:
    """Water that reached the ground: hours from now [h], depth [mm]."""

    hours: float
    depth_mm: float


@dataclass(frozen=True)
class Pass:
    """An irrigation under way over a block, from its start to its end.

    start_hours, end_hours : from now [h]
    first, last : places where it begins and ends [-]; last below first is a pass back
    seen : where the machine was seen in between, in the order of time
    ended : whether it has run to its end; else the end is what is expected
    """

    start_hours: float
    end_hours: float
    first: float = 0.0
    last: float = 1.0
    seen: tuple[Position, ...] = ()
    ended: bool = True

    def __post_init__(self) -> None:
        for field, place in (("place_from", self.first), ("place_to", self.last)):
            if not 0 <= place <= 1:
                raise PassProblem(
                    field, sentence("A position in the pass must be between 0 and 100 %.")
                )
        if self.first == self.last:
            raise PassProblem("place_to", sentence("A pass ends somewhere else than it began."))
        if not self.start_hours < self.end_hours:
            raise PassProblem("ended_at", sentence("A pass ends after its start."))
        moments = [self.start_hours, *(p.hours for p in self.seen)]
        if moments != sorted(moments):
            raise PassProblem("positions", sentence("A machine is seen after its pass began."))
        if any(not 0 <= p.place <= 1 for p in self.seen):
            raise PassProblem(
                "positions", sentence("A position in the pass must be between 0 and 100 %.")
            )

    @property
    def usual_speed(self) -> float:
        """Share of the way in an hour, as the whole pass was meant [1/h]."""
        return abs(self.last - self.first) / (self.end_hours - self.start_hours)

    @property
    def legs(self) -> tuple[Leg, ...]:
        """The way of the machine, straight between where it was seen."""
        onward = Going.FORWARD if self.last > self.first else Going.BACK
        at = Position(self.start_hours, self.first, onward)
        out = []
        for then in self.seen:
            out.append(Leg(at.hours, then.hours, at.place, then.place))
            at = then
        if self.ended:
            out.append(Leg(at.hours, max(self.end_hours, at.hours), at.place, self.last))
        else:
            out.append(self._onward(at))
        return tuple(leg for leg in out if leg.lasts > 0)

    def _onward(self, at: Position) -> Leg:
        """From where it was last seen to where it is expected to end."""
        if at.going is Going.STOPPED:
            return Leg(at.hours, max(self.end_hours, at.hours), at.place, at.place)
        end = (
            max(self.first, self.last) if at.going is Going.FORWARD else min(self.first, self.last)
        )
        return Leg(at.hours, at.hours + abs(end - at.place) / self.usual_speed, at.place, end)

    @property
    def expected_end_hours(self) -> float:
        """When it ends, as far as is known [h from now]."""
        legs = self.legs
        return legs[-1].end_hours if legs else self.end_hours

    def place_at(self, hours: float) -> float:
        """Where the machine is at a moment [-]; where it ended, after its end."""
        for leg in self.legs:
            if leg.start_hours <= hours <= leg.end_hours:
                return leg.start + (leg.end - leg.start) * (hours - leg.start_hours) / leg.lasts
        return self.first if hours < self.start_hours else self.legs[-1].end

    def arrivals(self, depth_mm: float, places: Sequence[float] = ()) -> tuple[Arrival, ...]:
        """When water comes where.

        Parameters
        ----------
        depth_mm : float [mm]
            Of the whole irrigation, its mean over the block.
        places : sequence of float [-]
            Known places of what measures the block: water is then theirs, in equal parts, at the
            moments at which the machine comes over them. Without any the block's mean is
            credited piece by piece as it is given.

        Returns
        -------
        tuple of Arrival
            In the order of time. Where a machine goes slower more falls; while it stands none.
        """
        moving = [leg for leg in self.legs if leg.length > 0]
        in_all = sum(leg.lasts for leg in moving)
        out = []
        for leg in moving:
            given = depth_mm * leg.lasts / in_all
            if places:
                met = [leg.at(p, leg is moving[-1]) for p in places]
                out += [Arrival(h, given / leg.length / len(places)) for h in met if h is not None]
            else:
                pieces = ceil(leg.lasts / PIECE_H - 1e-9)
                out += [
                    Arrival(leg.start_hours + leg.lasts * (k + 1) / pieces, given / pieces)
                    for k in range(pieces)
                ]
        return tuple(sorted(out, key=lambda a: a.hours))
