"""What lack of water would cost a crop now: its sensitive windows, a day of stress, a day's delay.

References
----------
.. [1] Doorenbos, J. & Kassam, A. H. (1979), FAO Irrigation and Drainage Paper 33: yield response by
   growth period.
"""

from dataclasses import dataclass, replace
from datetime import date, timedelta
from enum import StrEnum

import numpy as np

from core.advice.decide import Decisions
from core.advice.gather import AHEAD_DAYS
from core.arrays import Floats
from core.crop.catalogue import CriticalWindow, Crop
from core.crop.season import IN_SEASON, STAGE_ORDER, CropSeason, season_days
from core.crop.yield_loss import loss_per_mm

# The rest of a season is looked at so far ahead [days].
REST_DAYS = 300
# What people reckon with for a day of stress of maize, at silking and at dent, at most [-] (common
# practice, no source).
PRACTICE_CROP = "maize"
PRACTICE: dict[str, float] = {"flowering": 0.09, "yield formation": 0.05}


class WindowName(StrEnum):
    """Sensitive windows as the catalogue names them."""

    VEGETATIVE = "vegetative growth"
    FLOWERING = "flowering"
    YIELD_FORMATION = "yield formation"
    RIPENING = "ripening"


@dataclass(frozen=True)
class Window:
    """A sensitive window of the season under way, see `core.crop.catalogue.CriticalWindow`; it
    ends before ``ends_on``."""

    name: WindowName
    ky: float
    starts_on: date
    ends_on: date


@dataclass(frozen=True)
class AtRisk:
    """Shares of the full yield [-], depths over the block [mm].

    window, next_window : under way, and the next one; None where the crop has none
    stress_day_share : lost on a day on which the crop gets no water at all; None without a Ky
    practice_share : what people reckon with for a day of stress in the window
    delay_mm, delay_share : transpiration and yield lost where the next irrigation comes a day after
        its latest start; None where none is in sight
    rest_days, rest_use_mm : until the season is over, and what the crop will use by then
    rest_need_mm : of it what is not in the roots now, rain not counted
    """

    window: Window | None
    next_window: Window | None
    stress_day_share: float | None
    practice_share: float | None
    delay_mm: float | None
    delay_share: float | None
    rest_days: int
    rest_use_mm: float
    rest_need_mm: float


@dataclass(frozen=True)
class _Rest:
    """The rest of a season by day, today first; arrays (days,)."""

    kc: Floats
    book_day: Floats
    days: int


def _rests(d: Decisions) -> list[_Rest]:
    """The rest of each block's season."""
    today = d.gathered.blocks[0].now.date()
    made = season_days(list(d.gathered.seasons), today, REST_DAYS)
    growing = np.isin(made.stage_index, [STAGE_ORDER.index(s) for s in IN_SEASON])
    out = []
    for k in range(made.kc.shape[0]):
        ends = np.flatnonzero(~growing[k])
        # A perennial begins anew: the season under way ends where its calendar does.
        anew = np.flatnonzero(np.diff(made.book_day[k]) < 0) + 1
        days = int(min([*ends[:1], *anew[:1], REST_DAYS]))
        over = np.flatnonzero(made.book_day[k] >= d.gathered.seasons[k].crop.stage_ends[-1])
        days = int(min([days, *over[:1]]))
        out.append(_Rest(made.kc[k], made.book_day[k], days))
    return out


def _windows(crop: Crop, rest: _Rest, today: date) -> tuple[Window | None, Window | None]:
    """The window under way and the next one."""
    ends = crop.stage_ends
    found: list[Window | None] = [None, None]

    def dated(window: CriticalWindow, first: int, last: int) -> Window:
        return Window(
            WindowName(window.name),
            window.ky,
            today + timedelta(days=first),
            today + timedelta(days=last),
        )

    for window in sorted(crop.windows, key=lambda w: w.start):
        begin, end = (float(np.interp(x, np.arange(5), ends)) for x in (window.start, window.end))
        inside = np.flatnonzero((rest.book_day >= begin) & (rest.book_day < end))
        inside = inside[inside < rest.days]
        if not inside.size:
            continue
        place = 0 if inside[0] == 0 else 1
        if found[place] is None:
            found[place] = dated(window, int(inside[0]), int(inside[-1]) + 1)
    return found[0], found[1]


