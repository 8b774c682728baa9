"""The answer for blocks: state, date, amount, hours, confidence, reasons, and the working."""

from collections.abc import Sequence
from dataclasses import replace
from math import isfinite

import numpy as np

from core.advice.answer import Assessment, Outlook, Weighed
from core.advice.at_risk import risks
from core.advice.decide import Decisions, decide
from core.advice.explain_days import balance_rows, day_rows
from core.advice.explain_layers import layer_rows
from core.advice.explain_steps import last_heard, steps
from core.advice.history import History, Known, history
from core.advice.inputs import BlockInputs
from core.advice.instants import instant, whole_hour
from core.advice.judge import Judgement, below_refill_hours
from core.advice.learned import Learned, learned
from core.advice.other_methods import estimate_answers, refill_method_answers, variants
from core.advice.questions import questions
from core.advice.soil_evaporation import by_basal
from core.advice.vocabulary import Confidence, Reason, State
from core.crop.reference import SurfacesDiffer
from core.crop.season import STAGE_ORDER, CropSeason, Stage
from core.limits.in_force import LimitsInForce
from core.limits.root_zone import RootZoneLimits
from core.state.estimate_from import ESTIMATES_FROM, EstimateFrom


def assess(inputs: BlockInputs) -> Assessment:
    """Answer for one block with its working; see `assess_blocks`."""
    season = season_or_why(inputs)
    if not isinstance(season, CropSeason):
        return Assessment(State.NO_RELIABLE_DATA, (season,), Confidence.NONE)
    asked = variants(inputs)
    d = decide(asked, [season] * len(asked))
    answer = answers_of(d)[0]
    if answer.deficit_mm is None:
        return with_state(d, answer)
    return replace(
        with_state(d, answer),
        refill_methods=refill_method_answers(d),
        estimates=estimate_answers(d),
        steps=steps(d, limits_of(d, 0)),
        days=day_rows(d),
    )


def assess_blocks(blocks: Sequence[BlockInputs], past: bool = True) -> tuple[Assessment, ...]:
    """Answers for blocks of one farm at one instant, computed together, without their working.

    Parameters
    ----------
    blocks : sequence of BlockInputs
        All with the same ``now`` and forecast.
    past : bool
        Whether the past days' ribbon is wanted.

    Returns
    -------
    tuple of Assessment
        State `NO_WORD` with its reasons where instruments, balance, crop or ET leave nothing
        to go by; such an answer gives no figure that it does not have.
    """
    seasons = [season_or_why(b) for b in blocks]
    grown = [(b, s) for b, s in zip(blocks, seasons, strict=True) if isinstance(s, CropSeason)]
    found: dict[int, Assessment] = {}
    if grown:
        d = decide([b for b, _ in grown], [s for _, s in grown])
        answers = answers_of(d)
        for row, (b, _) in enumerate(grown):
            answer = with_past(d, row, answers[row]) if past else answers[row]
            kept = d.checkpoints[row]
            found[id(b)] = replace(answer, checkpoint=kept[-1] if kept else None)
    return tuple(
        found[id(b)]
        if isinstance(s, CropSeason)
        else Assessment(State.NO_RELIABLE_DATA, (s,), Confidence.NONE)
        for b, s in zip(blocks, seasons, strict=True)
    )


def block_past(inputs: BlockInputs, days: float) -> tuple[LimitsInForce, History] | None:
    """A block's limits and its state over the past days, as the balance and sensors had it.

    None where it has no crop or no ET.
    """
    season = season_or_why(inputs)
    if not isinstance(season, CropSeason):
        return None
    d = decide([inputs], [season])
    limits = LimitsInForce.of(
        inputs.assumed.ground(season),
        inputs.now,
        inputs.assumed.stated_et.expected,
        past_days=int(days) + 1,
    )
    return limits, _ribbon(d, 0, limits, bool(Judgement(d).known[0]), days)


def block_learned(inputs: BlockInputs) -> Learned | None:
    """What the field has shown of a block's limits; None without a crop, an ET or a balance."""
    season = season_or_why(inputs)
    if not isinstance(season, CropSeason):
        return None
    return learned(decide([inputs], [season]))


