"""A season watched hour by hour: what instruments read, and what the water truly did."""

from dataclasses import dataclass, field

import numpy as np

from core.arrays import Floats
from core.events.supply import Supply
from core.world.farm import Farm
from core.world.fields import RAIN_HOURS as LAYERED_RAIN_HOURS
from core.world.fields import Fields
from core.world.irrigators import Irrigator
from core.world.richards import CELL_CM, CELL_MIDDLE_CM, Water, theta_of
from core.world.truths import LayeredTruth, RichardsTruth

# What is looked for in the morning, and when sets then begin by the clock of the field.
LOOKS_AT_H = 5
FEEDING = 0.9


@dataclass
class Watched:
    """Hour by hour: arrays (hours + 1, fields, nodes) or (hours, fields).

    theta : true content [m3/m3]; node_mm, thick_mm : (nodes,)
    drained_mm : what left the column's bottom; used_mm : what crop and sun took
    root_mm : array (fields, days)
    feeds_mm : array (fields, days), above it lie nine tenths of the roots
    full : array (fields, nodes) [m3/m3], content that loses 1 mm a day under gravity alone
    supplies : irrigations and rain as they were logged, by field; ``arrived_mm`` what truly came
    mornings : Richards columns as they were at 5:00 of each day; empty for other truths
    """

    node_mm: Floats
    thick_mm: Floats
    theta: Floats
    drained_mm: Floats
    used_mm: Floats
    root_mm: Floats
    feeds_mm: Floats
    full: Floats
    supplies: list[list[Supply]]
    arrived_mm: list[list[float]] = field(default_factory=list)
    mornings: list[Water] = field(default_factory=list)

    def content_at(self, of: int, depth_mm: float) -> Floats:
        """True content of a field at a depth by hour [m3/m3]."""
        theta = self.theta[:, of]
        below = int(np.clip(np.searchsorted(self.node_mm, depth_mm), 1, self.node_mm.size - 1))
        low, high = self.node_mm[below - 1], self.node_mm[below]
        share = float(np.clip((depth_mm - low) / (high - low), 0, 1))
        mixed: Floats = theta[:, below - 1] * (1 - share) + theta[:, below] * share
        return mixed

    def store_mm(self, of: int, top_mm: float, bottom_mm: float) -> Floats:
        """True water of a field between two depths by hour [mm]."""
        edge = np.concatenate([[0.0], np.cumsum(self.thick_mm)])
        inside = np.minimum(edge[1:], bottom_mm) - np.maximum(edge[:-1], top_mm)
        out: Floats = self.theta[:, of] @ np.maximum(inside, 0.0)
        return out

    def passed_mm(self, of: int, depth_mm: float) -> Floats:
        """What has gone down past a depth without roots below it, since the beginning [mm]."""
        below = self.store_mm(of, depth_mm, float("inf"))
        left = np.concatenate([[0.0], np.cumsum(self.drained_mm[:, of])])
        out: Floats = below - below[0] + left
        return out


def watch(
    farm: Farm,
    truth: LayeredTruth | RichardsTruth,
    irrigator: Irrigator,
    table_mm: Floats | None = None,
) -> Watched:
    """Let a season pass over the fields of a farm.

    Parameters
    ----------
    farm : Farm
    truth : LayeredTruth or RichardsTruth
        Of the farm; moved on.
    irrigator : Irrigator
        Who waters the fields.
    table_mm : array, shape (fields, days) [mm], optional
        Depth of a water table, below which all is saturated; infinite where there is none.
    """
    columns = _Layered(truth) if isinstance(truth, LayeredTruth) else _Richards(truth)
    days, count = farm.days, farm.count
    supply = np.zeros((24 * (days + 3), count))
    out = Watched(
        columns.node_mm,
        columns.thick_mm,
        np.empty((24 * days + 1, count, columns.node_mm.size)),
        np.empty((24 * days, count)),
        np.empty((24 * days, count)),
        np.array([columns.root_mm(d) for d in range(days)]).T,
        np.array([_feeds(columns.roots(d), columns.thick_mm) for d in range(days)]).T,
        columns.full,
        [[] for _ in range(count)],
        [[] for _ in range(count)],
    )
    out.theta[0] = columns.theta()
    for day in range(days):
        _rain(farm, columns, out, supply, day)
        for hour in range(24):
            if hour == LOOKS_AT_H:
                if isinstance(truth, RichardsTruth):
                    out.mornings.append(truth.water.copy())
                _irrigate(truth, irrigator, out, supply, day)
            now = 24 * day + hour
            out.used_mm[now], out.drained_mm[now] = columns.pass_hour(
                day, hour, float(farm.weather.et0_mm[day]), supply[now]
            )
            if table_mm is not None:
                columns.saturate(columns.node_mm >= table_mm[:, day, None])
            out.theta[now + 1] = columns.theta()
    return out