def _lost_a_day_late(d: Decisions, row: int, start_hours: float) -> float | None:
    """Transpiration lost on the day after the latest start, where no water comes [mm]; the mean of
    the members. None where no irrigation is in sight."""
    if not np.isfinite(start_hours) or start_hours > 24.0 * (AHEAD_DAYS - 1):
        return None
    day = int(start_hours // 24) + 1
    g, now = d.gathered, d.gathered.past_days
    span = float(g.zones.taw_mm[row, now + day] - g.zones.raw_mm[row, now + day])
    short = np.clip(-d.member_usable_mm[row, :, day] / max(span, 1.0), 0.0, 1.0)
    use = float(g.kc[row, now + day] * d.expected_et0_mm[min(day, d.expected_et0_mm.size - 1)])
    return float(short.mean()) * use


def at_risk(d: Decisions, row: int, rest: _Rest, start_hours: float) -> AtRisk:
    """What lack of water would cost a block; see `AtRisk`.

    Parameters
    ----------
    start_hours : float
        The latest start of its next irrigation [h from now].
    """
    g, now = d.gathered, d.gathered.past_days
    season: CropSeason = g.seasons[row]
    crop, block = season.crop, g.blocks[row]
    et0 = block.assumed.stated_et.expected
    window, later = _windows(crop, rest, block.now.date())
    book_day = float(rest.book_day[0])
    per_mm = _loss_per_mm(crop, book_day, et0)
    late = _lost_a_day_late(d, row, start_hours)
    use = rest.kc[: rest.days] * et0
    held = float(g.zones.taw_mm[row, now]) - max(float(d.track.depletion_mm[row, -1]), 0.0)
    return AtRisk(
        window=window,
        next_window=later,
        stress_day_share=None if per_mm is None else min(per_mm * float(rest.kc[0]) * et0, 1.0),
        practice_share=_practice(crop, window),
        delay_mm=late,
        delay_share=_delay_share(late, per_mm),
        rest_days=rest.days,
        rest_use_mm=float(use.sum()),
        rest_need_mm=max(float(use.sum()) - held, 0.0),
    )


def _practice(crop: Crop, window: Window | None) -> float | None:
    """What people reckon with for a day of stress in the window under way [-]."""
    if window is None or not crop.key.startswith(PRACTICE_CROP):
        return None
    return PRACTICE.get(window.name)


def risks(d: Decisions) -> list[AtRisk]:
    """What lack of water would cost each block of decisions."""
    return [at_risk(d, row, rest, float(d.start_hours[row])) for row, rest in enumerate(_rests(d))]


def starting_at(risk: AtRisk, d: Decisions, row: int, start_hours: float) -> AtRisk:
    """The same where the next irrigation's latest start is another hour."""
    season, block = d.gathered.seasons[row], d.gathered.blocks[row]
    late = _lost_a_day_late(d, row, start_hours)
    book_day = float(d.gathered.limits.crop.book_day[row, d.gathered.past_days])
    per_mm = _loss_per_mm(season.crop, book_day, block.assumed.stated_et.expected)
    return replace(risk, delay_mm=late, delay_share=_delay_share(late, per_mm))


def _loss_per_mm(crop: Crop, book_day: float, et0_mm: float) -> float | None:
    """Share of the yield lost for a mm lacking [1/mm]; None without a Ky."""
    return None if crop.ky_season is None else loss_per_mm(crop, book_day, max(et0_mm, 1e-6), 1.0)


def _delay_share(late_mm: float | None, per_mm: float | None) -> float | None:
    return None if late_mm is None or per_mm is None else min(late_mm * per_mm, 1.0)
