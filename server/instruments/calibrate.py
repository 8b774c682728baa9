"""Calibration curves of channels: put in force from an instant, kept, undone."""

from dataclasses import dataclass
from datetime import datetime

from core.instrument.calibration import Calibration, CurveKind
from core.instrument.kinds import Quantity
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.instruments.models import Channel, ChannelCalibration, Instrument
from server.instruments.schemas import CalibrationOut

CALIBRATED = frozenset({Quantity.THETA, Quantity.COUNTS, Quantity.PERMITTIVITY})


@dataclass(frozen=True)
class Curve:
    """A curve to put in force: coefficients of the raw reading in its core unit."""

    kind: CurveKind
    coefficients: tuple[float, ...]
    raw_low: float | None = None
    raw_high: float | None = None
    rmse: float | None = None
    samples: tuple[dict[str, float], ...] = ()


def curves_out(row: Instrument) -> list[CalibrationOut]:
    """Every curve of an instrument, the newest first; calibrations should be prefetched."""
    curves = [k for c in row.channels.all() for k in c.calibrations.all()]
    return [
        CalibrationOut(
            id=k.pk,
            channel_id=k.channel_id,
            kind=CurveKind(k.kind),
            coefficients=k.coefficients,
            raw_low=k.raw_low,
            raw_high=k.raw_high,
            from_at=k.from_at,
            rmse=k.rmse,
            samples=len(k.samples),
            reason=k.reason,
            made_at=k.made_at,
            made_by=k.made_by.name if k.made_by else "",
            undone_at=k.undone_at,
            undone_by=k.undone_by.name if k.undone_by else "",
        )
        for k in sorted(curves, key=lambda k: (k.made_at, k.pk), reverse=True)
    ]


@acting(Action.SET_UP_GROUND)
def put_curve_in_force(
    access: Access,
    channels: list[Channel],
    curve: Curve,
    from_at: datetime | None,
    reason: str,
) -> list[ChannelCalibration]:
    """A curve for channels from an instant on; what was in force before stays on record.

    The caller has the readings judged again.

    Raises
    ------
    RequestError
        When a channel takes no curve, no reason is given, or the curve turns within its range.
    """
    problems = []
    if any(Quantity(c.quantity) not in CALIBRATED for c in channels):
        problems.append(
            Problem(
                field="channels", message=sentence("Tension readings need no calibration curve.")
            )
        )
    if not channels:
        problems.append(Problem(field="channels", message=sentence("Choose at least one depth.")))
    if not reason.strip():
        problems.append(Problem(field="reason", message=sentence("Enter the source of the curve.")))
    if Calibration(curve.coefficients, curve.raw_low, curve.raw_high).turns_within():
        problems.append(
            Problem(
                field="kind",
                message=sentence(
                    "The curve rises and falls within its readings: one water content would "
                    "have two. Choose a simpler curve or take more samples."
                ),
            )
        )
    if problems:
        raise RequestError(sentence("The curve was not applied."), tuple(problems))
    made = []
    for channel in channels:
        row = ChannelCalibration(
            channel=channel,
            kind=str(curve.kind),
            coefficients=list(curve.coefficients),
            raw_low=curve.raw_low,
            raw_high=curve.raw_high,
            rmse=curve.rmse,
            samples=list(curve.samples),
            from_at=from_at,
            reason=reason.strip()[:300],
            made_at=access.now(),
            made_by=access.user,
        )
        row.save()
        made.append(row)
        about = channel.instrument
        record(access, Done.CALIBRATION_APPLIED, about.label, thing=row.pk, block=about.block_id)
    return made


@acting(Action.SET_UP_GROUND, undoes=(Done.CALIBRATION_APPLIED,))
def undo_curve(access: Access, curve_id: int) -> ChannelCalibration:
    """Take a curve out of force; the one before it holds again. It stays on record."""
    row: ChannelCalibration | None = (
        ChannelCalibration.objects.for_farm(access.farm)
        .select_related("channel")
        .filter(pk=curve_id)
        .first()
    )
    if row is None:
        raise NotFound(sentence("There is no such curve on this farm."))
    if row.undone_at is None:
        row.undone_at, row.undone_by = access.now(), access.user
        row.save(update_fields=["undone_at", "undone_by"])
    return row
