"""The network as a page takes it."""

from datetime import datetime

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


class NetworkOut(Schema):
    """``energy_kwh_m3`` of each source, in their order, also where head and efficiency tell it."""

    version: int
    made_at: datetime | None
    network: NetworkDocument
    energy_kwh_m3: list[float]
    blocks: list[SuppliedBlock]
    remarks: list[RemarkOut]
