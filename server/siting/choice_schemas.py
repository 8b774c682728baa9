"""Which kind of instrument suits a block, as the API takes and gives it."""

from typing import Annotated

from ninja import Field

from core.instrument.kinds import InstrumentKind
from server.base.language import Translated
from server.base.schema import Body, Schema


class InstrumentChoiceIn(Body):
    """``prices`` are of one instrument with its depths, as the person knows them."""

    visits_a_week: float = Field(default=1.0, ge=0, le=14)
    logged: bool = False
    tilled: bool = False
    prices: dict[InstrumentKind, Annotated[float, Field(ge=0, le=1e6)]] = Field(
        default_factory=dict
    )


class KindChoiceOut(Schema):
    kind: InstrumentKind
    name: Translated
    speaks_for: list[Translated]
    against: list[Translated]
    ruled_out: list[Translated]
    depths_mm: list[float]
    cost: float | None


class InstrumentChoiceOut(Schema):
    """What is known of the block, and all kinds beside it, those that suit best first."""

    block: str
    crop: str
    soil: str
    root_mm: float
    p: float | None
    refill_kpa: list[float]
    clay: float | None
    gravel: float
    ece_ds_m: float | None
    kinds: list[KindChoiceOut]
