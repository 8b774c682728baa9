"""Each cause on a block of which all is known, and what only looks like it; figures by hand."""

from dataclasses import replace

import numpy as np
import pytest

from core.arrays import Floats
from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause, CauseGroup, cause_words
from core.diagnosis.diagnose import diagnose
from core.diagnosis.finding import MOST_LIKELY, Finding, likelihood
from core.diagnosis.responses import responses_of
from core.events.event import wetting_events
from core.events.record import SiteRecord
from core.events.supply import Supply
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.quality.flags import Flag
from tests.core.diagnosed_blocks import (
    DAY_HOURS,
    DEPTH,
    DRY,
    FULL,
    GIVEN_MM,
    HOURS,
    LASTS,
    PROFILE,
    RISE,
    STARTS,
    Water,
    block_of,
    content,
    daylight,
    site_of,
    usual_site,
)

LAST = STARTS.size - 1
WITHOUT = STARTS.size - 2


def found(*sites: SeenSite, **stated: float) -> dict[Cause, Finding]:
    findings = diagnose(block_of(*sites, **stated))
    assert len({(f.cause, f.site, f.sensor) for f in findings}) == len(findings)
    return {f.cause: f for f in findings}


def changed(
    came: dict[int, float] | None = None, logged: dict[int, float | None] | None = None
) -> Water:
    """The usual water, but for some irrigations."""
    water = Water.usual()
    for n, share in (came or {}).items():
        water.came[n] = share
    for n, mm in (logged or {}).items():
        water.logged[n] = mm
    return water


def watered(water: Water, **told: object) -> SeenSite:
    return site_of(content(water), water, **told)  # type: ignore[arg-type]


def test_nothing_is_wrong() -> None:
    assert found(usual_site()) == {}
    assert found(usual_site(), usual_site()) == {}
    assert diagnose(SeenBlock(())) == []


def test_how_each_site_answered() -> None:
    """24.79 mm are there 18 h after the water came and 4.90 were used: 99 % of 30 mm."""
    r = responses_of(block_of(usual_site()))
    assert r.number.tolist() == list(range(STARTS.size))
    assert r.given_mm[0] == pytest.approx(np.full(STARTS.size, GIVEN_MM))
    assert r.answered.all()
    assert r.fair[0, 0] == pytest.approx(0.9896, abs=1e-4)
    # 100 mm deep, where 0.10 is missing and the top is drier still by half: 15 mm, and 8 to show.
    assert r.needed_mm[0, 1] == pytest.approx(23.0)
    assert r.first_mm[0, 0] == 100.0
    assert r.could_tell[0, 1:].all()


def test_likelihood_of_several_pieces() -> None:
    assert likelihood(1, 0.2) == pytest.approx(0.8)
    assert likelihood(2, 0.2) == pytest.approx(0.96)
    assert likelihood(9, 0.2) == MOST_LIKELY


