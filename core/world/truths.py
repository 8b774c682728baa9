"""Fields whose water is known: what a trial asks of a truth, and the two that it has."""

from collections.abc import Sequence
from enum import StrEnum
from typing import Protocol

import numpy as np

from core.arrays import Floats
from core.world.fields import Believed, Fields
from core.world.layerings import Layering
from core.world.richards import CELL_MIDDLE_CM
from core.world.richards_fields import STRESSED, RichardsFields

EVENING_H, MORNING_H = 18, 6
KPA_PER_CM = 0.0980665  # of a column of water


class TruthKind(StrEnum):
    LAYERED = "layered columns"
    RICHARDS = "Richards columns"


class Truth(Protocol):
    """Fields moved on from morning to morning; arrays (fields,), depths [mm]."""

    @property
    def arrives(self) -> Floats:
        """Share of the water given that reaches each field."""

    def depletion_mm(self, day: int) -> Floats:
        """Water missing to full in the roots in the morning."""

    def content_at(self, depth_mm: float) -> Floats:
        """Water content at a depth now [m3/m3]."""

    def tension_at(self, depth_mm: float) -> Floats:
        """Tension at a depth now [kPa]."""

    def reach(self, gauge_mm: float, given_mm: Floats) -> tuple[Floats, Floats]:
        """What falls on and reaches each field of the gauge's rain and of water given."""

    def until_evening(self, day: int, et0_mm: float, rain_mm: Floats, set_mm: Floats) -> None:
        """Let the day pass until it is read again."""

    def until_morning(
        self, day: int, et0_mm: float, rain_mm: Floats, set_mm: Floats
    ) -> tuple[np.ndarray, Floats]:
        """Let the night pass; whether the crop was short of water that day, and what drained."""

    def days_until_short(self, day: int, et0_mm: Floats, rain_mm: Floats, most: int) -> Floats:
        """Days that each field gets all it wants without water; infinity beyond ``most``."""


def tension_kpa(
    truth: "LayeredTruth | RichardsTruth", of: int, depth_mm: float, content: Floats
) -> Floats:
    """Tension of contents of one field at a depth, by its own true curve; array as ``content``."""
    if isinstance(truth, LayeredTruth):
        fields = truth.fields
        node = int(np.abs(fields.node_mm - depth_mm).argmin())
        relative = content / fields.full[of, node]
        out: Floats = fields.full_kpa[of, node] * relative ** -fields.b[of, node]
        return out
    cell = int(np.abs(CELL_MIDDLE_CM * 10 - depth_mm).argmin())
    soil = truth.columns
    width = soil.theta_s[of, cell] - soil.theta_r[of, cell]
    saturation = np.clip((content - soil.theta_r[of, cell]) / width, 1e-4, 1.0)
    m = 1 - 1 / soil.n[of, cell]
    head = (saturation ** (-1 / m) - 1) ** (1 / soil.n[of, cell]) / soil.alpha[of, cell]
    return head * KPA_PER_CM


class RichardsTruth(RichardsFields):
    """Richards columns as a truth."""

    def __init__(
        self,
        soils: Sequence[Layering],
        crops: Sequence[str],
        kcb: Floats,
        root_mm: Floats,
        seed: int,
        strip: float = 1.0,
    ) -> None:
        super().__init__(soils, crops, kcb, root_mm, seed, strip=strip)
        none: Floats = np.zeros(len(soils))
        self._day: tuple[Floats, Floats, Floats] = (none, none, none)

    def until_evening(self, day: int, et0_mm: float, rain_mm: Floats, set_mm: Floats) -> None:
        """From six to eighteen."""
        self._day = self.pass_part(day, et0_mm, rain_mm, set_mm, MORNING_H, EVENING_H)

    def until_morning(
        self, day: int, et0_mm: float, rain_mm: Floats, set_mm: Floats
    ) -> tuple[np.ndarray, Floats]:
        """From eighteen to six."""
        took, wanted, lost = self.pass_part(day, et0_mm, rain_mm, set_mm, EVENING_H, 24)
        _, _, more = self.pass_part(day, et0_mm, rain_mm * 0, set_mm * 0, 0, MORNING_H)
        by_day, wished, gone = self._day
        short: np.ndarray = by_day + took < STRESSED * (wished + wanted) - 1e-6
        return short, (gone + lost + more) * self.strip


class LayeredTruth:
    """Layered columns as a truth; they are read once a day."""

    def __init__(self, believed: Sequence[Believed], seed: int) -> None:
        rng = np.random.default_rng(seed)
        self.fields = Fields(believed, rng)
        self._noise = rng
        self.arrives = self.fields.set_share

    def depletion_mm(self, day: int) -> Floats:
        """In the true roots, from the content at which a layer loses 1 mm/day."""
        day_ = self.fields.morning(day, 5.0)
        return day_.depletion_mm + day_.above_mm

    def content_at(self, depth_mm: float) -> Floats:
        """Between the two nodes around a depth."""
        node, theta = self.fields.node_mm, self.fields.theta
        at = int(np.clip(np.searchsorted(node, depth_mm), 1, node.size - 1))
        share = float(np.clip((depth_mm - node[at - 1]) / (node[at] - node[at - 1]), 0, 1))
        mixed: Floats = theta[:, at - 1] * (1 - share) + theta[:, at] * share
        return mixed

    def tension_at(self, depth_mm: float) -> Floats:
        """That of the content there."""
        node = int(np.abs(self.fields.node_mm - depth_mm).argmin())
        return self.fields.tension_kpa(self.content_at(depth_mm), node)

    def reach(self, gauge_mm: float, given_mm: Floats) -> tuple[Floats, Floats]:
        """The columns take their own shares."""
        return np.full(self.arrives.size, gauge_mm), given_mm

    def until_evening(self, day: int, et0_mm: float, rain_mm: Floats, set_mm: Floats) -> None:
        """The whole day passes at once, see `until_morning`."""

    def until_morning(
        self, day: int, et0_mm: float, rain_mm: Floats, set_mm: Floats
    ) -> tuple[np.ndarray, Floats]:
        """A whole day."""
        drained = self.fields.drained_mm.copy()
        used = self.fields.pass_day(day, et0_mm, float(rain_mm[0]), set_mm)
        return used < STRESSED, self.fields.drained_mm - drained

    def days_until_short(self, day: int, et0_mm: Floats, rain_mm: Floats, most: int) -> Floats:
        """Tried on a copy of the columns."""
        ahead = self.fields.copy()
        out = np.full(self.arrives.size, np.inf)
        for k, d in enumerate(range(day, min(day + most, et0_mm.size))):
            used = ahead.pass_day(d, float(et0_mm[d]), float(rain_mm[d]), 0 * self.arrives)
            out = np.where((used < STRESSED) & np.isinf(out), k, out)
            if np.isfinite(out).all():
                break
        return out
