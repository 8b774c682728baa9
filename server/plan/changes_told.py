"""How the irrigations of one plan differ from those of another."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from server.plan.schemas import SetChange, SetChangeOut

# Times and hours that differ by less are the same to who reads them.
SAME = timedelta(minutes=1)
HOUR = timedelta(hours=1)


@dataclass(frozen=True)
class Run:
    """An irrigation of a block; ``key`` is whatever it is known by."""

    key: int
    block_id: int
    starts_at: datetime
    ends_at: datetime


@dataclass(frozen=True)
class Pair:
    """An irrigation before and after; None where there is none."""

    before: Run | None
    after: Run | None

    @property
    def change(self) -> SetChange | None:
        """What happened to it; None where nothing did."""
        if self.before is None:
            return SetChange.NEW
        if self.after is None:
            return SetChange.REMOVED
        if abs(self.before.starts_at - self.after.starts_at) >= SAME:
            return SetChange.MOVED
        one, two = (r.ends_at - r.starts_at for r in (self.before, self.after))
        return SetChange.RESIZED if abs(one - two) >= SAME else None


def pairs(before: Sequence[Run], after: Sequence[Run]) -> list[Pair]:
    """Which irrigation became which: of each block those that begin nearest to each other."""
    out = []
    for block in dict.fromkeys(r.block_id for r in (*before, *after)):
        left = [r for r in before if r.block_id == block]
        right = [r for r in after if r.block_id == block]
        near = sorted(
            (
                (abs(a.starts_at - b.starts_at), i, j)
                for i, a in enumerate(left)
                for j, b in enumerate(right)
            ),
        )
        used_left, used_right = set[int](), set[int]()
        for _, i, j in near:
            if i not in used_left and j not in used_right:
                used_left.add(i)
                used_right.add(j)
                out.append(Pair(left[i], right[j]))
        out += [Pair(r, None) for i, r in enumerate(left) if i not in used_left]
        out += [Pair(None, r) for j, r in enumerate(right) if j not in used_right]
    return out


def told(found: Iterable[Pair], names: Mapping[int, str]) -> list[SetChangeOut]:
    """Changes in the order in which they come to pass."""
    out = []
    for pair in found:
        change = pair.change
        one = pair.after or pair.before
        if change is None or one is None:
            continue
        out.append(
            SetChangeOut(
                change=change,
                block_id=one.block_id,
                block=names[one.block_id],
                from_at=pair.before.starts_at if pair.before else None,
                from_hours=_hours(pair.before),
                to_at=pair.after.starts_at if pair.after else None,
                to_hours=_hours(pair.after),
            )
        )
    return sorted(out, key=lambda c: (c.to_at or c.from_at or datetime.min, c.block))


def _hours(run: Run | None) -> float | None:
    return None if run is None else round((run.ends_at - run.starts_at) / HOUR, 3)
