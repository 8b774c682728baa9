"""What the crop took on dry days beside the stated use, and how dry the roots were then."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.events.event import WettingEvent
from core.events.record import SiteRecord
from core.instrument.sensor_layers import sensor_layers
from core.learned.daily_falls import daily_falls
from core.quality.climbs import DAY_HOURS
from core.soil.profile import Profile

# Set on simulated fields of two truths, see docs/events.md: how long after a wetting a day tells of
# roots alone [h], how many nights on either side tell what drains, the least stated use that is
# told from noise [mm/day], and how much deeper than they are thought roots are looked for [-].
WAITS_H, NIGHTS, LEAST_STATED_MM, DEEPER = 48.0, 2, 3.0, 1.2
# Days on which a sensor may be silent [-].
SILENT_SHARE = 0.2
# Water in the roots before a day is that of some hours before its light begins [h before its end].
BEFORE_H = (20.0, 17.0)


@dataclass(frozen=True)
class UptakeDays:
    """Dry days of one site, the newest last; arrays (days,).

    ends_hours : when each day's light ends [h from now]
    gone : share of the roots' available water that was gone before it [-]
    share : of the stated use that was taken [-]
    stated_mm : stated use [mm/day]
    available_mm : between full and wilting in the roots [mm]
    """

    ends_hours: Floats
    gone: Floats
    share: Floats
    stated_mm: Floats
    available_mm: Floats


def uptake_days(
    record: SiteRecord, events: Sequence[WettingEvent], profile: Profile, full_theta: Floats
) -> UptakeDays:
    """Dry days on which the sensors were read and the use is known; one that was silent on many of
    them is left out.

    Parameters
    ----------
    record : SiteRecord
        Of an instrument that reads content; its uses are those of a crop that lacks nothing.
    events : sequence of WettingEvent
        Of the site.
    profile : Profile
    full_theta : array, shape (sensors,) [m3/m3]
        What each sensor reads when its layer is full.
    """
    ends, falls = daily_falls(record, events, nights=NIGHTS, waits_hours=WAITS_H)
    rows: list[tuple[float, ...]] = []
    speaks = np.isnan(falls).mean(axis=0) <= SILENT_SHARE if falls.size else np.zeros(0, bool)
    if speaks.size:
        speaks &= ~np.isnan(full_theta)
    if not speaks.any():
        return UptakeDays(*np.empty((5, 0)))
    top, bottom = sensor_layers(record.site.depth_mm[speaks])
    for end, fall in zip(ends.tolist(), falls, strict=True):
        stated = record.used_between(end - DAY_HOURS, end)
        root = record.root_at(end - DAY_HOURS / 2)
        if not (stated >= LEAST_STATED_MM and root > 0) or np.isnan(fall[speaks]).any():
            continue
        before = _before(record, end)[speaks]
        inside = np.clip(np.minimum(bottom, root) - top, 0.0, None)
        drinks = np.clip(np.minimum(bottom, DEEPER * root) - top, 0.0, None)
        available = float(profile.available_between(0.0, root).sum())
        gone = float((full_theta[speaks] - before) @ inside) / available
        if not np.isnan(gone):
            rows.append((end, gone, float(fall[speaks] @ drinks) / stated, stated, available))
    return UptakeDays(*np.array(rows, float).reshape(-1, 5).T)


def _before(record: SiteRecord, end: float) -> Floats:
    begin, stop = (record.row_at(end - h) for h in BEFORE_H)
    out: Floats = record.theta[max(begin, 0) : max(stop, begin) + 1].mean(axis=0)
    return out
