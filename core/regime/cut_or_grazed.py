"""Hay and pasture: kept above refill, and left dry for each cut or grazing of a calendar."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, datetime, time, timedelta

import numpy as np

from core.advice.answer import Assessment
from core.advice.gather import AHEAD_DAYS, forecast_of
from core.advice.history import History
from core.advice.holds import Hold, HoldKind
from core.advice.inputs import BlockInputs
from core.advice.learned import Learned
from core.advice.needs_ahead import NeedsAhead
from core.advice.season_course import SeasonCourse
from core.arrays import Floats
from core.crop.cutting import CuttingAnswer, Harvest, Harvested, harvests
from core.limits.in_force import LimitsInForce
from core.regime.above_refill import AboveRefill

# A swath that was cut so many days ago and is not logged as baled counts as lying [days].
LYING_DAYS = 12


class CutOrGrazed:
    """The regime of hay and pasture, see `core.regime.regime.RegimeOf`."""

    soil = AboveRefill()

    def answers(self, blocks: Sequence[BlockInputs], past: bool) -> tuple[Assessment, ...]:
        """See `RegimeOf`."""
        ahead = [harvests_ahead(b) for b in blocks]
        held = [_held(b, h) for b, h in zip(blocks, ahead, strict=True)]
        answers = self.soil.answers(held, past)
        return tuple(_said(b, a, h) for b, a, h in zip(blocks, answers, ahead, strict=True))

    def answer(self, inputs: BlockInputs) -> Assessment:
        """See `RegimeOf`."""
        ahead = harvests_ahead(inputs)
        return _said(inputs, self.soil.answer(_held(inputs, ahead)), ahead)

    def needs(self, blocks: Sequence[BlockInputs], days: int) -> tuple[NeedsAhead | None, ...]:
        """See `RegimeOf`."""
        return self.soil.needs([_held(b, harvests_ahead(b)) for b in blocks], days)

    def past(self, inputs: BlockInputs, days: float) -> tuple[LimitsInForce, History] | None:
        """See `RegimeOf`."""
        return self.soil.past(inputs, days)

    def course(self, inputs: BlockInputs) -> SeasonCourse | None:
        """See `RegimeOf`."""
        return self.soil.course(inputs)

    def learned(self, inputs: BlockInputs) -> Learned | None:
        """See `RegimeOf`."""
        return self.soil.learned(inputs)


def harvests_ahead(inputs: BlockInputs) -> tuple[Harvest, ...]:
    """The cuts or grazings of a block that lie ahead within the outlook, and the one before where
    its growth is not taken yet; none without a calendar or a crop."""
    calendar, season = inputs.assumed.cutting, inputs.assumed.season
    if calendar is None or season is None or inputs.assumed.et is None:
        return ()
    today = inputs.now.date()
    last = today + timedelta(days=AHEAD_DAYS)
    done = [season.planted_on + timedelta(days=c) for c in season.cuts]
    before = max([d for d in done if d <= today], default=season.planted_on)
    lying = [before] if done and (today - before).days <= LYING_DAYS else []
    days = [d for d in calendar.days_between(today, last, before) if d not in done]
    f = forecast_of(inputs)
    found = list(harvests(calendar, days, today, f.et0_mm, f.rain_mm))
    if lying:
        found = [*harvests(calendar, lying, before, *_since(inputs, before)), *found]
    return tuple(h for h in found if h.water_from > today)


def _since(inputs: BlockInputs, first: date) -> tuple[Floats, Floats]:
    """ET0 and rain of each day from a past one on, as recorded and then as forecast; two arrays
    (courses, days) [mm/day]. Of a day that was not recorded the expected ET0 is taken."""
    f, gone = forecast_of(inputs), (inputs.now.date() - first).days
    et0 = np.full(gone, inputs.assumed.stated_et.expected)
    past = inputs.past
    for k in range(gone):
        at = (first + timedelta(days=k) - past.first).days if past else -1
        if past and 0 <= at < past.et0_mm.size and not np.isnan(past.et0_mm[at]):
            et0[k] = past.et0_mm[at]
    rain = np.zeros(gone)
    for w in inputs.waterings:
        day = gone + int(np.floor((w.hours + inputs.now.hour) / 24))
        if w.is_rain and 0 <= day < gone:
            rain[day] += w.net_mm
    courses = f.et0_mm.shape[0]
    return (
        np.concatenate([np.tile(et0, (courses, 1)), f.et0_mm], axis=1),
        np.concatenate([np.tile(rain, (courses, 1)), f.rain_mm], axis=1),
    )


def _hours(inputs: BlockInputs, day: date) -> float:
    """Hours from now to the start of a day on the farm."""
    midnight = datetime.combine(day, time(), tzinfo=inputs.now.tzinfo)
    return (midnight.timestamp() - inputs.now.timestamp()) / 3600


def _held(inputs: BlockInputs, ahead: Sequence[Harvest]) -> BlockInputs:
    """The block with the holds of its cuts or grazings, and with its crop cut on their days."""
    calendar, season = inputs.assumed.cutting, inputs.assumed.season
    if calendar is None or season is None or not ahead:
        return inputs
    lies = {
        Harvested.CUT: HoldKind.DRYING,
        Harvested.GRAZED: HoldKind.GRAZING,
    }[calendar.harvested]
    comes = {Harvested.CUT: HoldKind.CUTTING, Harvested.GRAZED: HoldKind.GRAZING}
    made = []
    for h in ahead:
        for first, end, kind in (
            (h.dry_from, h.on, comes[calendar.harvested]),
            (h.on, h.water_from, lies),
        ):
            if end > first and _hours(inputs, end) > 0:
                made.append(Hold(_hours(inputs, first), _hours(inputs, end), kind))
    cuts = (*season.cuts, *((h.on - season.planted_on).days for h in ahead))
    holds = tuple(sorted((*inputs.holds, *made), key=lambda h: h.start_hours))
    held = inputs.assuming(season=replace(season, cuts=tuple(sorted(set(cuts)))))
    return replace(held, holds=holds)


def _said(inputs: BlockInputs, answer: Assessment, ahead: Sequence[Harvest]) -> Assessment:
    calendar = inputs.assumed.cutting
    if calendar is None:
        return answer
    return replace(answer, cutting=CuttingAnswer(calendar.harvested, tuple(ahead)))
