"""Water found over water on record, on blocks of which all is known; figures by hand."""

from dataclasses import replace

import numpy as np
import pytest

from core.diagnosis.application_seen import (
    USUALLY_FOUND,
    ApplicationFit,
    ApplicationSeen,
    application_seen,
)
from core.diagnosis.cause import Cause
from core.events.event import wetting_events
from tests.core.diagnosed_blocks import GIVEN_MM, STARTS, Water, block_of, content, site_of

# 29.75 mm of each irrigation are found in the layers of the sensors.
FOUND_MM = 29.75


def seen_with(logged_mm: float) -> ApplicationSeen:
    water = Water(np.ones(STARTS.size), [logged_mm] * STARTS.size)
    seen = application_seen(block_of(site_of(content(water), water)))
    assert seen is not None
    return seen


def test_what_is_on_record_came() -> None:
    seen = seen_with(FOUND_MM / USUALLY_FOUND)
    assert seen.share == pytest.approx(1.0, abs=0.01)
    assert seen.low < 1 < seen.high
    assert seen.fit is ApplicationFit.FITS
    # The newest is not over yet, and one more may be cut off by the record's beginning.
    assert STARTS.size - 2 <= seen.irrigations <= STARTS.size
    assert seen.from_hours in STARTS[:2]


def test_less_came() -> None:
    """Of 50 mm on record 29.75 mm are found: 0.595 / 0.93."""
    seen = seen_with(50.0)
    assert seen.share == pytest.approx(0.64, abs=0.01)
    assert seen.high < 1
    assert seen.fit is ApplicationFit.DIFFERS


def test_more_came() -> None:
    seen = seen_with(20.0)
    assert seen.share == pytest.approx(FOUND_MM / 20.0 / USUALLY_FOUND, abs=0.02)
    assert seen.fit is ApplicationFit.DIFFERS


def test_its_range_is_what_sensors_may_be_off_by() -> None:
    """Irrigations that are all alike leave 0.08, or seven tenths of what one is off by."""
    seen = seen_with(FOUND_MM / USUALLY_FOUND)
    least = 1.28 * 0.08 / USUALLY_FOUND
    assert seen.share - seen.low == pytest.approx(seen.high - seen.share)
    assert seen.high - seen.share >= least - 1e-9


def test_two_sites_tell_more() -> None:
    water = Water(np.ones(STARTS.size), [50.0] * STARTS.size)
    site = site_of(content(water), water)
    one, two = (application_seen(block_of(*[site] * n)) for n in (1, 2))
    assert one is not None
    assert two is not None
    assert (one.sites, two.sites) == (1, 2)
    assert (two.high - two.low) == pytest.approx((one.high - one.low) / np.sqrt(2), rel=0.01)


def test_answers_that_fade_tell_no_rate() -> None:
    water = Water(np.linspace(1.0, 0.4, STARTS.size), [GIVEN_MM] * STARTS.size)
    seen = application_seen(block_of(site_of(content(water), water)))
    assert seen is not None
    assert (seen.cause, seen.fit) == (Cause.RESPONSE_WEAKER, ApplicationFit.OTHER_CAUSE)


def test_another_use_than_stated_tells_no_rate() -> None:
    """What the crop takes while water comes is counted as stated."""
    water = Water.usual()
    site = site_of(content(water), water)
    record = replace(site.record, use_mm=site.record.use_mm / 1.5)
    (events,) = wetting_events([record])
    seen = application_seen(block_of(replace(site, record=record, events=events)))
    assert seen is not None
    assert seen.cause is Cause.USE_OFF


def test_before_the_rate_was_changed_counts_no_more() -> None:
    water = Water(np.ones(STARTS.size), [50.0] * STARTS.size)
    site = site_of(content(water), water)
    changed = float(STARTS[-6])
    seen = application_seen(block_of(site, rate_since_hours=changed - 1.0))
    assert seen is not None
    assert seen.from_hours == changed
    every = application_seen(block_of(site))
    assert every is not None
    assert every.irrigations > seen.irrigations
    assert application_seen(block_of(site, rate_since_hours=float(STARTS[-3]))) is None


def test_nothing_tells_it() -> None:
    assert application_seen(block_of()) is None