def season_or_why(inputs: BlockInputs) -> CropSeason | Reason:
    """The crop on the surface of the ET at hand, or why there is none."""
    try:
        season = inputs.assumed.season_for_et()
    except SurfacesDiffer:
        return Reason.SURFACES_DIFFER
    if season is None:
        return Reason.NO_CROP_IN_SEASON if inputs.assumed.season is None else Reason.NO_ET
    return season


class _Figures:
    """What the answers of all blocks are read from, as plain numbers."""

    def __init__(self, d: Decisions) -> None:
        self.d, self.judged = d, Judgement(d)
        g, t, now = d.gathered, d.track, d.gathered.past_days
        self.known = self.judged.known.tolist()
        share = np.array([b.assumed.wetted_share for b in g.blocks])
        self.stage = g.limits.crop.stage_index[:, now].tolist()
        self.root = g.limits.root_mm[:, now].tolist()
        self.taw, self.raw = (x[:, now] for x in (g.zones.taw_mm, g.zones.raw_mm))
        self.full = g.limits.full_mm[:, now] * share
        # What the roots find may be more or less than the book's.
        self.wilt = self.full - self.taw
        expected = np.array([b.assumed.stated_et.expected for b in g.blocks])
        self.etc = (g.kc[:, now] * expected).tolist()
        self.deficit = self.judged.deficit_mm.tolist()
        self.surplus = self.judged.surplus_mm.tolist()
        self.used = (self.judged.deficit_mm / self.taw).tolist()
        self.sigma = t.sigma_mm[:, -1].tolist()
        self.days_left = d.days_left.tolist()
        self.start, self.earliest = d.start_hours.tolist(), d.earliest_hours.tolist()
        self.chances = np.stack([d.taken_chance, d.rain_chance, d.wait_mm], axis=1).tolist()
        asked = questions(t, g.blocks[0].now)
        # A machine that has not reached the sensors yet gives no cause to ask.
        self.questions = {r: q for r, q in asked.items() if not g.blocks[r].crossing}
        self.seen = g.observed.depletion_mm[:, -1].tolist()
        self.weighed = np.stack(
            [
                x[:, -1]
                for x in (
                    t.forecast_mm,
                    t.forecast_sigma_mm,
                    t.weight,
                    t.correction_mm,
                    g.observed.depletion_mm[:, : now + 1] - t.depletion_mm,
                    t.use_factor,
                    t.use_sigma,
                )
            ],
            axis=1,
        ).tolist()
        raw = d.expected.raw_mm[:, 0]
        shown = raw[:, None, : d.usable_range_mm.shape[2]]
        # What stands above full is surplus, told apart: it drains and is not the crop's to use.
        self.range = np.minimum(d.usable_range_mm, shown)
        self.usable = np.minimum(d.usable_mm, raw)
        self.range_days = d.days_range.tolist()
        self.drained = d.drained_mm.tolist()
        self.risks = risks(d)


def answers_of(d: Decisions) -> tuple[Assessment, ...]:
    """Answers for the blocks of decisions, as figures, without their past and their working."""
    figures = _Figures(d)
    return tuple(_answer(figures, row) for row in range(len(d.gathered.blocks)))


def _answer(f: _Figures, row: int) -> Assessment:
    """One block's answer as figures, without its past."""
    d = f.d
    inputs = d.gathered.blocks[row]
    stage = Stage(STAGE_ORDER[f.stage[row]])
    if stage in (Stage.BEFORE, Stage.OVER):
        return Assessment(
            State.NO_RELIABLE_DATA, (Reason.NO_CROP_IN_SEASON,), Confidence.NONE, stage=stage
        )
    full, raw = f.full[row], f.raw[row]
    here = RootZoneLimits(
        *(np.asarray(x) for x in (full, full - raw, f.wilt[row], f.taw[row], raw))
    )
    if not f.known[row]:
        return Assessment(
            State.NO_RELIABLE_DATA,
            (Reason.NO_RELIABLE_READING if inputs.sites else Reason.NO_INSTRUMENT,),
            Confidence.NONE,
            stage=stage,
            root_mm=f.root[row],
            limits=here,
            etc_mm_day=f.etc[row],
        )
    hold, start = d.hold[row], f.start[row]
    taken, rain, wait = f.chances[row]
    return Assessment(
        state=f.judged.states[row],
        reasons=f.judged.reasons[row],
        confidence=f.judged.confidences[row],
        stage=stage,
        root_mm=f.root[row],
        limits=here,
        etc_mm_day=f.etc[row],
        deficit_mm=f.deficit[row],
        surplus_mm=f.surplus[row],
        sigma_mm=f.sigma[row],
        used_share=f.used[row],
        weighed=_weighed(f, row),
        outlook=_outlook(f, row),
        refill_at=instant(inputs.now, f.days_left[row] * 24),
        start_at=whole_hour(inputs.now, start),
        earliest_at=whole_hour(inputs.now, f.earliest[row]),
        hold=hold.kind if hold else None,
        hold_until=instant(inputs.now, hold.end_hours) if hold else None,
        taken_chance=taken,
        rain_chance=_or_none(rain),
        wait_mm=_or_none(wait),
        amount=d.amounts.of(row) if isfinite(start) else None,
        question=f.questions.get(row),
        at_risk=f.risks[row],
    )


