"""The retention curve: tension to water content and back, in either of two families.

References
----------
.. [1] Saxton, K. E., Rawls, W. J. (2006), doi:10.2136/sssaj2005.0117, eq. 11-15.
.. [2] van Genuchten, M. Th. (1980), A closed-form equation for predicting the hydraulic
   conductivity of unsaturated soils, Soil Sci. Soc. Am. J. 44:892-898,
   doi:10.2136/sssaj1980.03615995004400050002x.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Self

import numpy as np

from core.arrays import ArrayLike, Bools, Floats

WILTING_TENSION_KPA = 1500.0
CM_PER_KPA = 10.197162  # head of water at standard gravity


@dataclass(frozen=True)
class RetentionCurve:
    """One curve per horizon; arrays of shape (horizons,).

    Power family [1]_: ``psi = a * theta**-b`` [kPa], carried on to ``theta_sat``.
    Van Genuchten [2]_: ``theta = theta_r + (theta_sat - theta_r) / (1 + (alpha psi)**n)**m``
    with ``m = 1 - 1/n``, ``alpha`` [1/kPa].
    Where ``is_power`` the fields of the other family are NaN, and the other way round.

    Notes
    -----
    The published power curve is a straight line wetter than 33 kPa. That line puts a sand at
    0.36 at 10 kPa, where it really holds about 0.12, so here the power branch is carried
    on to saturation instead.
    """

    is_power: Bools
    theta_sat: Floats
    a: Floats
    b: Floats
    theta_r: Floats
    alpha: Floats
    n: Floats

    @classmethod
    def through(
        cls,
        theta_full: ArrayLike,
        full_tension_kpa: ArrayLike,
        theta_wilt: ArrayLike,
        theta_sat: ArrayLike,
    ) -> Self:
        """Power curve through the full point at its tension and wilting at 1500 kPa [1]_.

        Parameters
        ----------
        theta_full, theta_wilt, theta_sat : array, shape (horizons,) [m3/m3]
        full_tension_kpa : array, shape (horizons,) [kPa]

        Raises
        ------
        ValueError
            Unless 0 < wilting < full <= saturation and the tension is below 1500 kPa.
        """
        full, tension, wilt, sat = np.broadcast_arrays(
            np.asarray(theta_full, float),
            np.asarray(full_tension_kpa, float),
            np.asarray(theta_wilt, float),
            np.asarray(theta_sat, float),
        )
        if not np.all((wilt > 0) & (wilt < full) & (full <= sat)):
            raise ValueError("limits must keep the order: 0 < wilting < full <= saturation")
        if not np.all((tension > 0) & (tension < WILTING_TENSION_KPA)):
            raise ValueError("the full point's tension must lie between 0 and 1500 kPa")
        b = (np.log(WILTING_TENSION_KPA) - np.log(tension)) / (np.log(full) - np.log(wilt))
        a = np.exp(np.log(tension) + b * np.log(full))
        none = np.full(full.shape, np.nan)
        return cls(np.ones(full.shape, bool), sat, a, b, none, none, none)

    @classmethod
    def van_genuchten(
        cls, theta_r: ArrayLike, theta_sat: ArrayLike, alpha_per_kpa: ArrayLike, n: ArrayLike
    ) -> Self:
        """Van Genuchten curve [2]_.

        Parameters
        ----------
        theta_r, theta_sat : array, shape (horizons,) [m3/m3]
        alpha_per_kpa : array, shape (horizons,) [1/kPa]
        n : array, shape (horizons,) [-]

        Raises
        ------
        ValueError
            Unless residual < saturated, alpha > 0 and n > 1.
        """
        r, sat, alpha, power = np.broadcast_arrays(
            np.asarray(theta_r, float),
            np.asarray(theta_sat, float),
            np.asarray(alpha_per_kpa, float),
            np.asarray(n, float),
        )
        if not np.all((r < sat) & (alpha > 0) & (power > 1)):
            raise ValueError("a van Genuchten curve needs residual < saturated, alpha > 0, n > 1")
        none = np.full(r.shape, np.nan)
        return cls(np.zeros(r.shape, bool), sat, none, none, r, alpha, power)

    @classmethod
    def stack(cls, curves: Sequence["RetentionCurve"]) -> Self:
        """Several single curves as one, a horizon each."""
        return cls(*(np.array([getattr(c, f) for c in curves]) for f in cls.__dataclass_fields__))

    @classmethod
    def joined(cls, curves: Sequence["RetentionCurve"]) -> Self:
        """The horizons of several profiles one after the other."""
        none = np.empty(0)
        return cls(
            np.concatenate([none.astype(bool), *(c.is_power for c in curves)]),
            *(
                np.concatenate([none, *(getattr(c, f) for c in curves)])
                for f in ("theta_sat", "a", "b", "theta_r", "alpha", "n")
            ),
        )

    def of(self, horizon: np.ndarray) -> Self:
        """The curves of given horizons; index array of any shape."""
        return type(self)(*(getattr(self, f)[horizon] for f in self.__dataclass_fields__))

    def theta_at(self, tension_kpa: ArrayLike) -> Floats:
        """Water content at a tension; array, broadcast with (horizons,) [m3/m3].

        Tensions at or below zero are saturated. NaN stays NaN.
        """
        tension = np.asarray(tension_kpa, float)
        suction = np.maximum(tension, 0)
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            power = np.minimum((self.a / suction) ** (1 / self.b), self.theta_sat)
            share = (1 + (self.alpha * suction) ** self.n) ** (1 / self.n - 1)
            curved = self.theta_r + (self.theta_sat - self.theta_r) * share
        theta = np.where(self.is_power, power, np.maximum(curved, 0.0))
        return np.where(np.isnan(tension), np.nan, theta)

    def tension_at(self, theta: ArrayLike) -> Floats:
        """Tension at a water content; array, broadcast with (horizons,) [kPa].

        Contents at or above saturation give the curve's value at saturation; a content at
        or below what the curve can dry to is infinitely dry. NaN stays NaN.
        """
        content = np.asarray(theta, float)
        bounded = np.minimum(np.maximum(content, 0), self.theta_sat)
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            power = self.a * bounded**-self.b
            share = np.clip((bounded - self.theta_r) / (self.theta_sat - self.theta_r), 0, 1)
            m = 1 - 1 / self.n
            curved = np.maximum(share ** (-1 / m) - 1, 0) ** (1 / self.n) / self.alpha
        return np.where(np.isnan(content), np.nan, np.where(self.is_power, power, curved))

    def anchored(self, theta_full: float, full_tension_kpa: float, theta_wilt: float) -> Self:
        """This shape, stretched to hold given limits at their tensions.

        Parameters
        ----------
        theta_full, theta_wilt : float [m3/m3]
            At ``full_tension_kpa`` [kPa] and at 1500 kPa.

        Returns
        -------
        RetentionCurve
            A power curve is drawn anew through the two points; a van Genuchten curve keeps
            alpha and n and has its residual and saturated content mapped linearly.
        """
        if bool(np.all(self.is_power)):
            sat = np.maximum(self.theta_sat, theta_full)
            return type(self).through(theta_full, full_tension_kpa, theta_wilt, sat)
        wet = self.theta_at(full_tension_kpa)
        dry = self.theta_at(WILTING_TENSION_KPA)
        scale = (theta_full - theta_wilt) / (wet - dry)
        return type(self).van_genuchten(
            theta_wilt + scale * (self.theta_r - dry),
            theta_wilt + scale * (self.theta_sat - dry),
            self.alpha,
            self.n,
        )