class TestApplication:
    def test_logged_and_not_run(self) -> None:
        water = changed({WITHOUT: 0.0})
        finding = found(watered(water), watered(water))[Cause.NOT_RUN]
        (evidence,) = finding.evidence
        assert evidence.irrigation == WITHOUT
        assert (evidence.seen, evidence.expected) == (0.0, GIVEN_MM)
        assert evidence.from_hours == STARTS[WITHOUT]
        # Two sites were silent, each of which misleads in 15 of 100.
        assert finding.likelihood == pytest.approx(1 - 0.15**2)
        # 30 mm in three weeks.
        assert finding.cost.mm_week == pytest.approx(10.0)

    def test_one_site_that_answers_is_enough(self) -> None:
        water = changed({WITHOUT: 0.0})
        assert Cause.NOT_RUN not in found(usual_site(), watered(water))

    def test_a_gap_in_the_readings_is_no_irrigation_that_did_not_run(self) -> None:
        water = changed({WITHOUT: 0.0})
        theta = content(water)
        theta[(STARTS[WITHOUT] - 1 < HOURS) & (STARTS[WITHOUT] + 40 > HOURS)] = np.nan
        assert Cause.NOT_RUN not in found(site_of(theta, water))

    def test_a_light_one_need_not_show(self) -> None:
        water = changed({WITHOUT: 0.0}, {WITHOUT: 6.0})
        assert Cause.NOT_RUN not in found(watered(water))

    def test_rain_at_the_same_time_leaves_it_open(self) -> None:
        water = changed({WITHOUT: 0.0})
        rain = Supply(STARTS[WITHOUT] + 10, STARTS[WITHOUT] + 14, 2.0, is_rain=True)
        assert Cause.NOT_RUN not in found(watered(water, rain=[rain]))

    def test_nobody_logged_it(self) -> None:
        finding = found(watered(changed(logged={WITHOUT: None})))[Cause.NOT_LOGGED]
        (evidence,) = finding.evidence
        # What is there and what was used of it.
        assert evidence.seen == pytest.approx(24.79 + 4.90, abs=0.01)
        assert STARTS[WITHOUT] < evidence.from_hours <= STARTS[WITHOUT] + 2
        assert finding.cost.mm_week == pytest.approx(29.69 / 3, abs=0.01)

    def test_two_sites_that_see_it_are_one_water(self) -> None:
        water = changed(logged={WITHOUT: None})
        finding = found(watered(water), watered(water))[Cause.NOT_LOGGED]
        assert len(finding.evidence) == 1
        assert finding.evidence[0].site is None
        assert finding.likelihood == pytest.approx(0.96)

    def test_logged_at_a_wrong_hour_is_neither(self) -> None:
        """Ten hours after it ran: no unlogged water, and none that did not run."""
        site = usual_site()
        late = [
            replace(s, start_hours=s.start_hours + 10, end_hours=s.end_hours + 10)
            if n == WITHOUT
            else s
            for n, s in enumerate(site.record.supplies)
        ]
        record = replace(site.record, supplies=tuple(late))
        (events,) = wetting_events([record])
        causes = found(replace(site, record=record, events=events))
        assert not {Cause.NOT_LOGGED, Cause.NOT_RUN} & set(causes)

    def test_a_site_stays_dry(self) -> None:
        dry = changed({LAST - 2: 0.0, LAST - 1: 0.0, LAST: 0.0})
        theta = content(dry)
        finding = found(usual_site(), site_of(theta))[Cause.SITE_DRY]
        assert finding.site == 1
        assert [e.irrigation for e in finding.evidence] == [LAST - 2, LAST - 1, LAST]
        assert [e.seen for e in finding.evidence] == [0.0, 0.0, 0.0]

    def test_a_site_gets_half(self) -> None:
        half = site_of(content(replace(Water.usual(), came=np.full(STARTS.size, 0.5))))
        causes = found(usual_site(), half)
        assert causes[Cause.UNEVEN].site == 1
        assert np.median([e.seen for e in causes[Cause.UNEVEN].evidence]) == pytest.approx(
            0.58, abs=0.03
        )
        # The rest of the block gets what is stated.
        assert Cause.RATE_OFF not in causes

    def test_three_fifths_of_the_stated_rate(self) -> None:
        water = Water(np.ones(STARTS.size), [50.0] * STARTS.size)
        finding = found(watered(water))[Cause.RATE_OFF]
        assert np.median([e.seen for e in finding.evidence]) == pytest.approx(0.594, abs=0.01)

    def test_faster_than_the_soil_takes_it_in(self) -> None:
        water = Water(np.ones(STARTS.size), [50.0] * STARTS.size)
        causes = found(watered(water), rate_mm_h=20.0, intake_mm_h=15.0)
        assert Cause.INTAKE_EXCEEDED in causes
        assert Cause.RATE_OFF not in causes

    def test_of_longer_ones_less_is_found(self) -> None:
        """Of 30 mm all comes, of 60 mm half."""
        long = [60.0 if n % 2 else GIVEN_MM for n in range(STARTS.size)]
        assert Cause.INTAKE_EXCEEDED in found(watered(Water(np.ones(STARTS.size), list(long))))

    def test_answers_fade(self) -> None:
        came = np.linspace(1.0, 0.4, STARTS.size)
        causes = found(watered(Water(came, [GIVEN_MM] * STARTS.size)))
        assert Cause.RESPONSE_WEAKER in causes
        assert Cause.RATE_OFF not in causes


