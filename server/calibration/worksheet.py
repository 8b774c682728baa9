"""The calibration worksheet: from typed masses to curves, their warnings, and a curve in force."""

from dataclasses import asdict, dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

import numpy as np
from django.db import transaction
from django.db.models import Max, Min

from core.instrument.calibration import CurveKind
from core.instrument.kinds import Quantity
from core.instrument.worksheet import (
    Fit,
    Sample,
    SampleProblem,
    Warnings,
    Weighed,
    coverage,
    fit,
    parameters,
    weigh,
    worksheet_warnings,
)
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.base.json_out import known
from server.blocks.limit_changes import timeline
from server.blocks.loading import Ground, blocks_of
from server.calibration.schemas import (
    AppliedOut,
    ApplyIn,
    FitOut,
    WeighedOut,
    WorksheetIn,
    WorksheetOut,
)
from server.farms.access import Access
from server.instruments.calibrate import CALIBRATED, Curve, put_curve_in_force, undo_curve
from server.instruments.models import Channel, Instrument
from server.readings.models import Reading
from server.readings.store import rejudge

LINE_POINTS = 60
DRY_THETA = 0.03


@dataclass(frozen=True)
class _Soil:
    """Of the depth a worksheet is for; None where it is not described or not known."""

    density: float | None
    theta_sat: float | None


@dataclass(frozen=True)
class _Sheet:
    samples: tuple[Sample, ...]
    weighed: Weighed
    channels: list[Channel]
    soil: _Soil
    fits: list[tuple[Fit, Warnings]]


def _soil_at(access: Access, instrument: Instrument, depth_mm: float | None) -> _Soil:
    """Measured density and pore space of the horizon at a depth, of the soil now in force."""
    block = blocks_of(access.farm, ("soils__soil__horizons",)).get(pk=instrument.block_id)
    soils = Ground().under(block, access.now().date())
    if not soils or depth_mm is None:
        return _Soil(None, None)
    profile = soils[-1].profile
    horizon = int(profile.horizon_at([depth_mm])[0])
    described = timeline(block.soils.all())[-1].soil.horizons.all()
    density = sorted(described, key=lambda h: h.top_mm)[horizon].bulk_density
    return _Soil(density, float(profile.theta_sat[horizon]))


def _families(quantity: Quantity, maker: list[float]) -> list[CurveKind]:
    kinds = [CurveKind.LINEAR, CurveKind.QUADRATIC, CurveKind.CUBIC]
    if quantity is Quantity.PERMITTIVITY:
        kinds.append(CurveKind.TOPP_FORM)
    if quantity is Quantity.THETA:
        kinds.insert(0, CurveKind.OFFSET)
    if maker:
        kinds.append(CurveKind.MAKER)
    return kinds


def _sheet(access: Access, instrument: Instrument, data: WorksheetIn) -> _Sheet:
    own_channels = {c.pk: c for c in instrument.channels.all()}
    problems = []
    if not data.channels or any(c not in own_channels for c in data.channels):
        problems.append(
            Problem(field="channels", message=sentence("Choose the depths that the curve is for."))
        )
    elif any(Quantity(own_channels[c].quantity) not in CALIBRATED for c in data.channels):
        problems.append(
            Problem(
                field="channels", message=sentence("Tension readings need no calibration curve.")
            )
        )
    samples = tuple(Sample(**s.model_dump()) for s in data.samples)
    values = np.array([[*asdict(s).values()] for s in samples], float).reshape(-1, 5)
    if not np.isfinite(values).all() or np.abs(values).max(initial=0.0) > 1e7:
        problems.append(
            Problem(
                field="samples", message=sentence("A figure is far outside the possible range.")
            )
        )
    if problems:
        raise RequestError(sentence("The worksheet can't be calculated."), tuple(problems))
    try:
        weighed = weigh(samples)
    except SampleProblem as problem:
        raise RequestError(
            sentence("The worksheet can't be calculated."),
            (Problem(field=f"samples.{problem.row}.{problem.field}", message=problem.message),),
        ) from None
    channels = [own_channels[c] for c in data.channels]
    soil = _soil_at(access, instrument, channels[0].depth_mm)
    raw = np.array([s.raw for s in samples], float)
    found = []
    for kind in _families(Quantity(channels[0].quantity), data.maker):
        made = fit(kind, raw, weighed.theta, data.maker)
        if made is not None:
            warned = worksheet_warnings(
                weighed, made, soil.density, soil.theta_sat, data.organic_percent, data.dried_c
            )
            found.append((made, warned))
    return _Sheet(samples, weighed, channels, soil, found)