def _feeds(roots: Floats, thick_mm: Floats) -> Floats:
    """Depth above which nine tenths of the roots lie; array (fields,) [mm]."""
    share = np.cumsum(roots, axis=1) / roots.sum(axis=1, keepdims=True)
    edge = np.cumsum(thick_mm)
    return np.array([np.interp(FEEDING, s, edge) for s in share])


def _rain(
    farm: Farm, columns: "_Layered | _Richards", out: Watched, supply: Floats, day: int
) -> None:
    gauge = float(farm.weather.rain_mm[day])
    if gauge <= 0:
        return
    fell = gauge * columns.rain_share
    hours = [24 * day + h for h in LAYERED_RAIN_HOURS]
    supply[hours] += fell / len(hours)
    for of, mm in enumerate(fell):
        out.supplies[of].append(Supply(hours[0], hours[-1] + 1.0, gauge, is_rain=True))
        out.arrived_mm[of].append(float(mm))


def _irrigate(
    truth: LayeredTruth | RichardsTruth,
    irrigator: Irrigator,
    out: Watched,
    supply: Floats,
    day: int,
) -> None:
    for run in irrigator.runs(day, truth.depletion_mm(day)):
        supply[run.start_hour : run.start_hour + run.came_mm.size, run.field] += run.came_mm
        if run.logged is not None:
            out.supplies[run.field].append(run.logged)
            out.arrived_mm[run.field].append(float(run.came_mm.sum()))


class _Layered:
    """Layered columns, an hour at a time."""

    def __init__(self, truth: LayeredTruth) -> None:
        self._fields: Fields = truth.fields
        self.node_mm = self._fields.node_mm
        self.thick_mm = np.full(self.node_mm.shape, 50.0)
        self.rain_share = self._fields.rain_share
        # The true full point of these columns loses half a millimetre a day.
        self.full = self._fields.full * 2 ** (1 / self._fields.power)

    def theta(self) -> Floats:
        return self._fields.theta

    def saturate(self, where: np.ndarray) -> None:
        np.copyto(self._fields.theta, self._fields.sat, where=where)

    def root_mm(self, day: int) -> Floats:
        return self._fields.root_mm(day)

    def roots(self, day: int) -> Floats:
        return self._fields.root_weights(day)

    def pass_hour(self, day: int, hour: int, et0_mm: float, mm: Floats) -> tuple[Floats, Floats]:
        fields = self._fields
        drained, store = fields.drained_mm.copy(), fields.theta @ self.thick_mm
        supply = np.zeros((24, mm.size))
        supply[hour] = mm
        fields.pass_hours(day, et0_mm, supply, hour, hour + 1)
        left = fields.drained_mm - drained
        return store + mm - left - fields.theta @ self.thick_mm, left


class _Richards:
    """Richards columns, an hour at a time."""

    def __init__(self, truth: RichardsTruth) -> None:
        self._fields = truth
        self.node_mm, self.thick_mm = CELL_MIDDLE_CM * 10, CELL_CM * 10
        self.rain_share = truth.rain_share
        self.full = truth.full

    def theta(self) -> Floats:
        return theta_of(self._fields.columns, self._fields.water)

    def saturate(self, where: np.ndarray) -> None:
        self._fields.water.saturation[where] = 1.0

    def root_mm(self, day: int) -> Floats:
        out: Floats = self._fields.root_mm[:, day]
        return out

    def roots(self, day: int) -> Floats:
        return self._fields.root_shares(day)

    def pass_hour(self, day: int, hour: int, et0_mm: float, mm: Floats) -> tuple[Floats, Floats]:
        supply = np.zeros((mm.size, 24))
        supply[:, hour] = mm
        moved = self._fields.pass_hours(day, et0_mm, supply, hour, hour + 1)
        return moved[:, 0] + moved[:, 1], moved[:, 2]
