"""Findings as people see them, the costliest first."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from statistics import median
from typing import Any

from django.db.models import Prefetch, Q, QuerySet

from core.diagnosis.cause import Cause, CauseGroup, cause_words
from core.diagnosis.finding import EvidenceFigure
from server.farms.models import Farm
from server.fieldwork.checks import CHECKS, CheckOut
from server.findings.models import Finding, FindingDecision, FindingEvidence, FindingStatus
from server.findings.schemas import (
    EarlierFindingOut,
    FindingDecisionOut,
    FindingEvidenceOut,
    FindingMark,
    FindingOut,
)
from server.instruments.api import user_name
from server.instruments.models import Instrument
from server.water.equipment import wetted_share

# A day of stress costs as much as so much water: for ranking alone; working assumption [mm].
STRESS_DAY_MM = 5.0
# So many like it are told of, the newest.
MOST_EARLIER = 5
# Instruments come first: until they are seen to, what they say is not known.
_FIRST = {
    CauseGroup.INSTRUMENT: 0,
    CauseGroup.APPLICATION: 1,
    CauseGroup.SOIL_WATER: 1,
    CauseGroup.SETTINGS: 2,
}


def findings_out(farm: Farm, block_id: int | None, past: bool) -> list[FindingOut]:
    """Findings of a farm or of one of its blocks.

    Parameters
    ----------
    past : bool
        Whether those that were dismissed, put right or have lapsed are told too.
    """
    rows = _shown(farm, past).select_related("block", "instrument")
    decided = FindingDecision.objects.for_farm(farm).filter(undone_at=None)
    decided = decided.defer("image").annotate(has_photo=Q(image__isnull=False))
    rows = rows.prefetch_related(
        "evidence__instrument", Prefetch("decisions", decided.select_related("made_by"))
    )
    if block_id is not None:
        rows = rows.filter(block_id=block_id)
    found = list(rows)
    earlier = _earlier(farm, {f.cause for f in found})
    return [_out(f, earlier[f.cause]) for f in sorted(found, key=_rank)]


def _shown(farm: Farm, past: bool) -> QuerySet[Finding]:
    rows: QuerySet[Finding] = Finding.objects.for_farm(farm)
    if past:
        return rows
    hidden = Q(status=FindingStatus.DONE) | (
        Q(status=FindingStatus.DISMISSED) & (Q(until=None) | Q(until__gte=farm.now().date()))
    )
    return rows.filter(lapsed_at=None).exclude(hidden)


def marks_of(farm: Farm) -> list[FindingMark]:
    """Blocks on which something is wrong now, each with its costliest finding."""
    by_block: dict[int, list[Finding]] = defaultdict(list)
    for row in _shown(farm, past=False):
        by_block[row.block_id].append(row)
    out = []
    for block_id, rows in by_block.items():
        words = cause_words()[Cause(min(rows, key=_rank).cause)]
        mark = FindingMark(block_id=block_id, count=len(rows), cause=words.cause, name=words.name)
        out.append(mark)
    return out


def checks_near(farm: Farm, instruments: Sequence[Instrument]) -> dict[int, list[CheckOut]]:
    """What settles the findings near some instruments; of a whole block, near its first one."""
    first: dict[int, int] = {}
    for instrument in instruments:
        first.setdefault(instrument.block_id, instrument.pk)
    asked = {i.pk for i in instruments}
    out: dict[int, list[CheckOut]] = defaultdict(list)
    for row in sorted(_shown(farm, past=False).filter(block__in=first), key=_rank):
        near = row.instrument_id if row.instrument_id in asked else first[row.block_id]
        words = cause_words()[Cause(row.cause)]
        out[near].append(CheckOut(finding_id=row.pk, name=words.name, check=words.check))
    return out


# Rounds tell of them.
CHECKS.append(checks_near)


def _rank(row: Finding) -> tuple[bool, int, float, float]:
    """Active ones first, instruments before what they tell of, then by what a week costs."""
    group = cause_words()[Cause(row.cause)].group
    cost = (row.cost_mm_week or 0.0) + STRESS_DAY_MM * (row.stress_days_week or 0.0)
    return (row.lapsed_at is not None, _FIRST[group], -cost * row.likelihood, -row.likelihood)


def _earlier(farm: Farm, causes: Iterable[str]) -> dict[str, list[FindingDecision]]:
    """What was decided about findings of each cause, the newest first."""
    out: dict[str, list[FindingDecision]] = defaultdict(list)
    decided = (
        FindingDecision.objects.for_farm(farm)
        .filter(finding__cause__in=causes, undone_at=None)
        .select_related("finding__block", "finding__instrument", "made_by")
        .defer("image")
        .order_by("-made_at")
    )
    for row in decided:
        out[row.finding.cause].append(row)
    return out


def _out(row: Finding, decided: list[FindingDecision]) -> FindingOut:
    words = cause_words()[Cause(row.cause)]
    m3 = None
    if row.cost_mm_week is not None:
        m3 = row.cost_mm_week * wetted_share(row.block).share * row.block.area_m2 / 1000
    others = [d for d in decided if d.finding_id != row.pk][:MOST_EARLIER]
    return FindingOut(
        id=row.pk,
        block_id=row.block_id,
        block=row.block.name,
        instrument_id=row.instrument_id,
        instrument=row.instrument.label if row.instrument else "",
        depth_mm=row.depth_mm,
        cause=words.cause,
        group=words.group,
        name=words.name,
        seen=words.seen,
        check=words.check,
        changes=words.changes,
        **_typical(list(row.evidence.all())),
        likelihood=row.likelihood,
        cost_mm_week=row.cost_mm_week,
        cost_m3_week=m3,
        stress_days_week=row.stress_days_week,
        first_at=row.first_at,
        last_at=row.last_at,
        lapsed_at=row.lapsed_at,
        status=FindingStatus(row.status),
        until=row.until,
        evidence=[_evidence_out(e) for e in row.evidence.all()],
        decisions=[_decision_out(d) for d in row.decisions.all()],
        earlier=[_earlier_out(d) for d in others],
    )


def _typical(evidence: Sequence[FindingEvidence]) -> dict[str, Any]:
    """The middle of what was seen and of what was to be expected of it."""
    seen = [e.seen for e in evidence if e.seen is not None]
    expected = [e.expected for e in evidence if e.expected is not None]
    return {
        "figure": EvidenceFigure(evidence[0].figure),
        "typical_seen": median(seen) if seen else None,
        "typical_expected": median(expected) if expected else None,
    }


def _evidence_out(row: FindingEvidence) -> FindingEvidenceOut:
    return FindingEvidenceOut(
        from_at=row.from_at,
        to_at=row.to_at,
        figure=EvidenceFigure(row.figure),
        seen=row.seen,
        expected=row.expected,
        instrument=row.instrument.label if row.instrument else "",
        depth_mm=row.depth_mm,
        irrigation_id=row.irrigation_id,
    )


def _decision_out(row: FindingDecision) -> FindingDecisionOut:
    has_photo: bool = row.has_photo  # type: ignore[attr-defined]
    return FindingDecisionOut(
        id=row.pk,
        status=FindingStatus(row.status),
        note=row.note,
        until=row.until,
        made_at=row.made_at,
        made_by=user_name(row.made_by),
        has_photo=has_photo,
    )


def _earlier_out(row: FindingDecision) -> EarlierFindingOut:
    return EarlierFindingOut(
        block=row.finding.block.name,
        instrument=row.finding.instrument.label if row.finding.instrument else "",
        status=FindingStatus(row.status),
        note=row.note,
        made_at=row.made_at,
        made_by=user_name(row.made_by),
    )
