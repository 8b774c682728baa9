"""The leaf's rule: between which depletions of the soil a block is kept, by its leaves."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from core.advice.answer import Assessment
from core.advice.decide import RANGE, SHOWN_DAYS, Decisions
from core.advice.gather import AHEAD_DAYS
from core.advice.inputs import BlockInputs
from core.advice.needs_ahead import NeedsAhead
from core.advice.vocabulary import Reason
from core.advice.working import Step
from core.arrays import Floats
from core.estimate.ahead import CASES
from core.leaf.answer import LeafAnswer, LeafCourse
from core.leaf.bands import band_index, products
from core.leaf.relation import DAY_SD_MPA, Relation, Setting, fresh_mm, learn_relation
from core.leaf.round import LeafRound, RoundSays, round_says
from core.leaf.sampling import leaves_wanted
from core.leaf.steering import LeafSteering, Strategy
from core.outlook.ahead import rank
from core.outlook.forecast import scores
from core.outlook.likely import Likely, likely_of
from core.regime.band_working import leaf_steps
from core.regime.share_of_use import owed, share_band
from core.regime.soil_band import Ruling
from core.regime.store_band import CRITICAL, LEAST_ROOM_MM, BandDecision, StoreBand
from core.state.daylight import used_by

# A round is due a week after the last one, or before the next irrigation where that is sooner, and
# never sooner than so many days (common practice, no source) [days]; one that is older says little.
ROUND_DAYS, LEAST_ROUND_DAYS, OLD_DAYS = 7, 3, 14.0
# Leaf and soil contradict each other where the newest round lies so many spreads off what the
# soil and the rounds before made expected (working assumptions, no source).
APART_SPREADS, FEWEST_ROUNDS = 2.0, 3
USUAL_DAYS = 7
DRAWN_DAYS = 42
# The chance taken that the leaf passes the lower edge before the water comes: too wet is a fault
# here as well, so it is higher than elsewhere (working assumption, set on simulated vineyards).
TAKEN_CHANCE = 0.4
# And that it is brought past the upper edge [-].
PASSED_CHANCE = 0.25
GIVEN_STEPS = 101


@dataclass(frozen=True)
class _Seen:
    """A round that counts, with the share of the available water gone at its time [-] and what the
    crop could use that day [mm], and fresh water as a share of the available [-]."""

    round: LeafRound
    says: RoundSays
    share: float
    use_mm: float
    fresh: float


class LeafRule:
    """Steers by the leaf, see `core.regime.soil_band.SoilRule`."""

    def watered(self, inputs: BlockInputs) -> BlockInputs:
        """One side of the rows at a time takes twice as long for the same depth over the block."""
        leaf, system = inputs.assumed.leaf, inputs.assumed.system
        if leaf is None or leaf.sides is None:
            return inputs
        half = replace(
            system,
            rate_mm_h=None if system.rate_mm_h is None else system.rate_mm_h / 2,
            flow_m3_h=None if system.flow_m3_h is None else system.flow_m3_h / 2,
        )
        return inputs.assuming(system=half)

    def on(self, d: Decisions, row: int, past: bool) -> Ruling:
        """See `SoilRule`."""
        leaf = d.gathered.blocks[row].assumed.leaf
        if leaf is None:
            return Ruling(None, lambda answer: answer)
        return _LeafBlock(d, row, leaf, past).ruling()


class _LeafBlock:
    """One block of decisions, steered by its leaves."""

    def __init__(self, d: Decisions, row: int, leaf: LeafSteering, past: bool) -> None:
        g = d.gathered
        self.d, self.row, self.leaf, self.past = d, row, leaf, past
        self.inputs, self.days = g.blocks[row], g.past_days
        self.taw = g.zones.taw_mm[row, : self.days + AHEAD_DAYS + 1]
        self.taw_ahead = self.taw[self.days :]
        self.depletion = d.track.depletion_mm[row]
        self.expected = d.expected.depletion_mm[row, 0]
        # What the crop could use by calendar day, today's and those ahead as expected.
        kc = g.kc[row, : self.days + AHEAD_DAYS + 1]
        et0 = np.concatenate([g.et0_by_date_mm[row], d.expected_et0_mm[:AHEAD_DAYS]])
        self.use = kc * et0[: kc.size]
        self.fresh = self._fresh()
        self.bands = leaf.bands
        book = g.limits.crop.book_day[row, : self.days + AHEAD_DAYS + 1]
        self.band = band_index(self.bands, g.seasons[row].crop, book)
        self.rounds = self._rounds()
        self.relation = self._learned(self.rounds)
        # The band is held against the days to come, on the mean of them: a single hot day is no
        # cause to irrigate, and water would not cure it.
        ahead = slice(self.days, self.days + USUAL_DAYS)
        self.beyond = float(self.relation.beyond(self.use[ahead].mean()))

    def _rounds(self) -> list[_Seen]:
        """The rounds that count, oldest first, where the store of their day is known."""
        out = []
        for one in sorted(self.inputs.leaf_rounds, key=lambda r: r.hours):
            says = round_says(one, self.leaf.zones)
            if says is not None and says.believed and -24.0 * self.days <= one.hours <= 0:
                seen = self._seen(one, says)
                if not np.isnan(seen.share):
                    out.append(seen)
        return out

    def _seen(self, one: LeafRound, says: RoundSays) -> _Seen:
        """A round beside the soil as it was then: as of the morning before, with the water that
        came since, and with what was used by the hour."""
        row, t = self.row, self.d.track
        column = min(self.days + int(np.floor(one.hours / 24)), self.days)
        morning = 24.0 * (column - self.days)
        clock = self.d.gathered.hour_of_day
        came = sum(w.net_mm for w in self.inputs.waterings if morning < w.hours <= one.hours)
        used = 0.0
        if column < self.days:
            gone = used_by((clock + one.hours - morning) % 24) - used_by(clock)
            passed = float(gone) + np.floor((clock + one.hours - morning) / 24)
            used = float(t.et_mm[row, column]) * passed
        taw = max(float(t.taw_mm[row, column]), 1.0)
        day = self.days + int(np.floor((one.hours + clock) / 24))
        return _Seen(
            round=one,
            says=says,
            share=(float(self.depletion[column]) - came + used) / taw,
            use_mm=float(self.use[max(day, 0)]),
            fresh=max(float(self.fresh[column]) * taw + came - used, 0.0) / taw,
        )

    def _learned(self, rounds: list[_Seen]) -> Relation:
        return learn_relation(
            products()[self.leaf.product].prior,
            [r.share for r in rounds],
            [r.says.mpa for r in rounds],
            [r.says.se_mpa for r in rounds],
            [-r.round.hours / 24 for r in rounds],
            [r.use_mm for r in rounds],
            [r.fresh for r in rounds],
        )

    def _apart(self) -> float | None:
        """How far the newest round lies off what was expected without it, in spreads."""
        if len(self.rounds) <= FEWEST_ROUNDS:
            return None
        newest = self.rounds[-1]
        before = self._learned(self.rounds[:-1])
        at = Setting(float(before.beyond(newest.use_mm)), newest.fresh)
        expected = float(before.mpa_at(newest.share, at))
        share = np.full(before.courses.shape[0], newest.share)
        spread = float(before.courses_at(share, at).std())
        sd = float(np.sqrt(spread**2 + newest.says.se_mpa**2 + DAY_SD_MPA**2))
        return (newest.says.mpa - expected) / sd

    def _members(self) -> Floats:
        """Depletion of the members ahead, (CASES, AHEAD_DAYS + 1) [mm]. Where leaves were read,
        the relation already takes in how far the store's estimate is off: so much of the members'
        spread is left out."""
        raw = self.d.expected.raw_mm[self.row, 0]
        every = raw - self.d.member_usable_mm[self.row]
        known = len(self.rounds) / (1.0 + len(self.rounds))
        return np.asarray(every - known * (every[:, :1] - self.expected[0]))

    def _fresh(self) -> Floats:
        """Water that came and is not used yet, by day past and ahead, as a share of the available
        water; (past days + AHEAD_DAYS + 1,) [-]."""
        t, row = self.d.track, self.row
        behind = fresh_mm(np.nan_to_num(t.water_in_mm[row]), np.nan_to_num(t.et_mm[row]))
        e = self.d.expected
        ahead = fresh_mm(e.water_mm[row, 0], e.et_mm[row, 0], float(behind[-1]))
        out: Floats = np.append(behind, ahead[1:]) / np.maximum(self.taw, 1.0)
        return out

    def _edge(self, which: str) -> Floats:
        """Share gone at which an edge of the band in force is reached; (days,), past and ahead."""
        edges = np.array([getattr(b, which) for b in self.bands])[self.band]
        return self.relation.share_at(edges, Setting(self.beyond, self.fresh))

    def _lower_each(self) -> Floats:
        """Share gone at which each course reaches the lower edge on the days ahead;
        (CASES, AHEAD_DAYS + 1)."""
        now = range(self.days, self.days + AHEAD_DAYS + 1)
        lowest = np.array([self.bands[int(self.band[k])].lower_mpa for k in now])
        return self.relation.shares_at(lowest, Setting(self.beyond, self.fresh[self.days :]))

    def _to_upper_edge(self) -> Floats:
        """Water that brings the leaf to the upper edge of its band on each day ahead, expected
        [mm]: it lies on top at first, and does more there; (AHEAD_DAYS + 1,)."""
        out = np.empty(AHEAD_DAYS + 1)
        shares = np.linspace(0.0, 1.0, GIVEN_STEPS)
        for day in range(AHEAD_DAYS + 1):
            at = self.days + day
            gone = self.expected[day] / max(self.taw[at], 1.0)
            given = shares * max(gone, 0.0)
            every = np.broadcast_to(gone - given, (CASES, given.size))
            mpa = self.relation.courses_at(every, Setting(self.beyond, self.fresh[at] + given))
            wet = np.quantile(mpa, 1.0 - PASSED_CHANCE, axis=0)
            upper = self.bands[int(self.band[at])].upper_mpa
            out[day] = float(np.interp(upper, wet, given)) * self.taw[at]
        return out

    def ruling(self) -> Ruling:
        """The band in the soil's store, and what is said of the leaf."""
        lower, upper = self._edge("lower_mpa"), self._edge("upper_mpa")
        apart = self._apart()
        made: Mapping[Strategy, Callable[[], StoreBand | None]] = {
            Strategy.BAND: lambda: self._by_band(lower, upper),
            Strategy.SHARE: self._by_share,
            Strategy.FULL: lambda: None,
        }
        return Ruling(
            band=made[self.leaf.strategy](),
            said=lambda a: replace(a, leaf=self._said(a, lower, upper, apart)),
            added=self._reasons(apart),
        )

    def _by_band(self, lower: Floats, upper: Floats) -> StoreBand:
        lowest, highest = lower * self.taw, upper * self.taw
        now = slice(self.days, None)
        limit, missing = lowest[now], self._to_upper_edge()
        top = np.maximum(self.expected - missing, 0.0)

        def needs(found: NeedsAhead) -> NeedsAhead:
            days = found.raw_mm.size
            raw = np.maximum(limit[:days], LEAST_ROOM_MM)
            return replace(
                found,
                raw_mm=raw,
                taw_mm=np.maximum(found.taw_mm, raw + LEAST_ROOM_MM),
                room_mm=float(top[0]),
                leaching_share=0.0,
            )

        def explained(band: BandDecision) -> tuple[Step, ...]:
            shares = float(lower[self.days]), float(upper[self.days])
            return leaf_steps(
                self.d,
                self.relation,
                Setting(self.beyond, float(self.fresh[self.days])),
                shares,
                limit - self.expected,
                band,
            )

        return StoreBand(
            usable_mm=self._lower_each() * self.taw_ahead - self._members(),
            expected_mm=limit - self.expected,
            room_mm=np.maximum(limit - highest[now], LEAST_ROOM_MM),
            missing_mm=missing,
            lowest_past_mm=lowest[: self.days + 1],
            highest_past_mm=highest[: self.days + 1],
            explained=explained,
            needs=needs,
            dropped=CRITICAL,
            worse=self._heard_days > OLD_DAYS,
            taken_chance=TAKEN_CHANCE,
        )

    def _by_share(self) -> StoreBand:
        since = self.leaf.since
        first = self.inputs.now.date() - timedelta(days=self.days)
        on = np.arange(self.days + AHEAD_DAYS + 1) + first.toordinal()
        begun = on >= (since.toordinal() if since else self._season_began(first))
        share = np.where(begun, self.leaf.use_share or 1.0, 0.0)
        return share_band(self.d, self.row, owed(self.d, self.row, share, self.leaf.application_mm))

    def _season_began(self, first: date) -> int:
        """The first day of the season under way."""
        begins = np.flatnonzero(np.diff(self.d.gathered.limits.crop.book_day[self.row]) < 0)
        before = begins[begins < self.days]
        return first.toordinal() + (int(before[-1]) + 1 if before.size else 0)

    @property
    def _heard_days(self) -> float:
        return -self.rounds[-1].round.hours / 24 if self.rounds else np.inf

    def _reasons(self, apart: float | None) -> frozenset[Reason]:
        found = {
            Reason.LEAVES_NOT_READ: self._heard_days > OLD_DAYS,
            Reason.LEAF_DRIER_THAN_SOIL: apart is not None and apart < -APART_SPREADS,
            Reason.LEAF_WETTER_THAN_SOIL: apart is not None and apart > APART_SPREADS,
        }
        return frozenset(r for r, on in found.items() if on)

    def _said(
        self, answer: Assessment, lower: Floats, upper: Floats, apart: float | None
    ) -> LeafAnswer:
        """What is said of the leaf."""
        now, leaf = self.days, self.leaf
        today = self.bands[int(self.band[now])]
        coming = np.flatnonzero(self.band[now:] != self.band[now])
        later = self.bands[int(self.band[now + coming[0]])] if coming.size else None
        local = self.inputs.now.date()
        newest = self.rounds[-1] if self.rounds else None
        side, until = leaf.sides.on(local) if leaf.sides else (None, None)
        sd = [r.says.sd_mpa for r in self.rounds[-3:]]
        found = LeafAnswer(
            strategy=leaf.strategy,
            phase=today.phase,
            band_upper=today.upper_mpa,
            band_lower=today.lower_mpa,
            next_phase=later.phase if later else None,
            next_on=local + timedelta(days=int(coming[0])) if later else None,
            now=self._now(),
            rounds=len(self.rounds),
            lower_share=float(lower[now]),
            upper_share=float(upper[now]),
            latest=newest.says if newest else None,
            latest_hours=newest.round.hours if newest else None,
            apart_spreads=apart,
            round_on=self._round_on(answer),
            leaves_wanted=leaves_wanted(float(np.mean(sd)) if sd else None),
            side=side,
            side_until=until,
        )
        return replace(found, course=self._course()) if self.past else found

    def _round_on(self, answer: Assessment) -> date:
        """When the next round is due."""
        today = self.inputs.now.date()
        if not self.rounds:
            return today
        last = (self.inputs.now + timedelta(hours=self.rounds[-1].round.hours)).date()
        due = last + timedelta(days=ROUND_DAYS)
        if answer.start_at is not None:
            due = min(due, answer.start_at.date())
        return max(due, last + timedelta(days=LEAST_ROUND_DAYS), today)

    def _now(self) -> Likely:
        taw = max(float(self.taw_ahead[0]), 1.0)
        today = self._setting(np.array([0]))
        each = self.relation.courses_at(self._members()[:, :1] / taw, today)[:, 0]
        each = each + DAY_SD_MPA * scores(each.size, 3)
        return likely_of(each, float(self.relation.mpa_at(self.expected[:1] / taw, today)[0]))

    def _setting(self, day: np.ndarray) -> Setting:
        """What leaves answer to beside the soil's water on days counted from today."""
        at = np.clip(self.days + day, 0, self.use.size - 1)
        return Setting(self.relation.beyond(self.use[at]), self.fresh[at])

    def _course(self) -> LeafCourse:
        """The leaf of the past weeks and of the days ahead, as the soil has it."""
        behind, ahead = min(self.days, DRAWN_DAYS), SHOWN_DAYS + 1
        day = np.arange(-behind, ahead)
        known = self.d.track.known[self.row, self.days - behind : self.days]
        gone = np.concatenate(
            [
                np.where(known, self.depletion[self.days - behind : self.days], np.nan),
                self.expected[:ahead],
            ]
        ) / np.maximum(self.taw[self.days - behind : self.days + ahead], 1.0)
        mpa = self.relation.mpa_at(np.nan_to_num(gone), self._setting(day))
        taw = np.maximum(self.taw_ahead[:ahead], 1.0)
        each = self.relation.courses_at(
            self._members()[:, :ahead] / taw, self._setting(np.arange(ahead))
        )
        dry, _, wet = np.sort(each, axis=0)[rank(RANGE, each.shape[0])]
        bands = [self.bands[int(k)] for k in self.band[self.days - behind : self.days + ahead]]
        none = np.full(behind, np.nan)
        return LeafCourse(
            hours=24.0 * day,
            mpa=np.where(np.isnan(gone), np.nan, mpa),
            dry_mpa=np.append(none, np.minimum(dry, mpa[behind:])),
            wet_mpa=np.append(none, np.maximum(wet, mpa[behind:])),
            lower_mpa=np.array([b.lower_mpa for b in bands]),
            upper_mpa=np.array([b.upper_mpa for b in bands]),
        )