class TestDepth:
    def test_water_passes_the_roots(self) -> None:
        """60 mm wet all five sensors; 0.06 x 150 and 0.06 x 225 mm are below 525 mm of roots."""
        rise = np.array([0.11, 0.07, 0.06, 0.06, 0.06])
        water = Water(np.ones(STARTS.size), [60.0] * STARTS.size)
        theta = content(water, rise)
        finding = found(site_of(theta, water, root_mm=250.0))[Cause.PASSES_ROOTS]
        assert finding.evidence[-1].seen > 12.0
        assert finding.cost.mm_week > 12.0

    def test_it_ends_above_dry_roots(self) -> None:
        """Roots to 600 mm, water to 350 of them; below, soil has come down from 0.30 to 0.20."""
        theta = content(Water.usual())
        theta[:, 3:] = np.linspace(FULL, DRY, HOURS.size)[:, None]
        causes = found(site_of(theta, root_mm=600.0))
        assert causes[Cause.RUN_TOO_SHORT].evidence[-1].expected == 600.0
        assert causes[Cause.RUN_TOO_SHORT].evidence[-1].seen == pytest.approx(352.2, abs=0.5)

    def test_below_it_is_moist(self) -> None:
        assert Cause.RUN_TOO_SHORT not in found(site_of(content(Water.usual()), root_mm=600.0))

    def test_a_table_comes_up(self) -> None:
        """600 mm is wet since 20 days, 450 mm since 15."""
        theta = content(Water.usual())
        for sensor, days in ((4, 20), (3, 15)):
            theta[-24 * days < HOURS, sensor] = 0.42
        causes = found(site_of(theta))
        assert causes[Cause.TABLE_RISES].from_hours == pytest.approx(-480, abs=24)
        assert Cause.POOR_DRAINAGE not in causes

    def test_wet_from_above_down_is_no_table(self) -> None:
        theta = content(Water.usual())
        for sensor, days in ((4, 15), (3, 20)):
            theta[-24 * days < HOURS, sensor] = 0.42
        assert Cause.TABLE_RISES not in found(site_of(theta))

    def test_a_subsoil_that_never_drains(self) -> None:
        theta = content(Water.usual())
        theta[:, 4] = 0.42
        finding = found(site_of(theta))[Cause.POOR_DRAINAGE]
        assert finding.evidence[0].sensor == 4
        assert finding.evidence[0].seen == pytest.approx(0.42)
        assert finding.evidence[0].expected == pytest.approx(FULL)


class TestSettings:
    def test_the_crop_takes_less_and_less(self) -> None:
        """No water at all: 2.5 mm a day from 675 mm, and 30 % of it on the newest eight days."""
        rate = np.where(HOURS > -24 * 8, 0.3, 1.0) * daylight() * 2.5
        theta = 0.45 - np.cumsum(rate)[:, None] / 675.0 * np.ones(DEPTH.size)
        site = site_of(theta, Water(np.zeros(STARTS.size), [None] * STARTS.size))
        record = replace(site.record, use_mm=np.full(site.record.use_mm.size, 2.5))
        finding = found(replace(site, record=record))[Cause.SHORT_OF_WATER]
        assert [e.seen for e in finding.evidence] == pytest.approx([0.75] * 4, abs=0.02)
        assert [e.expected for e in finding.evidence] == pytest.approx([2.5] * 4, abs=0.02)

    def test_one_poor_day_is_no_shortage(self) -> None:
        rate = np.where((HOURS > -48) & (HOURS <= -24), 0.3, 1.0) * daylight() * 2.5
        theta = 0.45 - np.cumsum(rate)[:, None] / 675.0 * np.ones(DEPTH.size)
        site = site_of(theta, Water(np.zeros(STARTS.size), [None] * STARTS.size))
        record = replace(site.record, use_mm=np.full(site.record.use_mm.size, 2.5))
        assert Cause.SHORT_OF_WATER not in found(replace(site, record=record))

    def test_it_uses_half_as_much_again(self) -> None:
        site = usual_site()
        site = replace(site, record=replace(site.record, use_mm=site.record.use_mm / 1.5))
        causes = found(site)
        assert Cause.USE_OFF in causes
        evidence = causes[Cause.USE_OFF].evidence[0]
        assert evidence.seen / evidence.expected == pytest.approx(1.5, abs=0.05)

    def test_roots_feed_elsewhere(self) -> None:
        """All use is above 375 mm; three quarters of 1200 mm are 900."""
        causes = found(site_of(content(Water.usual()), root_mm=1200.0))
        assert Cause.ROOTS_OFF in causes
        assert causes[Cause.ROOTS_OFF].evidence[0].expected == 900.0

    def test_dry_soil_below_hides_roots(self) -> None:
        """Below 375 mm it has come down by 0.08: roots may be there and take from above."""
        theta = content(Water.usual())
        theta[:, 3:] = np.linspace(FULL, FULL - 0.08, HOURS.size)[:, None]
        assert Cause.ROOTS_OFF not in found(site_of(theta, root_mm=1200.0))


