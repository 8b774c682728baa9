"""What may be wrong with a reading; the words and sources are data in ``rules.json``."""

import json
from dataclasses import dataclass
from enum import IntFlag
from functools import cache
from importlib import resources

import numpy as np

from core.arrays import Bools


class Flag(IntFlag):
    """A rule that a reading fails; several may hold at once. ``SUSPECT`` is a person's word."""

    RANGE = 1
    OVER_SATURATION = 2
    SPIKE = 4
    BREAK = 8
    FLAT = 16
    FROZEN = 32
    BROKEN_COLUMN = 64
    RISE_WITHOUT_WATER = 128
    NIGHT_CLIMB = 256
    JUMP_AT_ALL_DEPTHS = 512
    TOO_DRY = 1024
    SUSPECT = 16384


@dataclass(frozen=True)
class Rule:
    """One rule in words. ``doubted``: its readings are not used; otherwise they are only noted."""

    flag: Flag
    name: str
    meaning: str
    likely: str
    doubted: bool
    source: str


@dataclass(frozen=True)
class RuleBook:
    """All rules of one version, in the order in which their reasons are given."""

    version: int
    since: str
    rules: tuple[Rule, ...]

    def of(self, flag: Flag) -> Rule:
        """The rule behind a single flag."""
        return next(r for r in self.rules if r.flag is flag)


@cache
def _book() -> tuple[RuleBook, dict[int, str]]:
    data = json.loads(resources.files("core.quality").joinpath("rules.json").read_text("utf-8"))
    rules = tuple(
        Rule(
            flag=Flag[row["key"].upper()],
            name=row["name"],
            meaning=row["meaning"],
            likely=row["likely"],
            doubted=row["doubted"],
            source=row["source"],
        )
        for row in data["rules"]
    )
    versions = {int(v["version"]): v["change"] for v in data["versions"]}
    newest = data["versions"][-1]
    return RuleBook(newest["version"], newest["since"], rules), versions


def rule_book() -> RuleBook:
    """The rules in force; read once."""
    return _book()[0]


def rule_versions() -> dict[int, str]:
    """Every version of the rules and what it changed."""
    return _book()[1]


@cache
def doubting() -> int:
    """Flags whose readings are not used, as one mask."""
    return sum(int(r.flag) for r in rule_book().rules if r.doubted)


def doubted(flag: np.ndarray) -> Bools:
    """Readings that are not used for what their flags say; same shape."""
    return (np.asarray(flag) & doubting()) != 0


def reasons(flag: int) -> list[str]:
    """Names of the rules that a reading fails, the gravest first."""
    # An enumeration's own "and" makes an enumeration of it, which takes twenty times as long.
    return [r.name for r in rule_book().rules if flag & int(r.flag)]
