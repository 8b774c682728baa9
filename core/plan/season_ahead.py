"""What blocks need from now to the end of their seasons, over courses that the weather may take.

References
----------
.. [1] Lall, U. & Sharma, A. (1996), A nearest neighbor bootstrap for resampling hydrologic time
   series, Water Resources Research 32: weather to come is put together from pieces of what was on
   record at that time of year. Here pieces of ten days, drawn alike.
.. [2] Allen, R. G. et al. (1998), FAO-56, ch. 6: Kc over the four stages of the season.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.advice.needs_ahead import NeedsAhead
from core.arrays import Floats
from core.crop.catalogue import Crop
from core.crop.yield_loss import loss_per_mm
from core.plan.capacity import SupplyNeed
from core.plan.season_water import SeasonNeed

# Years of weather that are put together; so many that the eighth of ten is told to a twentieth.
YEARS = 40
# Weather of ten days on end stays together: dry spells last [days].
PIECE_DAYS = 10
# So far from its day of the year a piece may come [days]; further where nothing nearer is known.
NEAR_DAYS, FAR_DAYS = 20, 45
# Beyond so many days nothing is said of by when to begin: the peak is over, or far.
START_DAYS = 60
WEEK_DAYS = 7
MM_PER_M = 1000.0


@dataclass(frozen=True)
class WeatherRecord:
    """Days on record in their order; NaN is not known.

    day : array of int, shape (days,), counted from any day that all are counted from
    of_year : array of int, shape (days,), day of the year
    et0_mm, rain_mm : arrays, shape (days,) [mm/day]
    """

    day: np.ndarray
    of_year: np.ndarray
    et0_mm: Floats
    rain_mm: Floats


@dataclass(frozen=True)
class BlockToCome:
    """A block from now to the end of its season.

    crop : with its Kc on the surface of the ET
    book_day : float, of the crop's calendar
    use_factor : float [-], of Kc ET
    rain_share : float [-], of the ground that counts
    depletion_mm, raw_mm : float [mm]
    gross_m3_mm : float [m3 for each mm net]
    value : float, money for all of its yield
    """

    crop: Crop
    book_day: float
    use_factor: float
    rain_share: float
    depletion_mm: float
    raw_mm: float
    gross_m3_mm: float
    value: float


def block_to_come(
    needs: NeedsAhead, rain_share: float, gross_m3_mm: float, value: float
) -> BlockToCome:
    """What the advice knows of a block, for the rest of its season."""
    crop = needs.season.crop
    kc = crop.kc_on(needs.book_day + np.arange(needs.use_mm.shape[1]))
    # Of today only a part is to come.
    book = float(kc[1:].sum()) * needs.et0_mm_day
    return BlockToCome(
        crop=crop,
        book_day=needs.book_day,
        use_factor=float(needs.use_mm[:, 1:].mean(axis=0).sum()) / book if book > 0 else 1.0,
        rain_share=rain_share,
        depletion_mm=float(needs.depletion_mm.mean()),
        raw_mm=float(needs.raw_mm.mean()),
        gross_m3_mm=gross_m3_mm,
        value=value,
    )


def years_to_come(
    record: WeatherRecord, of_year: int, days: int, seed: int
) -> tuple[Floats, Floats] | None:
    """Courses that the weather may take from a day of the year on [1]_.

    Returns
    -------
    tuple or None
        ET0 and rain, arrays, shape (YEARS, days) [mm/day]; None where nothing is on record for
        some time of the year.
    """
    whole = np.isfinite(record.et0_mm) & np.isfinite(record.rain_mm)
    last = record.day.size - PIECE_DAYS + 1
    starts = np.array(
        [
            k
            for k in range(max(last, 0))
            if whole[k : k + PIECE_DAYS].all()
            and record.day[k + PIECE_DAYS - 1] - record.day[k] == PIECE_DAYS - 1
        ],
        dtype=int,
    )
    rng = np.random.default_rng(seed)
    et0, rain = [], []
    for piece in range(-(-days // PIECE_DAYS)):
        away = record.of_year[starts] - (of_year + piece * PIECE_DAYS)
        away = np.abs((away + 182) % 365 - 182)
        fit = starts[away <= NEAR_DAYS]
        if not fit.size:
            fit = starts[away <= FAR_DAYS]
        if not fit.size:
            return None
        rows = rng.choice(fit, YEARS)[:, None] + np.arange(PIECE_DAYS)
        et0.append(record.et0_mm[rows])
        rain.append(record.rain_mm[rows])
    return np.concatenate(et0, axis=1)[:, :days], np.concatenate(rain, axis=1)[:, :days]


def days_left(block: BlockToCome) -> int:
    """Days to the end of a block's season, today's included."""
    return max(int(np.ceil(sum(block.crop.stage_days) - block.book_day)), 0)


def use_and_rain(block: BlockToCome, et0: Floats, rain: Floats) -> tuple[Floats, Floats]:
    """Use and rain of each day [mm], nothing after the season; arrays (years, days)."""
    days = et0.shape[1]
    at = block.book_day + np.arange(days)
    kc = block.crop.kc_on(at) * (at < block.crop.stage_ends[-1])
    return kc * block.use_factor * et0, np.broadcast_to(rain * block.rain_share, et0.shape)


def season_need(blocks: Sequence[BlockToCome], et0: Floats, rain: Floats) -> SeasonNeed:
    """What irrigation has to bring by weeks, so that no block passes refill.

    Parameters
    ----------
    et0, rain : arrays, shape (years, days) [mm/day]
    """
    weeks = -(-et0.shape[1] // WEEK_DAYS)
    need = np.zeros((et0.shape[0], len(blocks), weeks))
    value = np.zeros((len(blocks), weeks))
    usual = float(et0.mean())
    for b, block in enumerate(blocks):
        use, falls = use_and_rain(block, et0, rain)
        store = np.full(et0.shape[0], block.raw_mm - block.depletion_mm)
        for day in range(et0.shape[1]):
            store = np.minimum(store + falls[:, day], block.raw_mm) - use[:, day]
            lacking = np.maximum(-store, 0.0)
            need[:, b, day // WEEK_DAYS] += lacking
            store += lacking
        value[b] = [
            loss_per_mm(block.crop, block.book_day + w * WEEK_DAYS, usual, block.value)
            for w in range(weeks)
        ]
    return SeasonNeed(need, value, np.array([b.gross_m3_mm for b in blocks]))


def supply_need(blocks: Sequence[BlockToCome], et0: Floats, rain: Floats) -> SupplyNeed:
    """The same blocks day by day, for by when watering must begin; see `season_need`."""
    days = min(et0.shape[1], START_DAYS)
    gains = [np.subtract(*use_and_rain(b, et0[:, :days], rain[:, :days])) for b in blocks]
    efficiency = np.ones(len(blocks))
    return SupplyNeed(
        # As m3 for each mm net; what is lost on the way is in it.
        area_m2=np.array([b.gross_m3_mm for b in blocks]) * MM_PER_M,
        efficiency=efficiency,
        depletion_mm=np.array([b.depletion_mm for b in blocks]),
        raw_mm=np.array([b.raw_mm for b in blocks]),
        gain_mm=np.stack(gains, axis=1),
    )
