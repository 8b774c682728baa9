"""What a plan is made from, as it is stored: inputs in format 3; in format 1 nothing was known of
the wind, and before 3 nothing of groups, pulses, passes and minimum flows."""

from math import inf, isinf
from typing import Literal

import numpy as np

from core.arrays import Bools, Floats
from core.plan.plan_block import FixedSet, PlanBlock
from core.plan.pulses import Pulses
from core.plan.shared import PlanGroup, PlanMachine, PlanMain, PlanSource, Shared
from core.plan.slots import DAYS
from server.base.schema import Schema

# Of what members hold and use; finer says nothing [mm].
DIGITS = 2


class StoredSource(Schema):
    """See `core.plan.shared.PlanSource`; null is not limited."""

    name: str
    flow_l_s: list[float]
    day_m3: list[float | None]
    price_kwh: list[float]
    total_m3: float | None
    kwh_m3: float
    water_price: float
    peak_price: float
    peak_so_far_kw: float
    smallest_l_s: float = 0.0


class StoredMain(Schema):
    name: str
    capacity_l_s: float


class StoredGroup(Schema):
    name: str
    most: int


class StoredMachine(Schema):
    name: str
    moving_slots: int


class StoredSet(Schema):
    """An irrigation that stands or was told."""

    start: int
    slots: int
    net_mm: float
    irrigation_id: int | None = None


class StoredBlock(Schema):
    """See `core.plan.plan_block.PlanBlock`; ``allowed`` has a 1 for each slot in which it may
    run, ``windy`` for each in which it might but for the wind; empty without a limit."""

    block_id: int
    name: str
    source: int
    mains: list[int]
    machine: int | None
    people: int
    flow_l_s: float
    net_mm_h: float
    gross_m3_mm: float
    smallest_mm: float
    largest_mm: float
    allowed: str
    windy: str = ""
    loss_per_mm: float
    labour: float
    wetting_mm: float
    fixed: list[StoredSet]
    told: list[StoredSet]
    change: float
    groups: list[int] = []
    pulse_mm: float | None = None
    pause_h: float = 0.0
    parts: int = 1
    a_day: int = 1

    @property
    def pulses(self) -> Pulses | None:
        """How a set is cut so that nothing runs off."""
        return None if self.pulse_mm is None else Pulses(self.pulse_mm, self.pause_h)


class StoredInputs(Schema):
    """All but the days ahead of each block; ``left_out`` are blocks of which nothing may be
    said; ``wind_m_s`` the strongest hour of each slot, empty where no forecast tells."""

    format: Literal[1, 2, 3, 4] = 4
    currency: str
    value_assumed: bool
    sources: list[StoredSource]
    mains: list[StoredMain]
    groups: list[StoredGroup] = []
    machines: list[StoredMachine]
    people: list[float]
    blocks: list[StoredBlock]
    left_out: list[int]
    wind_m_s: list[float | None] = []

    def shared(self) -> Shared:
        """What the blocks share."""
        return Shared(
            tuple(_source(s) for s in self.sources),
            tuple(PlanMain(m.name, m.capacity_l_s) for m in self.mains),
            tuple(PlanMachine(m.name, m.moving_slots) for m in self.machines),
            np.array(self.people),
            tuple(PlanGroup(g.name, g.most) for g in self.groups),
        )

    def place(self, block_id: int) -> int | None:
        """Which of the blocks has a number; None where it is not planned."""
        return next((k for k, b in enumerate(self.blocks) if b.block_id == block_id), None)


class StoredAhead(Schema):
    """Members and days of one block, see `core.plan.plan_block.PlanBlock` [mm]."""

    format: Literal[1] = 1
    depletion_mm: list[float]
    use_mm: list[list[float]]
    rain_mm: list[list[float]]
    raw_mm: list[float]
    taw_mm: list[float]

    @classmethod
    def of(cls, block: PlanBlock) -> "StoredAhead":
        return cls(
            depletion_mm=np.round(block.depletion_mm, DIGITS).tolist(),
            use_mm=np.round(block.use_mm, DIGITS).tolist(),
            rain_mm=np.round(block.rain_mm, DIGITS).tolist(),
            raw_mm=np.round(block.raw_mm, DIGITS).tolist(),
            taw_mm=np.round(block.taw_mm, DIGITS).tolist(),
        )


