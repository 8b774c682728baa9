"""What lack of water would cost a block."""

from datetime import date

from core.advice.at_risk import WindowName
from server.base.schema import Schema


class SensitiveWindowOut(Schema):
    """A sensitive window of the season; it ends before ``ends_on``."""

    name: WindowName
    ky: float
    starts_on: date
    ends_on: date


class AtRiskOut(Schema):
    """What lack of water would cost the crop, see `core.advice.at_risk.AtRisk`: shares of the full
    yield [-], depths over the block [mm]."""

    window: SensitiveWindowOut | None
    next_window: SensitiveWindowOut | None
    stress_day_share: float | None
    practice_share: float | None
    delay_mm: float | None
    delay_share: float | None
    rest_days: int
    rest_use_mm: float
    rest_need_mm: float
