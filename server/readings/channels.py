"""What is known of channels when their readings are judged: kept between batches."""

from dataclasses import dataclass
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import numpy as np
from django.db import connection

from core.arrays import Floats
from core.instrument.calibration import Calibration, topp_theta
from core.instrument.granular_matrix import granular_matrix_kpa
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.limits.by_day import DatedSoil
from core.quality.judge import Sensors
from server.blocks.loading import Ground
from server.blocks.models import Block
from server.instruments.models import ChannelCalibration

THETA_QUANTITIES = frozenset({Quantity.THETA, Quantity.COUNTS, Quantity.PERMITTIVITY})
TENSION_QUANTITIES = frozenset({Quantity.TENSION, Quantity.RESISTANCE})
SOIL_C_RANGE = (-30.0, 60.0)

# The stamp changes whenever the soil under the block or the channel's curves do.
_QUERY = """
SELECT c.id, c.quantity, c.depth_mm, i.id, i.kind, i.block_id, b.farm_id, f.time_zone,
    (SELECT count(*) || coalesce(max(s.made_at)::text, '') || coalesce(max(s.undone_at)::text, '')
     FROM limits_blocksoil s WHERE s.block_id = i.block_id)
    || '/' ||
    (SELECT count(*) || coalesce(max(k.made_at)::text, '') || coalesce(max(k.undone_at)::text, '')
     FROM instruments_channelcalibration k WHERE k.channel_id = c.id)
FROM instruments_channel c
JOIN instruments_instrument i ON i.id = c.instrument_id
JOIN blocks_block b ON b.id = i.block_id
JOIN farms_farm f ON f.id = b.farm_id
WHERE c.id = ANY(%s)
ORDER BY c.id
"""


def meaning(quantity: Quantity) -> Quantity:
    """What readings of a quantity mean once their curve is applied."""
    if quantity in THETA_QUANTITIES:
        return Quantity.THETA
    return Quantity.TENSION if quantity is Quantity.RESISTANCE else quantity


@dataclass(frozen=True)
class DatedCalibration:
    """A curve in force from an instant on [epoch seconds]; -inf: since ever."""

    from_s: float
    curve: Calibration


@dataclass(frozen=True)
class _Known:
    stamp: str
    theta_sat: float
    calibrations: tuple[DatedCalibration, ...]


_known: dict[int, _Known] = {}


@dataclass(frozen=True)
class ChannelFacts:
    """Channels by rising id, and the same as arrays for the rules."""

    ids: np.ndarray
    quantity: tuple[Quantity, ...]
    depth_mm: Floats
    instrument_id: np.ndarray
    block_id: np.ndarray
    farm_id: np.ndarray
    zone: ZoneInfo
    calibrations: tuple[tuple[DatedCalibration, ...], ...]
    sensors: Sensors

    def derived(self, channel: np.ndarray, time_s: Floats, raw: Floats, soil_c: Floats) -> Floats:
        """What raw readings mean [m3/m3, kPa, or the core unit of the quantity].

        Parameters
        ----------
        channel : array of int, shape (readings,), index into the channels
        time_s : array, shape (readings,) [epoch seconds]
        raw : array, shape (readings,), in the core unit of what the channel writes down
        soil_c : array, shape (readings,) [degrees C], NaN where unknown

        Returns
        -------
        array, shape (readings,)
            NaN where no curve is known, or the reading is none.
        """
        out = raw.copy()
        for k in np.unique(channel):
            quantity, curves = self.quantity[k], self.calibrations[k]
            if quantity is Quantity.RESISTANCE:
                rows = np.flatnonzero(channel == k)
                out[rows] = granular_matrix_kpa(raw[rows], soil_c[rows])
            elif quantity in THETA_QUANTITIES and (curves or quantity is not Quantity.THETA):
                rows = np.flatnonzero(channel == k)
                out[rows] = _calibrated(quantity, curves, time_s[rows], raw[rows])
        return out