def stored_source(source: PlanSource) -> StoredSource:
    return StoredSource(
        name=source.name,
        flow_l_s=np.round(source.flow_l_s, 4).tolist(),
        day_m3=[None if isinf(x) else x for x in source.day_m3.tolist()],
        price_kwh=np.round(source.price_kwh, 6).tolist(),
        total_m3=None if isinf(source.total_m3) else source.total_m3,
        kwh_m3=source.kwh_m3,
        water_price=source.water_price,
        peak_price=source.peak_price,
        peak_so_far_kw=source.peak_so_far_kw,
        smallest_l_s=source.smallest_l_s,
    )


def _source(s: StoredSource) -> PlanSource:
    return PlanSource(
        name=s.name,
        flow_l_s=np.array(s.flow_l_s),
        day_m3=np.array([inf if x is None else x for x in s.day_m3]),
        price_kwh=np.array(s.price_kwh),
        total_m3=inf if s.total_m3 is None else s.total_m3,
        kwh_m3=s.kwh_m3,
        water_price=s.water_price,
        peak_price=s.peak_price,
        peak_so_far_kw=s.peak_so_far_kw,
        smallest_l_s=s.smallest_l_s,
    )


def stored_block(block_id: int, block: PlanBlock) -> StoredBlock:
    """A block but for its days ahead; irrigations that stand without their numbers."""
    return StoredBlock(
        block_id=block_id,
        name=block.name,
        source=block.source,
        mains=list(block.mains),
        machine=block.machine,
        people=block.people,
        flow_l_s=block.flow_l_s,
        net_mm_h=block.net_mm_h,
        gross_m3_mm=block.gross_m3_mm,
        smallest_mm=block.smallest_mm,
        largest_mm=block.largest_mm,
        allowed=_as_text(block.allowed),
        windy="" if block.windy is None else _as_text(block.windy),
        loss_per_mm=block.loss_per_mm,
        labour=block.labour,
        wetting_mm=block.wetting_mm,
        fixed=[StoredSet.model_validate(f) for f in block.fixed],
        told=[StoredSet.model_validate(f) for f in block.told],
        change=block.change,
        groups=list(block.groups),
        pulse_mm=None if block.pulses is None else block.pulses.most_mm,
        pause_h=0.0 if block.pulses is None else block.pulses.pause_h,
        parts=block.parts,
        a_day=block.a_day,
    )


def _as_text(slots: Bools) -> str:
    return "".join("1" if a else "0" for a in slots.tolist())


def _as_slots(text: str) -> Bools:
    return np.array([c == "1" for c in text])


def plan_block_of(stored: StoredBlock, ahead: StoredAhead | None = None) -> PlanBlock:
    """A stored block; without its days ahead it has no members, and tells what it takes alone."""
    depletion, use, rain, raw, taw = _ahead(ahead)
    return PlanBlock(
        name=stored.name,
        source=stored.source,
        mains=tuple(stored.mains),
        machine=stored.machine,
        people=stored.people,
        flow_l_s=stored.flow_l_s,
        net_mm_h=stored.net_mm_h,
        gross_m3_mm=stored.gross_m3_mm,
        smallest_mm=stored.smallest_mm,
        largest_mm=stored.largest_mm,
        allowed=_as_slots(stored.allowed),
        windy=_as_slots(stored.windy) if stored.windy else None,
        depletion_mm=depletion,
        use_mm=use,
        rain_mm=rain,
        raw_mm=raw,
        taw_mm=taw,
        loss_per_mm=stored.loss_per_mm,
        labour=stored.labour,
        wetting_mm=stored.wetting_mm,
        fixed=tuple(FixedSet(f.start, f.slots, f.net_mm) for f in stored.fixed),
        told=tuple(FixedSet(f.start, f.slots, f.net_mm) for f in stored.told),
        change=stored.change,
        groups=tuple(stored.groups),
        pulses=stored.pulses,
        parts=stored.parts,
        a_day=stored.a_day,
    )


def _ahead(ahead: StoredAhead | None) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    if ahead is None:
        none = np.zeros((0, DAYS))
        return np.zeros(0), none, none, np.zeros(DAYS), np.zeros(DAYS)
    return (
        np.array(ahead.depletion_mm),
        np.array(ahead.use_mm),
        np.array(ahead.rain_mm),
        np.array(ahead.raw_mm),
        np.array(ahead.taw_mm),
    )
