"""Water that came and that nobody logged."""

from math import isnan

from core.diagnosis.block import RAIN, SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.events.event import WettingEvent

# Less may be dew, a passing shower or what runs down a stem [mm]; working assumption.
LEAST_MM = 5.0
# Events of different sites so close together are the same water [h].
SAME_WATER_H = 18.0
ONE_EVENT_WRONG = 0.2
# Water is logged at a wrong hour, or under a logger's wrong clock, within so much of it [h].
WRONG_HOUR_H = 14.0


def not_logged(block: SeenBlock, since_hours: float) -> list[Finding]:
    """Wettings from above that neither an irrigation nor rain explains.

    Parameters
    ----------
    since_hours : float [h from now]
        Older ones are left out.
    """
    seen = sorted(
        (
            (event, s)
            for s, site in enumerate(block.sites)
            for event in site.events
            if event.wetting.after_hours >= since_hours and _from_above(site, event)
        ),
        key=lambda pair: pair[0].wetting.after_hours,
    )
    waters: list[list[tuple[WettingEvent, int]]] = []
    for event, s in seen:
        if waters and event.wetting.after_hours - _begins(waters[-1]) <= SAME_WATER_H:
            waters[-1].append((event, s))
        else:
            waters.append([(event, s)])
    if not waters:
        return []
    evidence = tuple(
        Evidence(
            _begins(water),
            max(e.wetting.peak_hours for e, _ in water),
            EvidenceFigure.WATER,
            max(e.stored.total_mm + _or_zero(e.used_mm) for e, _ in water),
            0.0,
            site=water[0][1] if len({s for _, s in water}) == 1 else None,
        )
        for water in waters
    )
    weeks = max(-since_hours / (7 * 24.0), 1.0)
    came = sum(e.seen for e in evidence)
    sure = likelihood(len(seen), ONE_EVENT_WRONG)
    return [Finding(Cause.NOT_LOGGED, sure, evidence, Cost(came / weeks))]


def _begins(water: list[tuple[WettingEvent, int]]) -> float:
    return water[0][0].wetting.after_hours


def _or_zero(mm: float) -> float:
    return 0.0 if isnan(mm) else mm


def _logged_near(site: SeenSite, event: WettingEvent) -> bool:
    """Whether it may be an irrigation logged at a wrong hour: one near in time was not seen."""
    begins = event.wetting.after_hours
    return any(
        site.irrigation[k] != RAIN
        and abs(site.record.supplies[k].start_hours - begins) <= WRONG_HOUR_H
        for k in site.unseen
    )


def _from_above(site: SeenSite, event: WettingEvent) -> bool:
    """Whether water came from above, and stayed or drained as water does."""
    return is_unexplained(site, event) and not _logged_near(site, event)


def is_unexplained(site: SeenSite, event: WettingEvent) -> bool:
    """Whether water came from above that nothing on record explains."""
    if event.supplies or not event.stored.total_mm >= LEAST_MM:
        return False
    record = site.record
    before = record.row_at(event.wetting.before_hours)
    heard = [
        j
        for j in range(record.site.depth_mm.size)
        if record.theta[before, j] == record.theta[before, j]
    ]
    # A rise that begins deep, under a sensor that said nothing of it, came from below.
    return bool(heard) and event.wetting.answers[0].sensor == heard[0]
