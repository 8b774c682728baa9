"""The surface a crop coefficient or a reference ET belongs to; the two are never mixed."""

from enum import StrEnum

from core.sentence import Sentence, sentence

# Alfalfa-reference ET over grass-reference ET, the range met in practice (handbooks give
# 1.1-1.3; common practice, no source).
RATIO_RANGE = (1.0, 1.5)


class Surface(StrEnum):
    """Reference surface of an ET or of a Kc."""

    GRASS = "grass"
    ALFALFA = "alfalfa"


class SurfacesDiffer(ValueError):
    """A coefficient of one surface met an ET of the other, and no ratio between them is stated."""

    def __init__(self, message: Sentence) -> None:
        super().__init__(message)
        self.message = message


def kc_factor(kc_surface: Surface, et_surface: Surface, alfalfa_ratio: float | None) -> float:
    """Factor that turns a Kc of its surface into one for the ET at hand [-].

    Parameters
    ----------
    kc_surface, et_surface : Surface
    alfalfa_ratio : float or None
        Alfalfa-reference ET over grass-reference ET, as entered for the farm.

    Returns
    -------
    float
        1 where the surfaces agree; the ratio for an alfalfa Kc on grass ET; its inverse the
        other way.

    Raises
    ------
    SurfacesDiffer
        When they differ and no ratio is stated.
    ValueError
        When the ratio lies outside 1.0-1.5.
    """
    if kc_surface is et_surface:
        return 1.0
    if alfalfa_ratio is None:
        raise SurfacesDiffer(
            sentence(
                "the crop's Kc is for {kc_surface} ET but the ET is for {et_surface}; enter the "
                "farm's ratio of alfalfa to grass ET",
                kc_surface=kc_surface,
                et_surface=et_surface,
            )
        )
    if not RATIO_RANGE[0] <= alfalfa_ratio <= RATIO_RANGE[1]:
        raise ValueError("the ratio of alfalfa to grass ET must lie between 1.0 and 1.5")
    return alfalfa_ratio if kc_surface is Surface.ALFALFA else 1 / alfalfa_ratio