class TestInstruments:
    def test_silent(self) -> None:
        theta = content(Water.usual())
        theta[HOURS > -60, 1] = np.nan
        finding = found(site_of(theta))[Cause.SENSOR_SILENT]
        assert (finding.site, finding.sensor) == (0, 1)
        assert finding.from_hours == -60.0

    def test_all_of_it_silent_is_one_finding(self) -> None:
        theta = content(Water.usual())
        theta[HOURS > -60] = np.nan
        finding = found(site_of(theta))[Cause.SENSOR_SILENT]
        assert finding.sensor is None

    def test_a_short_silence_is_nothing(self) -> None:
        theta = content(Water.usual())
        theta[HOURS > -40, 1] = np.nan
        assert Cause.SENSOR_SILENT not in found(site_of(theta))

    def test_stands_still(self) -> None:
        theta = content(Water.usual())
        flag = np.zeros(theta.shape, int)
        theta[HOURS > -200, 1] = 0.25
        flag[HOURS > -200, 1] = int(Flag.FLAT)
        finding = found(site_of(theta, flag=flag))[Cause.SENSOR_FLAT]
        assert finding.from_hours == -200.0
        assert finding.evidence[0].seen == 0.25

    def test_a_column_broke(self) -> None:
        tension = np.full((HOURS.size, DEPTH.size), 40.0)
        tension[:, 0] = np.linspace(20, 78, HOURS.size)
        flag = np.zeros(tension.shape, int)
        tension[HOURS > -100, 0] = 2.0
        flag[HOURS > -100, 0] = int(Flag.BROKEN_COLUMN)
        site = site_of(tension, kind=InstrumentKind.TENSIOMETER, flag=flag)
        finding = found(site)[Cause.COLUMN_BROKEN]
        assert finding.from_hours == -99.0
        assert finding.evidence[0].seen == 2.0
        # The last hour before it: 1340 of 1440 h from 20 to 78 kPa.
        assert finding.evidence[0].expected == pytest.approx(73.97, abs=0.01)

    def test_all_depths_jump(self) -> None:
        theta = content(Water.usual())
        theta[HOURS > -100] += 0.06
        finding = found(site_of(theta))[Cause.JUMPS_TOGETHER]
        assert finding.from_hours == -100.0
        assert finding.evidence[0].seen == pytest.approx(0.06, abs=0.003)

    def test_water_runs_down_the_tube(self) -> None:
        """All five in the same hour: 500 mm in no time."""
        together = content(Water.usual(), np.full(5, 0.08), np.full(5, 2.0))
        causes = found(site_of(together))
        assert Cause.WATER_DOWN_TUBE in causes
        # What such a site says of water is not believed.
        assert set(causes) == {Cause.WATER_DOWN_TUBE}

    def test_poor_contact(self) -> None:
        rise = RISE.copy()
        rise[1] = 0.01
        finding = found(site_of(content(Water.usual(), rise)))[Cause.POOR_CONTACT]
        assert finding.sensor == 1

    def test_drift(self) -> None:
        theta = content(Water.usual())
        theta[:, 1] += np.linspace(0, 0.09, HOURS.size)
        finding = found(site_of(theta))[Cause.SENSOR_DRIFTS]
        assert finding.sensor == 1
        for end in finding.evidence:
            # Six windows of ten days: five steps of 0.015.
            assert end.seen - end.expected == pytest.approx(0.075, abs=0.01)

    def test_what_drifts_says_nothing_of_water(self) -> None:
        """The first full point is told of a sound sensor alone."""
        theta = content(Water.usual())
        theta[:, 1] += np.linspace(0, 0.09, HOURS.size)
        (drifts,) = diagnose(block_of(site_of(theta)))
        assert drifts.cause is Cause.SENSOR_DRIFTS
        sound = site_of(theta).without({1})
        assert np.isnan(sound.record.site.theta[:, 1]).all()
        assert all(a.sensor != 1 for e in sound.events for a in e.wetting.answers)

    def test_one_step_is_no_drift(self) -> None:
        theta = content(Water.usual())
        theta[HOURS > -24 * 21, 1] += 0.09
        assert Cause.SENSOR_DRIFTS not in found(site_of(theta))

    def test_still_settling(self) -> None:
        site = site_of(content(Water.usual()), installed_hours=-24.0 * 5)
        finding = found(site)[Cause.SETTLING]
        assert finding.evidence[0].seen == 120.0
        old = site_of(content(Water.usual()), installed_hours=-24.0 * 50)
        assert Cause.SETTLING not in found(old)

    def test_the_clock_is_off(self) -> None:
        """Eight hours ahead: water shows six to four hours before it was given."""
        theta = np.roll(content(Water.usual()), -8, axis=0)
        theta[-8:] = np.nan
        causes = found(site_of(theta))
        assert np.median([e.seen for e in causes[Cause.CLOCK_OFF].evidence]) == pytest.approx(
            6.0, abs=1.0
        )
        assert not {Cause.NOT_LOGGED, Cause.NOT_RUN} & set(causes)


