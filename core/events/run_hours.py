"""Hours of an irrigation that just wet the roots, from what a block's own irrigations did."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.events.passed import NIGHT_SIGMA
from core.events.reach import Reach
from core.events.stored import EIGHT_OF_TEN

# Fewer irrigations are chance; of more than these only the newest tell of today's soil and crop
# (working assumptions, no source).
FEWEST, MOST = 2, 6
# Irrigations of other roots than these tell of another soil depth [share of the roots' depth].
LIKE_ROOTS = 0.25
# How far beyond what it reached an irrigation still tells what deeper soil would take [-]; drier
# soil below takes more.
BEYOND_REACH = 1.5
# No share of an irrigation below this is told to be enough [-].
LEAST_SHARE = 0.1


@dataclass(frozen=True)
class Run:
    """One irrigation that nothing else added to, and what came of it.

    Arrays by sensor [mm], NaN where not known: layers, and what they held more by when the water
    had spread out; ``drained_mm`` left the roots after that.
    """

    hours: float
    given_mm: float
    root_mm: float
    reach: Reach
    top_mm: Floats
    bottom_mm: Floats
    added_mm: Floats
    drained_mm: float


@dataclass(frozen=True)
class Hours:
    """Hours that just wet the roots, their middle 80 percent, and how deep the roots are.

    ``high`` is infinite where no irrigation went deep enough to tell.
    """

    root_mm: float
    low: float
    likely: float
    high: float


@dataclass(frozen=True)
class RunHours:
    """What irrigations as they are run do, and what would do.

    runs : places of the irrigations that tell it
    habit_hours, habit_mm, reached_mm : their medians; reached_mm is infinite where most went past
        the deepest sensor
    passed_mm : what of one goes past the roots, on average
    enough : hours for the roots of now, then for deeper ones
    """

    runs: tuple[int, ...]
    habit_hours: float
    habit_mm: float
    reached_mm: float
    passed_mm: float
    enough: tuple[Hours, ...]


def past_mm(run: Run, root_mm: float) -> float:
    """What of an irrigation went below a depth [mm]; nothing where it ended above."""
    if run.reach.high_mm <= root_mm:
        return 0.0
    depth = run.bottom_mm - run.top_mm
    below = np.clip(run.bottom_mm - np.maximum(run.top_mm, root_mm), 0.0, None) / depth
    seen = float(np.nansum(np.maximum(run.added_mm, 0.0) * below))
    return seen + max(run.drained_mm, 0.0)


def share_needed(run: Run, root_mm: float) -> tuple[float, float, float]:
    """Share of an irrigation that would have just wetted a depth: low, likely, high [-].

    Notes
    -----
    Water goes as deep for each millimetre as it did: what went half as deep again as the roots was
    half as much again as enough. What is left of it without that which went past the roots was
    surely enough. What ended above the roots tells what deeper soil takes for half as far again;
    beyond that nobody knows.
    """
    reach = run.reach
    low, likely, high = root_mm / reach.high_mm, root_mm / reach.mm, root_mm / reach.low_mm
    if reach.low_mm < root_mm:
        return _within(low, likely, high if root_mm <= BEYOND_REACH * reach.mm else float("inf"))
    past = past_mm(run, root_mm) / run.given_mm
    enough = min(1 - past + EIGHT_OF_TEN * NIGHT_SIGMA * past, 1.0)
    return _within(low, min(likely, 1 - past), enough)


def _within(low: float, likely: float, high: float) -> tuple[float, float, float]:
    low, likely = max(low, LEAST_SHARE), max(likely, LEAST_SHARE)
    return low, likely, max(high, likely)


def _tells(run: Run, root_mm: float) -> bool:
    """Whether an irrigation tells of these roots: it went to about them, and was seen there."""
    alike = abs(run.root_mm - root_mm) <= LIKE_ROOTS * root_mm
    unseen = run.reach.beyond_sensors and run.reach.low_mm < root_mm
    return alike and not unseen and run.given_mm > 0 and run.hours > 0


def run_hours(
    runs: Sequence[Run], root_mm: float, deeper_mm: Sequence[float] = (), most: int = MOST
) -> RunHours | None:
    """What a block's irrigations say of how long one should run.

    Parameters
    ----------
    runs : sequence of Run, in order of time
    root_mm : float [mm]
        Of now.
    deeper_mm : sequence of float [mm]
        Depths that the roots may come to.
    most : int
        So many of the newest count; more where several instruments saw each irrigation.

    Returns
    -------
    RunHours or None
        None where fewer than two irrigations were run under roots like those of now and ended
        where sensors stand.
    """
    like = [k for k, run in enumerate(runs) if _tells(run, root_mm)][-most:]
    if len(like) < FEWEST:
        return None
    chosen = [runs[k] for k in like]
    beyond = sum(run.reach.beyond_sensors for run in chosen)
    reached = float(np.median([run.reach.mm for run in chosen]))
    return RunHours(
        runs=tuple(like),
        habit_hours=float(np.median([run.hours for run in chosen])),
        habit_mm=float(np.median([run.given_mm for run in chosen])),
        reached_mm=float("inf") if 2 * beyond > len(chosen) else reached,
        passed_mm=float(np.mean([past_mm(run, root_mm) for run in chosen])),
        enough=tuple(_hours(chosen, depth) for depth in (root_mm, *deeper_mm)),
    )


def _hours(runs: Sequence[Run], root_mm: float) -> Hours:
    """Hours by all runs: the median, and the spread between and within them."""
    by_run = np.array([[s * run.hours for s in share_needed(run, root_mm)] for run in runs])
    low, likely, high = by_run.T
    middle = float(np.median(likely))
    between = float(np.var(likely))
    down = np.sqrt(between + float(np.mean(((likely - low) / EIGHT_OF_TEN) ** 2)))
    # Where half of them did not go deep enough nobody knows more than that no less would do than
    # each one took to go as far as it may have gone.
    known = np.isfinite(high)
    if 2 * known.sum() <= known.size:
        return Hours(root_mm, float(np.median(low)), middle, float("inf"))
    up = np.sqrt(between + float(np.mean(((high - likely)[known] / EIGHT_OF_TEN) ** 2)))
    return Hours(
        root_mm,
        max(middle - EIGHT_OF_TEN * down, 0.0),
        middle,
        middle + EIGHT_OF_TEN * up,
    )
