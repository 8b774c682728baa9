"""What was drawn of each source so far: today, since its licence began, and the month's peak."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime, timedelta

from core.plan.network import Network, same_name
from core.plan.over_slots import Drawn
from server.blocks.models import Block
from server.farms.models import Farm
from server.plan.clock import midnight_before
from server.water.models import Irrigation


def drawn_so_far(
    farm: Farm, supplies: Sequence[str], network: Network, now: datetime
) -> dict[str, Drawn]:
    """What the log says was drawn of each supply, by its name."""
    blocks = list(Block.objects.for_farm(farm).only("supply", "area_m2"))
    own = {s: [b for b in blocks if same_name(b.supply, s)] for s in supplies}
    today = midnight_before(now)
    month = today.replace(day=1)
    begins = {supply: _licence_begin(network, supply, now) or month for supply in own}
    first = min([month, *begins.values()])
    runs: dict[int, list[Irrigation]] = defaultdict(list)
    rows = Irrigation.objects.for_farm(farm).filter(
        status__in=[Irrigation.Status.DONE, Irrigation.Status.RUNNING],
        ended_at__gt=first,
        started_at__lt=now,
    )
    for row in rows.only("block_id", "status", "started_at", "ended_at", "gross_mm"):
        runs[row.block_id].append(row)
    out = {}
    for supply, its in own.items():
        source = network.source_of(supply)
        area = {b.pk: b.area_m2 for b in its}
        mine = [r for b in its for r in runs[b.pk]]
        kwh = source.energy_kwh_m3 if source else 0.0
        out[supply] = Drawn(
            today_m3=_volume(mine, area, today, now),
            season_m3=_volume(mine, area, begins[supply], now),
            peak_kw=_highest_flow(mine, area, month, now) * kwh,
        )
    return out


def _licence_begin(network: Network, supply: str, now: datetime) -> datetime | None:
    """The last time that the day of the year came from which a season's licence counts."""
    source = network.source_of(supply)
    if source is None or source.season_from is None:
        return None
    years = (now.year, now.year - 1)
    days = (_in_year(source.season_from, y) for y in years)
    day = next(d for d in days if d <= now.date())
    return datetime.combine(day, datetime.min.time(), tzinfo=now.tzinfo)


def _in_year(day: date, year: int) -> date:
    """The same day of another year; the 28th where there is no 29 February."""
    try:
        return day.replace(year=year)
    except ValueError:
        return day.replace(year=year, day=28)


def _flow(row: Irrigation, area: Mapping[int, float]) -> float:
    """Mean flow of an irrigation [m3/h]."""
    hours = (row.ended_at - row.started_at) / timedelta(hours=1)
    return row.gross_mm / 1000 * area[row.block_id] / hours


def _volume(
    rows: Iterable[Irrigation], area: Mapping[int, float], since: datetime, until: datetime
) -> float:
    """What irrigations drew between two moments [m3]."""
    total = 0.0
    for row in rows:
        inside = min(row.ended_at, until) - max(row.started_at, since)
        total += _flow(row, area) * max(inside / timedelta(hours=1), 0.0)
    return total


def _highest_flow(
    rows: Iterable[Irrigation], area: Mapping[int, float], since: datetime, until: datetime
) -> float:
    """The most that ran at the same time [m3/h]."""
    steps = []
    for row in rows:
        begin, end = max(row.started_at, since), min(row.ended_at, until)
        if begin < end:
            flow = _flow(row, area)
            steps += [(begin, 1, flow), (end, 0, -flow)]
    now, most = 0.0, 0.0
    # What ends in a moment ends before what begins in it.
    for _, _, flow in sorted(steps, key=lambda s: (s[0], s[1])):
        now += flow
        most = max(most, now)
    return most


def one_spelling(supplies: Iterable[str]) -> list[str]:
    """Each supply once, as it is spelled first."""
    found: list[str] = []
    for supply in supplies:
        if not any(same_name(supply, other) for other in found):
            found.append(supply)
    return found
