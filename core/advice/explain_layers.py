"""The layer table of the working: each sensor's reading, and the water it stands for."""

import numpy as np

from core.advice.explain_limits import curve_formula
from core.advice.inputs import BlockInputs
from core.advice.working import LayerRow, Term, Unit
from core.instrument.kinds import Quantity, kinds
from core.instrument.site import Site
from core.instrument.trust import Doubt
from core.soil.profile import Profile
from core.soil.profiles import Profiles
from core.soil.retention import WILTING_TENSION_KPA
from core.store.by_tension import equal_tension, held_alike
from core.store.deficit import layer_parts

_WILT = f"{WILTING_TENSION_KPA:.0f}"
EQUAL_FORMULA = f"f2 * ({_WILT} / f2) ** (ln(psi1 / f1) / ln({_WILT} / f1))"


def _doubted_row(inputs: BlockInputs, site: Site, sensor: int) -> LayerRow:
    """A sensor that was not used: what it last said, and why it is not believed."""
    h = int(site.horizon[sensor])
    row = int(site.newest[sensor])
    read = row >= 0
    return LayerRow(
        site=site.label,
        depth_mm=float(site.depth_mm[sensor]),
        hours=float(site.hours[row]) if read else None,
        value=float(site.value[row, sensor]) if read else None,
        is_tension=kinds()[site.kind].quantity is Quantity.TENSION,
        doubt=str(site.doubt[row, sensor]) if read else str(Doubt.MISSING),
        curve_formula="",
        curve=(),
        gravel=float(inputs.assumed.profile.gravel[h]),
        equal_formula="",
        equal=(),
        equal_kpa=None,
        theta=None,
        horizon=str(inputs.assumed.profile.limits[h].texture),
        top_mm=None,
        bottom_mm=None,
        theta_full=float(inputs.assumed.profile.theta_full[h]),
        theta_wilt=float(inputs.assumed.profile.theta_wilt[h]),
        available_mm=None,
        fraction=None,
        deficit_mm=None,
        surplus_mm=None,
        watered=inputs.assumed.wetted_share,
    )


def _across(
    profile: Profile, own: int, other: int, share: float
) -> tuple[tuple[Term, ...], float | None, float | None]:
    """A horizon by the tension of a sensor in another one: the terms of `EQUAL_FORMULA`, the
    tension that comes of them [kPa] and the water content there; none at full and at wilting."""
    if not 0 < share < 1:
        return (), None, None
    at = np.zeros(1, int)
    both = equal_tension(
        Profiles.of([profile]), np.array([[share]]), at, np.array([own]), np.array([other])
    )
    here, there = (str(profile.limits[h].texture) for h in (own, other))
    terms = (
        Term("psi1", float(both.own_kpa[0, 0]), Unit.TENSION_KPA, f"where the sensor is, {here}"),
        Term("f1", float(both.own_full_kpa[0, 0]), Unit.TENSION_KPA, f"full, {here}"),
        Term("f2", float(both.other_full_kpa[0, 0]), Unit.TENSION_KPA, f"full, {there}"),
    )
    limit, psi = profile.limits[other], float(both.other_kpa[0, 0])
    return terms, psi, float(limit.curve.theta_at(psi)) * (1 - limit.gravel)


def _site_rows(inputs: BlockInputs, site: Site, root_mm: float) -> list[LayerRow]:
    profile, share = inputs.assumed.profile, inputs.assumed.wetted_share
    theta, hour = site.latest()
    used = site.believed
    rows = [_doubted_row(inputs, site, int(j)) for j in np.flatnonzero(~used)]
    if used.any():
        parts = layer_parts(profile, site.depth_mm[used], theta[used], root_mm)
        tension = kinds()[site.kind].quantity is Quantity.TENSION
        kind = held_alike(Profiles.of([profile]))[0]
        for i, j in enumerate(np.flatnonzero(used)):
            own = int(site.horizon[j])
            for h in np.flatnonzero(parts.thick_mm[i] > 0).tolist():
                limit, left = profile.limits[h], float(parts.fraction[i, h])
                alike = kind[h] == kind[own]
                equal, psi, there = (
                    ((), None, float(theta[j]))
                    if alike
                    else _across(profile, own, h, float(parts.fraction[i, own]))
                )
                by_curve = (tension and alike) or bool(equal)
                source = f"{limit.shape} curve, {limit.texture}"
                formula, terms = curve_formula(limit.curve, source) if by_curve else ("", ())
                rows.append(
                    LayerRow(
                        site=site.label,
                        depth_mm=float(site.depth_mm[j]),
                        hours=float(hour[j]),
                        value=float(site.value[site.newest[j], j]),
                        is_tension=tension,
                        doubt="",
                        curve_formula=formula,
                        curve=terms,
                        gravel=float(profile.gravel[h]),
                        equal_formula=EQUAL_FORMULA if equal else "",
                        equal=equal,
                        equal_kpa=psi,
                        theta=there,
                        horizon=str(profile.limits[h].texture),
                        top_mm=float(parts.top_mm[i, h]),
                        bottom_mm=float(parts.bottom_mm[i, h]),
                        theta_full=float(profile.theta_full[h]),
                        theta_wilt=float(profile.theta_wilt[h]),
                        available_mm=float(parts.available_mm[i, h]) * share,
                        fraction=left,
                        deficit_mm=float(parts.deficit_mm[i, h]) * share,
                        surplus_mm=float(parts.surplus_mm[i, h]) * share,
                        watered=share,
                    )
                )
    return sorted(rows, key=lambda r: (r.depth_mm, r.top_mm or 0.0))


def layer_rows(inputs: BlockInputs, root_mm: float) -> tuple[LayerRow, ...]:
    """Every sensor of every site, shallow to deep; a layer that crosses horizons has a row each.

    A sensor below the roots has no part in the deficit and so no row, unless it is doubted. Where a
    layer reaches into another horizon its row has the water content that goes with the sensor's
    tension there, see `core.store.by_tension`.
    """
    return tuple(row for site in inputs.sites for row in _site_rows(inputs, site, root_mm))
