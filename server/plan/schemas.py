"""Run sheets as a page takes them. Slots of two hours count from the sheet's first midnight on."""

from datetime import date, datetime
from enum import StrEnum

from pydantic import Field

from core.plan.reasons import SharedKind, WeatherKind
from core.plan.sheet import SheetRule
from core.plan.slots import SLOTS
from server.base.schema import Body, Schema
from server.plan.jobs import AlarmOut
from server.plan.money import BlockMoneyOut
from server.plan.outcome import Outcome, ShortBlockOut
from server.plan.season import StoredSeason


class SetStatus(StrEnum):
    """How far an irrigation of a run sheet is."""

    DRAFT = "draft"
    ANNOUNCED = "announced"
    RUNNING = "running"
    DONE = "done"
    CANCELLED = "cancelled"


class SheetSetOut(Schema):
    """An irrigation: ``start`` its first slot, and moments; depths over the whole block [mm].

    ``hours`` from its first water to its last, ``pause_hours`` between each of its ``pulses``
    included.
    """

    id: int
    block_id: int
    start: int
    slots: int
    starts_at: datetime
    ends_at: datetime
    hours: float
    pulses: int
    pause_hours: float
    net_mm: float
    gross_mm: float
    volume_m3: float
    pinned: bool
    status: SetStatus
    irrigation_id: int | None


class StandingOut(Schema):
    """An irrigation that runs or that a person scheduled by itself: the plan leaves it alone; depth
    over the whole block [mm]."""

    irrigation_id: int
    block_id: int
    start: int
    slots: int
    starts_at: datetime
    ends_at: datetime
    gross_mm: float
    volume_m3: float
    running: bool


class SheetBlock(Schema):
    """A block: place of its source, what it draws [m3/h], slots when it must not run, how much one
    irrigation may be [mm gross], and money."""

    id: int
    name: str
    source: int
    machine: int | None
    flow_m3_h: float
    smallest_mm: float
    largest_mm: float
    held: list[int]
    windy: list[int]
    irrigator: str | None
    money: BlockMoneyOut


class SheetSource(Schema):
    """A source: flow while it may run [m3/h], slots when it may not, price of power by slot and by
    kW of the month's highest draw, and that draw so far."""

    name: str
    flow_m3_h: float
    limited: bool
    closed: list[int]
    price_kwh: list[float]
    peak_price: float
    peak_so_far_kw: float


class BrokenOut(Schema):
    """A rule that the sheet breaks; ``name`` of the source, main or machine."""

    rule: SheetRule | SharedKind
    name: str
    slots: list[int]
    block_ids: list[int]


class SheetTotals(Schema):
    """Money of the whole sheet, ``peak`` for power above the month's highest draw so far."""

    total: float
    lost: float
    power: float
    water: float
    labour: float
    peak: float
    energy_kwh: float
    drawn_m3: float


class AnnouncedOut(Schema):
    """The newest announcement; ``differs`` how many irrigations of the sheet differ from it."""

    number: int
    made_at: datetime
    made_by: str | None
    differs: int


class LateStart(Schema):
    """A source that must begin by a day, null where every day is too late already, and the day of
    the first irrigation from it on the sheet, null where there is none."""

    source: str
    begin_by: date | None
    first_on: date | None


class NightOut(Schema):
    """From sunset to sunrise."""

    from_at: datetime
    to_at: datetime


class SheetOut(Schema):
    """A run sheet; ``nights`` is empty where nobody said where the farm lies, ``edit`` is the
    number that a change is based on, ``short`` the blocks that lack water on it as it stands, the
    costliest first."""

    id: int
    made_at: datetime
    first_at: datetime
    edit: int
    can_undo: bool
    changed_by: str | None
    changed_at: datetime
    currency: str
    value_assumed: bool
    starts: list[datetime]
    nights: list[NightOut]
    people: list[int]
    sources: list[SheetSource]
    machines: list[str]
    wind_m_s: list[float | None]
    blocks: list[SheetBlock]
    left_out: list[str]
    sets: list[SheetSetOut]
    standing: list[StandingOut]
    broken: list[BrokenOut]
    late_starts: list[LateStart]
    short: list[ShortBlockOut]
    totals: SheetTotals
    outcome: Outcome


class SetChange(StrEnum):
    """How an irrigation differs from what was there before."""

    NEW = "new"
    MOVED = "moved"
    RESIZED = "resized"
    REMOVED = "removed"


class SetChangeOut(Schema):
    """An irrigation of one plan beside that of another; null where there is none."""

    change: SetChange
    block_id: int
    block: str
    from_at: datetime | None
    from_hours: float | None
    to_at: datetime | None
    to_hours: float | None


class ProposalOut(Schema):
    """A plan that nobody took yet, and what it would change from now on; money of both can be held
    beside each other where they are of the ``same_days``."""

    id: int
    made_at: datetime
    same_days: bool
    totals: SheetTotals
    now_totals: SheetTotals
    changes: list[SetChangeOut]


class BlockName(Schema):
    id: int
    name: str


class SeasonWaterOut(Schema):
    """What the plan in use says of the rest of the season; ``season`` null where there is no plan,
    or it could not be worked out."""

    made_at: datetime | None
    currency: str
    blocks: list[BlockName]
    season: StoredSeason | None


class RunSheetOut(Schema):
    """What there is: the sheet in use, a proposed one, whether one is being made, and whether the
    last one could not be (its incident's number)."""

    now: datetime
    time_zone: str
    planning: bool
    failed: str | None
    sheet: SheetOut | None
    proposal: ProposalOut | None
    announced: AnnouncedOut | None
    alarms: list[AlarmOut]


class SheetSetIn(Body):
    """An irrigation as it is to be: by its first slot and its hours; ``id`` 0 is a new one."""

    id: int = Field(default=0, ge=0, le=10**6)
    start: int = Field(ge=0, lt=SLOTS)
    hours: float = Field(gt=0, le=240)
    pinned: bool = False


class BlockSetsIn(Body):
    """All irrigations that a block is to have."""

    block_id: int
    sets: list[SheetSetIn] = Field(max_length=60)


class SheetChangeIn(Body):
    """Changes to the sheet as its ``edit`` left it."""

    edit: int
    blocks: list[BlockSetsIn] = Field(min_length=1, max_length=300)


class EditIn(Body):
    edit: int


class StoreOut(Schema):
    """Usable water of a block above refill by steps of six hours [mm]: dry tenth, middle, wet tenth
    ``raw_mm`` what a full store holds."""

    low_mm: list[float]
    middle_mm: list[float]
    high_mm: list[float]
    raw_mm: list[float]


class TriedOut(Schema):
    """What a change would bring: its irrigations, what is broken then, and money."""

    sets: list[SheetSetOut]
    broken: list[BrokenOut]
    totals: SheetTotals
    money: dict[int, BlockMoneyOut]
    store: StoreOut | None


class InTheWayOut(Schema):
    """A shared thing of which there is too little, or weather: when, and which other blocks use it
    then."""

    kind: SharedKind | WeatherKind
    name: str
    slots: list[int]
    block_ids: list[int]


class RatherOut(Schema):
    """An irrigation that would cost least if nothing were in the way."""

    starts_at: datetime
    hours: float


class WhyOut(Schema):
    """Why a block is irrigated when it is, see `core.plan.reasons.BlockReason`; money."""

    cost: float
    rather: list[RatherOut]
    rather_cost: float
    in_the_way: list[InTheWayOut]
    earlier: float | None
    later: float | None
    store: StoreOut