def _or_none(value: float) -> float | None:
    return value if isfinite(value) else None


def _weighed(f: _Figures, row: int) -> Weighed:
    forecast, sigma, gain, moved, offset, factor, spread = f.weighed[row]
    return Weighed(
        forecast_mm=forecast,
        forecast_sigma_mm=sigma,
        observed_mm=_or_none(f.seen[row]),
        gain=gain,
        correction_mm=moved,
        offset_mm=_or_none(offset),
        use_factor=factor,
        use_sigma=spread,
    )


def _outlook(f: _Figures, row: int) -> Outlook:
    dry, _, wet = f.range_days[row]
    return Outlook(
        usable_dry_mm=f.range[row, 0],
        usable_mm=f.usable[row],
        usable_wet_mm=f.range[row, 2],
        raw_mm=f.d.expected.raw_mm[row, 0],
        days_left_dry=dry,
        days_left=f.days_left[row],
        days_left_wet=wet,
        chance_past=f.d.chance_past[row],
        drained_mm=f.drained[row],
    )


def limits_of(d: Decisions, row: int) -> LimitsInForce:
    """The block's limits as one block's page wants them."""
    inputs, season = d.gathered.blocks[row], d.gathered.seasons[row]
    return LimitsInForce.of(
        inputs.assumed.ground(by_basal(inputs, season)),
        inputs.now,
        inputs.assumed.stated_et.expected,
    )


def with_past(d: Decisions, row: int, answer: Assessment) -> Assessment:
    """The answer with its past ribbon, and for how long it has been below refill; as it is where
    the block has no limits."""
    if answer.limits is None:
        return answer
    g = d.gathered
    limits = LimitsInForce(
        profile=g.blocks[row].assumed.profile,
        season=by_basal(g.blocks[row], g.seasons[row]),
        table=g.limits.of_block(row),
        today=g.past_days,
        hour_of_day=g.hour_of_day,
        et0_mm_day=g.blocks[row].assumed.stated_et.expected,
    )
    past = _ribbon(d, row, limits, answer.deficit_mm is not None)
    if answer.outlook is None:
        return replace(answer, past=past)
    hours = below_refill_hours(past, float(answer.outlook.usable_mm[0]))
    return replace(answer, past=past, below_refill_hours=hours)


def _ribbon(
    d: Decisions, row: int, limits: LimitsInForce, is_state: bool, days: float = 7.0
) -> History:
    g = d.gathered
    known = None
    leads = g.estimate_from[row] == ESTIMATES_FROM.index(EstimateFrom.SENSORS)
    if is_state and not leads:
        hours = (np.arange(g.past_days + 1) - g.past_days) * 24.0
        sure = d.track.known[row]
        if sure.any():
            first = int(np.argmax(sure))
            known = Known(
                hours[first:],
                d.track.depletion_mm[row, first:],
                d.track.taw_mm[row, first:],
                d.track.raw_mm[row, first:],
            )
    return history(g.blocks[row], limits, days, known)


def with_state(d: Decisions, answer: Assessment) -> Assessment:
    """The answer of a lone block with its past, and with what its state was made of."""
    if answer.limits is None:
        return answer
    root = float(d.gathered.limits.root_mm[0, last_heard(d)])
    explained = replace(with_past(d, 0, answer), layers=layer_rows(d.gathered.blocks[0], root))
    if answer.deficit_mm is None:
        return explained
    return replace(explained, balance=balance_rows(d))