def _calibrated(
    quantity: Quantity, curves: tuple[DatedCalibration, ...], time_s: Floats, raw: Floats
) -> Floats:
    """Raw readings of one channel through the curve of their day."""
    if quantity is Quantity.PERMITTIVITY:
        out = topp_theta(raw)
    elif quantity is Quantity.COUNTS:
        out = np.full(raw.shape, np.nan)
    else:
        out = raw.copy()
    # Made later and in force from its instant on: the last that applies wins.
    for dated in curves:
        after = time_s >= dated.from_s
        out[after] = dated.curve.theta(raw[after])
    return out


def _theta_sat(soils: tuple[DatedSoil, ...], depth_mm: float | None) -> float:
    if not soils or depth_mm is None:
        return float("nan")
    profile = soils[-1].profile
    return float(profile.theta_sat[profile.horizon_at([depth_mm])[0]])


def _learn(rows: list[tuple[int, float | None, int, str]]) -> None:
    """Load soil and curves of channels, given as (id, depth, block, stamp)."""
    blocks = (
        Block.unscoped.filter(pk__in={r[2] for r in rows})
        .defer("outline")
        .prefetch_related("soils__soil__horizons")
    )
    ground, today = Ground(), datetime.now(UTC).date()
    soils = {b.pk: ground.under(b, today) for b in blocks}
    curves: dict[int, list[DatedCalibration]] = {}
    for c in ChannelCalibration.unscoped.filter(
        channel__in=[r[0] for r in rows], undone_at=None
    ).order_by("made_at", "pk"):
        start = float("-inf") if c.from_at is None else c.from_at.timestamp()
        curve = Calibration(tuple(c.coefficients), c.raw_low, c.raw_high)
        curves.setdefault(c.channel_id, []).append(DatedCalibration(start, curve))
    for channel, depth, block, stamp in rows:
        _known[channel] = _Known(
            stamp, _theta_sat(soils.get(block, ()), depth), tuple(curves.get(channel, ()))
        )


def channel_facts(channel_ids: np.ndarray) -> ChannelFacts:
    """Facts of channels of one farm; soil and curves are loaded anew only when they changed."""
    with connection.cursor() as cursor:
        cursor.execute(_QUERY, [[int(c) for c in channel_ids]])
        rows = cursor.fetchall()
    unknown = [
        (r[0], r[2], r[5], r[8]) for r in rows if r[0] not in _known or _known[r[0]].stamp != r[8]
    ]
    if unknown:
        _learn(unknown)
    quantity = tuple(Quantity(r[1]) for r in rows)
    kind = [InstrumentKind(r[4]) for r in rows]
    _, instrument = np.unique([r[3] for r in rows], return_inverse=True)
    blocks, block = np.unique([r[5] for r in rows], return_inverse=True)
    depth = np.array([np.nan if r[2] is None else r[2] for r in rows], float)
    ranges = [
        SOIL_C_RANGE if q is Quantity.TEMPERATURE else (kinds()[k].low, kinds()[k].high)
        for q, k in zip(quantity, kind, strict=True)
    ]
    return ChannelFacts(
        ids=np.array([r[0] for r in rows], np.int64),
        quantity=quantity,
        depth_mm=depth,
        instrument_id=np.array([r[3] for r in rows], np.int64),
        block_id=blocks[block] if rows else np.empty(0, np.int64),
        farm_id=np.array([r[6] for r in rows], np.int64),
        zone=ZoneInfo(rows[0][7]) if rows else ZoneInfo("UTC"),
        calibrations=tuple(_known[r[0]].calibrations for r in rows),
        sensors=Sensors(
            instrument=np.asarray(instrument, np.int64),
            block=np.asarray(block, np.int64),
            is_theta=np.array([q in THETA_QUANTITIES for q in quantity], bool),
            is_tension=np.array([q in TENSION_QUANTITIES for q in quantity], bool),
            is_tensiometer=np.array(
                [
                    k is InstrumentKind.TENSIOMETER and q is Quantity.TENSION
                    for k, q in zip(kind, quantity, strict=True)
                ],
                bool,
            ),
            low=np.array([r[0] for r in ranges], float),
            high=np.array([r[1] for r in ranges], float),
            theta_sat=np.array([_known[r[0]].theta_sat for r in rows], float),
            depth_mm=depth,
        ),
    )