def _best(fits: list[tuple[Fit, Warnings]]) -> CurveKind | None:
    """The family that errs least on what it has not seen; of two alike the simpler one."""
    able = [
        (round(f.left_out, 4), parameters(f.kind), f.kind)
        for f, warned in fits
        if np.isfinite(f.left_out)
        and f.kind is not CurveKind.MAKER
        and not f.calibration.turns_within()
    ]
    return min(able)[2] if able else None


def _fit_out(found: Fit, warned: Warnings) -> FitOut:
    low, high = found.calibration.raw_low or 0.0, found.calibration.raw_high or 0.0
    line = np.linspace(low, high, LINE_POINTS)
    return FitOut(
        kind=found.kind,
        coefficients=list(found.calibration.coefficients),
        rmse=found.rmse,
        left_out=known(found.left_out),
        residual=found.residual.tolist(),
        line_raw=line.tolist(),
        line_theta=found.calibration.theta(line).tolist(),
        grave=list(warned.grave),
        warnings=list(warned.others),
    )


def work_out(access: Access, instrument: Instrument, data: WorksheetIn) -> WorksheetOut:
    """Water contents of the samples and every curve that they can fix.

    Raises
    ------
    RequestError
        With the sample and the field to mend.
    """
    sheet = _sheet(access, instrument, data)
    weighed, sat = sheet.weighed, sheet.soil.theta_sat
    return WorksheetOut(
        weighed=[
            WeighedOut(gravimetric=w, bulk_density=d, theta=t)
            for w, d, t in zip(
                weighed.gravimetric.tolist(),
                weighed.bulk_density.tolist(),
                weighed.theta.tolist(),
                strict=True,
            )
        ],
        coverage=None if sat is None else coverage(weighed.theta, DRY_THETA, sat),
        field_density=sheet.soil.density,
        fits=[_fit_out(f, warned) for f, warned in sheet.fits],
        best=_best(sheet.fits),
    )


def apply(access: Access, instrument: Instrument, data: ApplyIn) -> AppliedOut:
    """Put the chosen curve in force from an instant on, and judge what follows again.

    Raises
    ------
    RequestError
        On grave warnings, unless the person insists.
    """
    sheet = _sheet(access, instrument, data)
    chosen = next(((f, warned) for f, warned in sheet.fits if f.kind is data.kind), None)
    if chosen is None:
        raise RequestError(
            sentence("The curve was not applied."),
            (Problem(field="kind", message=sentence("The samples do not determine this curve.")),),
        )
    found, warned = chosen
    if warned.grave and not data.insist:
        raise RequestError(
            sentence("The curve was not applied."),
            tuple(Problem(field="insist", message=word) for word in warned.grave),
        )
    zone = ZoneInfo(access.farm.time_zone)
    from_at = data.from_at
    if from_at is not None and from_at.tzinfo is None:
        from_at = from_at.replace(tzinfo=zone)
    curve = Curve(
        kind=found.kind,
        coefficients=found.calibration.coefficients,
        raw_low=found.calibration.raw_low,
        raw_high=found.calibration.raw_high,
        rmse=found.rmse,
        samples=tuple(asdict(s) for s in sheet.samples),
    )
    with transaction.atomic():
        made = put_curve_in_force(access, sheet.channels, curve, from_at, data.reason)
        judged = _judge_again([c.pk for c in sheet.channels], from_at)
    return AppliedOut(curves=[m.pk for m in made], judged=judged)


def undo_applied(access: Access, curve_id: int) -> AppliedOut:
    """Take a curve out of force and judge again what it touched."""
    with transaction.atomic():
        row = undo_curve(access, curve_id)
        judged = _judge_again([row.channel_id], row.from_at)
    return AppliedOut(curves=[row.pk], judged=judged)


def _judge_again(channels: list[int], since: datetime | None) -> int:
    stretch = Reading.unscoped.filter(channel__in=channels).aggregate(
        first=Min("time"), last=Max("time")
    )
    if stretch["first"] is None:
        return 0
    first = max(stretch["first"], since) if since else stretch["first"]
    return rejudge(channels, first, stretch["last"]) if first <= stretch["last"] else 0
