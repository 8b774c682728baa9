"""When the sun is down, beside day lengths of FAO-56 and the equator's twelve hours."""

from datetime import UTC, datetime, timedelta, timezone

import pytest

from core.weather.nights import nights
from core.weather.radiation import daylight_hours

HOUR = timedelta(hours=1)


def test_half_of_each_day_at_the_equator() -> None:
    """At longitude 0 in mid-April, when solar time is the clock's: from six to six."""
    begin = datetime(2026, 4, 15, tzinfo=UTC)
    early, night, late = nights(0.0, 0.0, begin, begin + 2 * timedelta(days=1))
    for found, hour in ((early[1], 6), (night[0], 18), (night[1], 30), (late[0], 42)):
        assert abs(found - (begin + hour * HOUR)) <= timedelta(minutes=6)
    assert early[0] == begin
    assert late[1] == begin + timedelta(days=2)


def test_the_night_is_what_the_day_leaves() -> None:
    """FAO-56, example 9: N is 11.7 h at 20 degrees south on 3 September; 150 degrees east the sun
    sets at about six by a clock ten hours ahead."""
    zone = timezone(10 * HOUR)
    noon = datetime(2026, 9, 3, 12, tzinfo=zone)
    ((sunset, sunrise),) = nights(-20.0, 150.0, noon, noon + 24 * HOUR)
    assert (sunrise - sunset) / HOUR == pytest.approx(24 - float(daylight_hours(-20, 246)), abs=0.2)
    assert sunset.tzinfo is zone
    assert 17.7 < sunset.hour + sunset.minute / 60 < 18.1


def test_no_night_in_a_polar_summer_and_nothing_else_in_its_winter() -> None:
    day = datetime(2026, 6, 21, tzinfo=UTC)
    assert nights(75.0, 20.0, day, day + 48 * HOUR) == []
    winter = datetime(2026, 12, 21, tzinfo=UTC)
    assert nights(75.0, 20.0, winter, winter + 48 * HOUR) == [(winter, winter + 48 * HOUR)]
