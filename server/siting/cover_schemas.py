"""Kinds of block and their sites, as the API gives them."""

from core.irrigation.system import SystemKind
from core.siting.farm_cover import SlopeClass
from server.base.schema import Schema
from server.siting.spots.schemas import SpotLine


class CoverBlockOut(Schema):
    id: int
    name: str
    area_m2: float
    sites: list[str]
    has_layers: bool


class CoverGroupOut(Schema):
    """Blocks of one crop, soil, slope and system; ``value`` of their yield is null where one's is
    not known."""

    crop: str
    soil: str
    slope: SlopeClass
    system: SystemKind
    area_m2: float
    value: float | None
    sites: int
    blocks: list[CoverBlockOut]


class CoverOut(Schema):
    """Groups, those first where one more site tells most; chosen spots by their blocks."""

    currency: str
    groups: list[CoverGroupOut]
    spots: list[SpotLine]
