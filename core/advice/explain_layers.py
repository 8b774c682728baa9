"""The layer table of the working: each sensor's reading, and the water it stands for."""

import numpy as np

from core.advice.explain_limits import curve_formula
from core.advice.inputs import BlockInputs
from core.advice.working import LayerRow
from core.instrument.kinds import Quantity, kinds
from core.instrument.site import Site
from core.instrument.trust import Doubt
from core.store.deficit import layer_parts


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


def _site_rows(inputs: BlockInputs, site: Site, root_mm: float) -> list[LayerRow]:
    profile, share = inputs.assumed.profile, inputs.assumed.wetted_share
    theta, hour = site.latest()
    used = site.believed
    rows = [_doubted_row(inputs, site, int(j)) for j in np.flatnonzero(~used)]
    if used.any():
        parts = layer_parts(profile, site.depth_mm[used], theta[used], root_mm)
        tension = kinds()[site.kind].quantity is Quantity.TENSION
        for i, j in enumerate(np.flatnonzero(used)):
            own = int(site.horizon[j])
            limit = profile.limits[own]
            said = f"{limit.shape} curve, {limit.texture}"
            formula, terms = curve_formula(limit.curve, said) if tension else ("", ())
            for h in np.flatnonzero(parts.thick_mm[i] > 0):
                rows.append(
                    LayerRow(
                        site=site.label,
                        depth_mm=float(site.depth_mm[j]),
                        hours=float(hour[j]),
                        value=float(site.value[site.newest[j], j]),
                        is_tension=tension,
                        doubt="",
                        curve_formula=formula if h == own else "",
                        curve=terms if h == own else (),
                        gravel=float(profile.gravel[own]),
                        theta=float(theta[j]) if h == own else None,
                        horizon=str(profile.limits[h].texture),
                        top_mm=float(parts.top_mm[i, h]),
                        bottom_mm=float(parts.bottom_mm[i, h]),
                        theta_full=float(profile.theta_full[h]),
                        theta_wilt=float(profile.theta_wilt[h]),
                        available_mm=float(parts.available_mm[i, h]) * share,
                        fraction=float(parts.fraction[i, h]),
                        deficit_mm=float(parts.deficit_mm[i, h]) * share,
                        surplus_mm=float(parts.surplus_mm[i, h]) * share,
                        watered=share,
                    )
                )
    return sorted(rows, key=lambda r: (r.depth_mm, r.top_mm or 0.0))


def layer_rows(inputs: BlockInputs, root_mm: float) -> tuple[LayerRow, ...]:
    """Every sensor of every site, shallow to deep; a layer that crosses horizons has a row each.

    A sensor below the roots has no part in the deficit and so no row, unless it is doubted. Where a
    layer reaches into another horizon its row has no water content but the share left that goes
    with the sensor's tension, see `core.store.by_tension`.
    """
    return tuple(row for site in inputs.sites for row in _site_rows(inputs, site, root_mm))
