"""Findings on the wire; depths of water over the wetted ground."""

from datetime import date, datetime

from ninja import Field

from core.diagnosis.cause import Cause, CauseGroup
from core.diagnosis.finding import EvidenceFigure
from server.base.language import Translated
from server.base.moment import Day
from server.base.schema import Body, Schema
from server.findings.models import FindingStatus


class FindingEvidenceOut(Schema):
    """One thing seen. ``seen`` and ``expected`` in mm, m3/m3, kPa, h, mm/h, mm/day or a share, by
    the figure; null is unknown, or nothing was to be expected."""

    from_at: datetime
    to_at: datetime
    figure: EvidenceFigure
    seen: float | None
    expected: float | None
    instrument: str
    depth_mm: float | None
    irrigation_id: int | None


class FindingDecisionOut(Schema):
    """What a person decided; ``has_photo`` where he took a picture."""

    id: int
    status: FindingStatus
    note: str
    until: date | None
    made_at: datetime
    made_by: str
    has_photo: bool


class EarlierFindingOut(Schema):
    """One like it that was decided before."""

    block: str
    instrument: str
    status: FindingStatus
    note: str
    made_at: datetime
    made_by: str


class FindingOut(Schema):
    """A finding in words and figures. ``typical_seen`` and ``typical_expected``, the middle of its
    evidence, in the unit of the ``figure``; ``likelihood`` that it is so [-]; ``cost_mm_week`` and
    ``stress_days_week`` of leaving it, null where they can't be told."""

    id: int
    block_id: int
    block: str
    instrument_id: int | None
    instrument: str
    depth_mm: float | None
    cause: Cause
    group: CauseGroup
    name: Translated
    seen: Translated
    check: Translated
    changes: Translated
    figure: EvidenceFigure
    typical_seen: float | None
    typical_expected: float | None
    likelihood: float
    cost_mm_week: float | None
    cost_m3_week: float | None
    stress_days_week: float | None
    first_at: datetime
    last_at: datetime
    lapsed_at: datetime | None
    status: FindingStatus
    until: date | None
    evidence: list[FindingEvidenceOut]
    decisions: list[FindingDecisionOut]
    earlier: list[EarlierFindingOut]


class FindingMark(Schema):
    """What is said of a block's findings on the board."""

    block_id: int
    count: int
    cause: Cause
    name: Translated


class FindingDecisionIn(Body):
    """Confirmed, dismissed or done, with what was found in the field or why; a dismissed one is not
    shown until after ``until``."""

    status: FindingStatus
    note: str = Field("", max_length=500)
    until: Day | None = None
