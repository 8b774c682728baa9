"""Readings on their way in, checked row by row: what can be stored goes on, the rest is named."""

from dataclasses import dataclass, field
from datetime import datetime

import numpy as np

from core.arrays import Bools, Floats
from core.instrument.kinds import Quantity
from core.instrument.possible import impossible, is_sentinel, why_impossible
from core.instrument.reading_units import (
    UNIT_OF_CODE,
    code_of,
    coded_to_core,
    quantity_of,
    units_of,
)
from core.sentence import sentence
from server.files.times import NO_TIME
from server.readings.binary_copy import Records
from server.readings.store import ROW

OLDEST = datetime.fromisoformat("1980-01-01T00:00:00+00:00")
FUTURE_GRACE_US = 5 * 60 * 1_000_000  # clocks differ by minutes
MAX_NAMED = 200  # refused rows that are told one by one


@dataclass(frozen=True)
class RefusedRow:
    """A row that was not taken: its place in what was sent, and why."""

    row: int
    reason: str


@dataclass
class Checked:
    """Rows that can be stored, and those that can't; ``more`` are refused beyond those named.

    ``kept`` tells, for each row given, whether it is among ``rows``.
    """

    rows: Records
    kept: Bools
    refused: list[RefusedRow] = field(default_factory=list)
    more: int = 0

    @property
    def refused_count(self) -> int:
        return len(self.refused) + self.more


class _Sieve:
    """Collects reasons; a row keeps its first."""

    def __init__(self, count: int) -> None:
        self.reason = np.full(count, None, object)
        self.open = np.ones(count, bool)

    def drop(self, wrong: np.ndarray, reason: str) -> None:
        hit = wrong & self.open
        self.reason[hit] = reason
        self.open &= ~hit


def check_rows(
    channel: np.ndarray,
    time_us: np.ndarray,
    value: Floats,
    unit: np.ndarray,
    quantity_of_channel: dict[int, Quantity],
    now: datetime,
    *,
    once: bool = True,
) -> Checked:
    """Sort out rows that can't be readings.

    Parameters
    ----------
    channel : array of int, shape (rows,); 0 where unknown or not the sender's
    time_us : array of int, shape (rows,) [epoch microseconds]; `NO_TIME` where unreadable
    value : array, shape (rows,); NaN where there is no number
    unit : array of int, shape (rows,), unit codes; 0 where unknown
    quantity_of_channel : what each known channel writes down
    now : datetime
        TryLater readings are refused, beyond five minutes.
    once : bool
        Whether each channel and time may stand there once only.

    Notes
    -----
    Of two rows for the same channel and time the later one is refused, unless it says the
    same: then it is dropped silently.
    """
    count = channel.size
    sieve = _Sieve(count)
    sieve.drop(
        ~np.isin(channel, list(quantity_of_channel)),
        sentence("There is no such channel, or this sender may not write to it."),
    )
    sieve.drop(
        time_us == NO_TIME,
        sentence("The time can't be read. Send ISO 8601 with an offset, or seconds since 1970."),
    )
    sieve.drop(
        time_us < OLDEST.timestamp() * 1e6,
        sentence("The time is before 1980: the clock was reset."),
    )
    late = time_us - round(now.timestamp() * 1e6)
    sieve.drop(
        late > FUTURE_GRACE_US,
        sentence("The time is in the future. Check the clock of the sender."),
    )
    sieve.drop(~np.isfinite(value) | is_sentinel(value), sentence("There is no number."))
    sieve.drop(unit == 0, sentence("The unit is unknown."))
    _drop_by_unit(sieve, channel, value, unit, quantity_of_channel)
    if once:
        _drop_twins(sieve, channel, time_us, value, unit)
    rows = np.empty(int(sieve.open.sum()), ROW)
    rows["channel_id"], rows["time"] = channel[sieve.open], time_us[sieve.open]
    rows["value"], rows["unit"] = value[sieve.open], unit[sieve.open]
    rejected = [k for k in np.flatnonzero(~sieve.open) if sieve.reason[k]]
    named = [RefusedRow(int(k), str(sieve.reason[k])) for k in rejected[:MAX_NAMED]]
    return Checked(rows, sieve.open, named, max(len(rejected) - MAX_NAMED, 0))


def _drop_by_unit(
    sieve: _Sieve,
    channel: np.ndarray,
    value: Floats,
    unit: np.ndarray,
    quantity_of_channel: dict[int, Quantity],
) -> None:
    for one in np.unique(channel[sieve.open]):
        quantity = quantity_of_channel[int(one)]
        of_channel = channel == one
        fitting = [code_of(u) for u in units_of(quantity)]
        names = ", ".join(str(u) for u in units_of(quantity))
        sieve.drop(
            of_channel & ~np.isin(unit, fitting),
            sentence("This channel is recorded in {names}.", names=names),
        )
    for code in np.unique(unit[sieve.open]):
        named = UNIT_OF_CODE[int(code)]
        of_channel = sieve.open & (unit == code)
        core = coded_to_core(value, np.where(of_channel, unit, 0))
        wrong = of_channel & impossible(core, quantity_of(named))
        for k in np.flatnonzero(wrong):
            sieve.reason[k] = why_impossible(float(value[k]), named)
        sieve.open &= ~wrong


def _drop_twins(
    sieve: _Sieve, channel: np.ndarray, time_us: np.ndarray, value: Floats, unit: np.ndarray
) -> None:
    at = np.flatnonzero(sieve.open)
    order = at[np.lexsort((at, time_us[at], channel[at]))]
    again = (channel[order][1:] == channel[order][:-1]) & (
        time_us[order][1:] == time_us[order][:-1]
    )
    later = order[1:][again]
    # Against the first of its kind: three in a row are all compared with that one.
    starts = np.flatnonzero(np.concatenate([[True], ~again]))
    first = order[starts[np.searchsorted(starts, np.flatnonzero(again) + 1, "right") - 1]]
    same = (value[later] == value[first]) & (unit[later] == unit[first])
    sieve.open[later] = False
    sieve.reason[later[~same]] = "An earlier row has the same channel and time and another value."
