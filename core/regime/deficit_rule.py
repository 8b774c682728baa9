"""The rule of a plan of less water: by stage a share of ETc, or a lower refill point."""

from dataclasses import replace
from datetime import timedelta

import numpy as np

from core.advice.answer import Assessment
from core.advice.decide import Decisions
from core.advice.gather import AHEAD_DAYS
from core.advice.inputs import BlockInputs
from core.advice.needs_ahead import NeedsAhead
from core.advice.vocabulary import Reason
from core.advice.working import Step
from core.arrays import Floats
from core.crop.season import STAGE_ORDER, Stage
from core.deficit.answer import DeficitAnswer
from core.deficit.plan import DeficitPlan
from core.deficit.yield_expected import yield_expected
from core.regime.band_working import lower_refill_steps
from core.regime.share_of_use import Owed, owed, share_band
from core.regime.soil_band import Ruling
from core.regime.store_band import CRITICAL, BandDecision, StoreBand


class DeficitRule:
    """Less water by plan, see `core.regime.soil_band.SoilRule`."""

    def watered(self, inputs: BlockInputs) -> BlockInputs:
        """See `SoilRule`."""
        return inputs

    def on(self, d: Decisions, row: int, past: bool) -> Ruling:
        """See `SoilRule`."""
        plan = d.gathered.blocks[row].assumed.deficit
        if plan is None:
            return Ruling(None, lambda answer: answer)
        return _planned(d, row, plan)


def _planned(d: Decisions, row: int, plan: DeficitPlan) -> Ruling:
    g, days = d.gathered, d.gathered.past_days
    stage = g.limits.crop.stage_index[row, : days + AHEAD_DAYS + 1]
    share, allowed = _by_day(d, plan, stage)
    now = Stage(STAGE_ORDER[int(stage[days])])
    coming = [Stage(STAGE_ORDER[int(k)]) for k in stage[days:]]
    later = next((s for s in coming if s is not now and s in plan.stages), None)
    water = plan.stages.get(now)
    due = owed(d, row, share, plan.application_mm) if (share > 0).any() else None
    by_share = water is not None and water.use_share is not None

    def said(answer: Assessment) -> Assessment:
        return replace(
            answer,
            deficit=DeficitAnswer(
                stage=now if water else None,
                use_share=water.use_share if water else None,
                allowed=water.allowed if water else None,
                next_stage=later,
                due_mm=float(due.past_mm[-1]) if due and by_share else None,
                application_mm=due.application_mm if due and by_share else None,
                yield_share=yield_expected(g.seasons[row].crop, plan.stages),
            ),
        )

    added = frozenset({Reason.LESS_BY_PLAN}) if water else frozenset()
    ruled = (share[days:] > 0) | ~np.isnan(allowed[days:])
    if not ruled.any():
        return Ruling(None, said, added)
    return Ruling(_band(d, row, share, allowed, due), said, added)


def _by_day(d: Decisions, plan: DeficitPlan, stage: np.ndarray) -> tuple[Floats, Floats]:
    """Share of the use, 0 where none rules, and share of the available water that may be used, NaN
    where the plan has none; (past days + AHEAD_DAYS + 1,) [-]."""
    first = d.gathered.blocks[0].now.date() - timedelta(days=d.gathered.past_days)
    on = first.toordinal() + np.arange(stage.size)
    since = plan.since.toordinal() if plan.since else 0
    share, allowed = np.zeros(stage.size), np.full(stage.size, np.nan)
    for planned, water in plan.stages.items():
        here = stage == STAGE_ORDER.index(planned)
        if water.use_share is not None:
            share[here & (on >= since)] = water.use_share
        if water.allowed is not None:
            allowed[here] = water.allowed
    return share, allowed


def _band(d: Decisions, row: int, share: Floats, allowed: Floats, due: Owed | None) -> StoreBand:
    """The band day by day: by what is due, by the plan's refill point, or by the soil's own."""
    g, days = d.gathered, d.gathered.past_days
    taw = g.zones.taw_mm[row, : days + AHEAD_DAYS + 1]
    own = g.zones.raw_mm[row, : days + AHEAD_DAYS + 1]
    raw = np.where(np.isnan(allowed), own, allowed * taw)
    members = own[days:] - d.member_usable_mm[row]
    expected = d.expected.depletion_mm[row, 0]
    now = slice(days, None)

    def needs(found: NeedsAhead) -> NeedsAhead:
        size = found.raw_mm.size
        limit = np.append(raw[now], np.repeat(raw[-1:], max(size - raw[now].size, 0)))[:size]
        return replace(found, raw_mm=limit, taw_mm=np.maximum(found.taw_mm, limit + 1.0))

    def explained(made: BandDecision) -> tuple[Step, ...]:
        return lower_refill_steps(d, float(allowed[days]), raw[now] - expected, made)

    band = StoreBand(
        usable_mm=raw[now] - members,
        expected_mm=raw[now] - expected,
        room_mm=raw[now],
        missing_mm=np.maximum(expected, 0.0),
        lowest_past_mm=raw[: days + 1],
        highest_past_mm=np.zeros(days + 1),
        explained=explained,
        needs=needs,
        dropped=CRITICAL,
    )
    if due is None:
        return band
    by_share = share_band(d, row, due)
    ahead, past = share[now] > 0, share[: days + 1] > 0

    def either(name: str, where: np.ndarray) -> Floats:
        return np.where(where, getattr(by_share, name), getattr(band, name))

    today = by_share if ahead[0] else band
    return StoreBand(
        usable_mm=either("usable_mm", ahead),
        expected_mm=either("expected_mm", ahead),
        room_mm=either("room_mm", ahead),
        missing_mm=either("missing_mm", ahead),
        lowest_past_mm=either("lowest_past_mm", past),
        highest_past_mm=either("highest_past_mm", past),
        explained=today.explained,
        needs=today.needs,
        dropped=CRITICAL,
    )
