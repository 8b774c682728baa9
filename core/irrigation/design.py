"""The design of a system from the figures a person has, by the system's kind."""

from collections.abc import Mapping
from dataclasses import MISSING, fields

from core.irrigation.fixed import Drip, SolidSet
from core.irrigation.moving import Linear, Pivot, Traveller
from core.irrigation.surface import Basin, Strips
from core.irrigation.system import SystemKind, SystemProblem
from core.sentence import sentence

Design = Pivot | Linear | Traveller | SolidSet | Drip | Strips | Basin

DESIGNS: dict[SystemKind, type[Design]] = {
    SystemKind.PIVOT: Pivot,
    SystemKind.LINEAR: Linear,
    SystemKind.TRAVELLER: Traveller,
    SystemKind.SOLID_SET: SolidSet,
    SystemKind.DRIP: Drip,
    SystemKind.MICRO: Drip,
    SystemKind.FURROW: Strips,
    SystemKind.BORDER: Strips,
    SystemKind.BASIN: Basin,
    SystemKind.PADDY: Basin,
}


def design_of(kind: SystemKind, figures: Mapping[str, float | None]) -> Design:
    """The design of a kind from its figures.

    Parameters
    ----------
    figures : by the field's name, units as the design class says; None counts as not given

    Raises
    ------
    SystemProblem
        Names the figure that is missing, unknown or out of range.
    """
    made = DESIGNS[kind]
    known = {f.name for f in fields(made)}
    given = {name: value for name, value in figures.items() if value is not None}
    for name in given:
        if name not in known:
            raise SystemProblem(
                name, sentence("A {kind} has no such figure; leave it out.", kind=kind)
            )
    for f in fields(made):
        if f.default is MISSING and f.name not in given:
            raise SystemProblem(f.name, sentence("This figure is needed."))
    return made(**given)  # type: ignore[arg-type]