def test_every_cause_has_words() -> None:
    words = cause_words()
    assert set(words) == set(Cause)
    for w in words.values():
        assert isinstance(w.group, CauseGroup)
        assert all((w.name, w.seen, w.check, w.changes, w.source))


def test_readings_of_a_day_ago_tell_nothing_yet() -> None:
    """The last irrigation ran 30 h ago at most: its answer may still come."""
    theta: Floats = content(changed({LAST: 0.0}))
    site = site_of(theta)
    cut = STARTS[LAST] + LASTS + 20 >= HOURS
    record = replace(
        site.record,
        site=replace(
            site.record.site,
            hours=HOURS[cut],
            value=site.record.site.value[cut],
            theta=site.record.site.theta[cut],
            doubt=site.record.site.doubt[cut],
        ),
    )
    assert Cause.NOT_RUN not in found(replace(site, record=record))


def odd_site(rng: np.random.Generator) -> SeenSite:
    """A site with few or no readings, gaps, one sensor, no roots, no log, or all of these."""
    sensors = int(rng.choice([1, 2, 5]))
    keep = HOURS[:: int(rng.choice([1, 7, 50, 700, 2000]))] if rng.random() < 0.8 else HOURS[:0]
    value = rng.uniform(0.1, 0.4, (keep.size, sensors)).round(3)
    value[rng.random(value.shape) < rng.choice([0.0, 0.3, 0.95])] = np.nan
    tension = bool(rng.random() < 0.3)
    kind = InstrumentKind.TENSIOMETER if tension else InstrumentKind.CAPACITANCE_PROBE
    flag = int(rng.choice([0, 0, int(Flag.FLAT), int(Flag.BROKEN_COLUMN)]))
    site = Site.from_readings(
        "p", kind, DEPTH[:sensors], keep, value * (200 if tension else 1), PROFILE, flag=flag
    )
    starts = rng.choice(STARTS, int(rng.integers(0, 5)), replace=False)
    supplies = tuple(Supply(float(s), float(s) + 5, 20.0) for s in np.sort(starts))
    days = DAY_HOURS if rng.random() < 0.7 else DAY_HOURS[:0]
    root = np.full(days.size, rng.choice([300.0, 900.0, np.nan]))
    record = SiteRecord(
        site, 0.0, supplies, days, root, np.full(days.size, rng.choice([4, np.nan]))
    )
    (events,) = wetting_events([record])
    ones = np.ones(sensors)
    numbers = np.arange(len(supplies))
    return SeenSite(record, events, numbers, 0.3 * ones, 0.22 * ones, 0.45 * ones)


@pytest.mark.parametrize("seed", range(120))
@pytest.mark.filterwarnings("error")
def test_odd_records_are_no_trouble(seed: int) -> None:
    rng = np.random.default_rng(seed)
    sites = tuple(odd_site(rng) for _ in range(int(rng.integers(1, 4))))
    for finding in diagnose(SeenBlock(sites)):
        assert finding.evidence
        assert 0 < finding.likelihood <= MOST_LIKELY
        assert np.isfinite([finding.from_hours, finding.to_hours]).all()
