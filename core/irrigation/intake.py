"""Whether the soil takes the water in as fast as it comes, and pulses where it does not.

References
----------
.. [1] Brouwer, C. et al. (1988), Irrigation methods, FAO Irrigation Water Management Training
   Manual 5, table 7: basic infiltration rates by soil type (from memory).
"""

from dataclasses import dataclass
from math import ceil, inf

from core.soil.texture import TextureClass

# Basic intake rate [mm/h] by class: middle of the ranges of [1]_ for sand, sandy loam, loam,
# clay loam and clay; the classes between take their neighbours' (common practice, no source).
BASIC_INTAKE_MM_H: dict[TextureClass, float] = {
    TextureClass.SAND: 40.0,
    TextureClass.LOAMY_SAND: 30.0,
    TextureClass.SANDY_LOAM: 25.0,
    TextureClass.LOAM: 15.0,
    TextureClass.SILT_LOAM: 12.0,
    TextureClass.SILT: 10.0,
    TextureClass.SANDY_CLAY_LOAM: 12.0,
    TextureClass.CLAY_LOAM: 7.5,
    TextureClass.SILTY_CLAY_LOAM: 6.0,
    TextureClass.SANDY_CLAY: 5.0,
    TextureClass.SILTY_CLAY: 4.0,
    TextureClass.CLAY: 3.0,
}
# Water that stands in the hollows before it runs, by slope up to [percent] (surface storage
# tables for sprinkler machines, from memory).
STORAGE_MM = ((1.0, 12.7), (3.0, 7.6), (5.0, 2.5), (inf, 0.0))


@dataclass(frozen=True)
class IntakeCheck:
    """What becomes of water that falls at a rate.

    ``safe_mm`` is the largest depth at one go that does not run off [mm]; infinity when the
    soil keeps up. Pulses are only given where they help: hours on, hours of pause, how many.
    """

    intake_mm_h: float
    storage_mm: float
    runs_off: bool
    safe_mm: float
    pulses: int
    on_hours: float | None
    pause_hours: float | None


def surface_storage_mm(slope_percent: float) -> float:
    """Water that stands before it runs [mm].

    Raises
    ------
    ValueError
        When the slope is negative.
    """
    if slope_percent < 0:
        raise ValueError("a slope can't be negative")
    return next(store for upto, store in STORAGE_MM if slope_percent <= upto)


def check_intake(
    peak_rate_mm_h: float, gross_mm: float, intake_mm_h: float, slope_percent: float
) -> IntakeCheck:
    """Compare a rate with the soil's intake, and cut the set into pulses where it runs off.

    Parameters
    ----------
    peak_rate_mm_h : float [mm/h]
        Where the water falls.
    gross_mm : float [mm]
    intake_mm_h : float, above zero [mm/h]
    slope_percent : float [percent]

    Returns
    -------
    IntakeCheck
        Excess = (rate - intake) x time fills the hollows; the safe depth is
        ``storage / (1 - intake / rate)``, and a pause of ``storage / intake`` empties them.

    Raises
    ------
    ValueError
        When a rate is not above zero.
    """
    if peak_rate_mm_h <= 0 or intake_mm_h <= 0:
        raise ValueError("rate and intake must lie above zero")
    storage = surface_storage_mm(slope_percent)
    if peak_rate_mm_h <= intake_mm_h:
        return IntakeCheck(intake_mm_h, storage, False, inf, 1, None, None)
    safe = storage / (1 - intake_mm_h / peak_rate_mm_h)
    if gross_mm <= safe:
        return IntakeCheck(intake_mm_h, storage, False, safe, 1, None, None)
    if storage == 0:
        return IntakeCheck(intake_mm_h, storage, True, 0.0, 1, None, None)
    pulses = ceil(gross_mm / safe - 1e-9)
    return IntakeCheck(
        intake_mm_h,
        storage,
        True,
        safe,
        pulses,
        on_hours=gross_mm / pulses / peak_rate_mm_h,
        pause_hours=storage / intake_mm_h,
    )
