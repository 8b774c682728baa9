"""Instruments in simulated fields: their own errors, and all that they have read."""

from enum import StrEnum

import numpy as np

from core.arrays import Floats
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.quality.flags import Flag
from core.soil.profile import Profile
from core.world.truths import Truth

# Errors of instruments: of the content between and within sensors, and of a tension.
THETA_BIAS, THETA_SLOPE, THETA_NOISE = 0.02, 0.05, 0.004
TENSION_NOISE, TENSION_KPA_NOISE = 0.03, 1.0
MATRIX_GAIN, MATRIX_FOLLOWS = 0.12, 0.63  # spread of gain; share followed in half a day
TENSIOMETER_ENDS_KPA, MATRIX_ENDS_KPA = 80.0, 200.0
# The sensor that fails, from when on, and how fast it drifts [m3/m3 per day].
FAILING, DRIFT_FROM_DAY, DRIFT_A_DAY = 2, 30, 0.002


class Instruments(StrEnum):
    """What a field is read by."""

    PROBE = "probe 10/30/50/80 cm"
    DEEPER_PROBE = "probe 20/40/60/80 cm"
    TENSIOMETERS = "three tensiometers"
    MATRIX = "three granular-matrix sensors"
    WEEKLY = "three tensiometers read once a week"
    FAILING_PROBE = "probe 10/30/50/80 cm, one sensor drifting"
    NONE = "no instrument"


DEPTHS: dict[Instruments, tuple[float, ...]] = {
    Instruments.PROBE: (100.0, 300.0, 500.0, 800.0),
    Instruments.DEEPER_PROBE: (200.0, 400.0, 600.0, 800.0),
    Instruments.TENSIOMETERS: (200.0, 400.0, 600.0),
    Instruments.MATRIX: (200.0, 400.0, 600.0),
    Instruments.WEEKLY: (200.0, 400.0, 600.0),
    Instruments.FAILING_PROBE: (100.0, 300.0, 500.0, 800.0),
    Instruments.NONE: (),
}
_KINDS: dict[Instruments, InstrumentKind] = {
    Instruments.PROBE: InstrumentKind.CAPACITANCE_PROBE,
    Instruments.DEEPER_PROBE: InstrumentKind.CAPACITANCE_PROBE,
    Instruments.TENSIOMETERS: InstrumentKind.TENSIOMETER,
    Instruments.MATRIX: InstrumentKind.GRANULAR_MATRIX,
    Instruments.WEEKLY: InstrumentKind.TENSIOMETER,
    Instruments.FAILING_PROBE: InstrumentKind.CAPACITANCE_PROBE,
    Instruments.NONE: InstrumentKind.CAPACITANCE_PROBE,
}


def content_errors(rng: np.random.Generator, shape: tuple[int, int]) -> tuple[Floats, Floats]:
    """Bias [m3/m3] and slope [-] of sensors of content, each (fields, sensors).

    Drawn before all else that a trial's instruments draw."""
    return rng.normal(0, THETA_BIAS, shape), np.exp(rng.normal(0, THETA_SLOPE, shape))


class Readings:
    """The instruments of all fields: their own errors, and all that they have read."""

    def __init__(self, of: Instruments, fields: int, seed: int) -> None:
        self.of, self.depth_mm = of, np.array(DEPTHS[of])
        self._rng = np.random.default_rng(seed)
        shape = (fields, self.depth_mm.size)
        self._bias, self._slope = content_errors(self._rng, shape)
        self._gain = np.exp(self._rng.normal(0, MATRIX_GAIN, shape))
        self._follows: Floats | None = None
        self.hours: list[float] = []
        self.values: list[Floats] = []

    def read(self, truth: Truth, hours: float, day: int, evening: bool) -> None:
        """Read all sensors of all fields; ``hours`` since the first midnight."""
        if not self.depth_mm.size:
            return
        value = self._value(truth)
        if self.of is Instruments.FAILING_PROBE:
            value[:, FAILING] += DRIFT_A_DAY * max(day - DRIFT_FROM_DAY, 0)
        if self.of is Instruments.WEEKLY and (evening or day % 7):
            return
        self.hours.append(hours)
        self.values.append(value)

    def _value(self, truth: Truth) -> Floats:
        rng, shape = self._rng, self._bias.shape
        if _KINDS[self.of] is InstrumentKind.CAPACITANCE_PROBE:
            theta = np.column_stack([truth.content_at(d) for d in self.depth_mm])
            return theta * self._slope + self._bias + rng.normal(0, THETA_NOISE, shape)
        tension = np.column_stack([truth.tension_at(d) for d in self.depth_mm])
        if self.of is Instruments.MATRIX:
            before = tension if self._follows is None else self._follows
            self._follows = before + MATRIX_FOLLOWS * (tension - before)
            tension = self._follows * self._gain
        noisy = tension * np.exp(rng.normal(0, TENSION_NOISE, shape))
        noisy = noisy + rng.normal(0, TENSION_KPA_NOISE, shape)
        return np.clip(noisy, 0.0, MATRIX_ENDS_KPA)

    def sites(self, row: int, profile: Profile, now_hours: float) -> tuple[Site, ...]:
        """One field's instrument as the application gets it."""
        if not self.hours:
            return ()
        value = np.array([v[row] for v in self.values])
        kind = _KINDS[self.of]
        over = (kind is InstrumentKind.TENSIOMETER) & (value > TENSIOMETER_ENDS_KPA)
        flag = np.where(over, int(Flag.RANGE), 0)
        hours = np.array(self.hours) - now_hours
        return (Site.from_readings("site", kind, self.depth_mm, hours, value, profile, flag=flag),)
