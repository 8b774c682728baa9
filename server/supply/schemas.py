"""The network as a page takes it."""

from datetime import datetime

from core.irrigation.system import SystemKind
from core.plan.network_remarks import Remark
from server.base.schema import Body, Schema
from server.supply.document import NetworkDocument


class NetworkIn(Body):
    """A new description; ``version`` is the number of the one that was changed."""

    version: int
    network: NetworkDocument


class RemarkOut(Schema):
    """Something that stands in the way of planning; ``name`` of the source or main it is about."""

    remark: Remark
    name: str
    blocks: list[str]


class SuppliedBlock(Schema):
    """A block with what it draws while it runs [m3/h] and its crop under way."""

    id: int
    name: str
    supply: str
    area_m2: float
    flow_m3_h: float
    crop_key: str | None
    crop: str | None


class CapacityOut(Schema):
    """What a source brings in a day beside the peak use of its blocks [m3] and, at the roots over
    their ground, [mm/day]."""

    m3_day: float
    needed_m3_day: float
    net_mm_day: float
    use_mm_day: float
    keeps_up: bool


class NetworkOut(Schema):
    """Of each source, in their order: ``energy_kwh_m3``, also where head and efficiency tell it,
    and ``capacity``, null where nothing limits or uses it; ``peak_et0_mm_day`` is what peak use is
    worked out with, null where no ET is known. ``wind_systems`` are those of the farm's blocks that
    throw water through the air."""

    version: int
    made_at: datetime | None
    network: NetworkDocument
    energy_kwh_m3: list[float]
    capacity: list[CapacityOut | None]
    peak_et0_mm_day: float | None
    blocks: list[SuppliedBlock]
    wind_systems: list[SystemKind]
    remarks: list[RemarkOut]
