"""The demo's instruments: serials, sites, their logs, and the scout's way past them."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.life import LogKind
from server.accounts.demo_people import PEOPLE
from server.accounts.models import User
from server.demo.farm import FIRST_DAY, NOW, ZONE
from server.farms.models import Farm, Role
from server.fieldwork.models import Round, RoundStop
from server.instruments.models import Instrument, InstrumentEvent

# Instrument: serial, site, days before now of each refill or look, walking order.
LIVES: dict[str, tuple[str, str, tuple[float, ...], float]] = {
    "Probe A1": ("CP-2207", "row 14 from the lane, 60 m in", (12,), 1),
    "Probe L1": ("CP-2204", "span 5, outside the gravel tongue", (20,), 6),
    "Probe Q1": ("CP-2198", "fourth bed, 80 m from the gate", (41,), 2),
    "Matrix sensors S1": ("", "second border, a third down from the head ditch", (16,), 8),
    "Probe U1": ("CP-2215", "tree 9 of row 6, edge of the wetted ring", (9,), 9),
    "Tensiometers U2": ("", "tree 9 of row 6, opposite the probe", (1, 4, 11, 18, 40), 10),
    "Matrix sensors W1": ("", "post 22, upper terrace", (25,), 11),
    "Matrix sensors M1": ("", "bed 7, 50 m from the track", (33,), 4),
    "Probe I1": ("CP-2190", "by the marker stone, sixty paces from the belt", (6,), 7),
    "Probe G1": ("CP-2221", "row 3, middle of the piece", (19,), 5),
    "Tensiometers T1": ("", "bed 12, south half", (1, 4, 8, 11, 15, 27), 3),
    "Tube R1": ("", "two metres from the north bund, by the inlet path", (13,), 12),
    "Tube R2": ("", "two metres from the east bund", (13,), 13),
    "Tube O1": ("", "by the outlet board, a metre and a half from the bund", (13,), 14),
}
PROOF = {
    InstrumentKind.CAPACITANCE_PROBE: 0.24,
    InstrumentKind.GRANULAR_MATRIX: 2.0,
    InstrumentKind.TENSIOMETER: 1.0,
    InstrumentKind.RICE_TUBE: 1.0,
}


def _at(days_ago: float) -> datetime:
    return NOW - timedelta(days=days_ago)


def give_life(instrument: Instrument) -> None:
    """Serial, site and log of one of the demo's instruments."""
    serial, site, visits, order = LIVES[instrument.label]
    instrument.serial, instrument.site, instrument.walk_order = serial, site, order
    instrument.save()
    kind = InstrumentKind(instrument.kind)
    facts = kinds()[kind]
    people = {r: User.objects.get(email=PEOPLE[r][1]) for r in (Role.ADVISER, Role.SCOUT)}
    start = datetime(FIRST_DAY.year, FIRST_DAY.month, FIRST_DAY.day, 9, tzinfo=ZoneInfo(ZONE))

    def write(entry: LogKind, at: datetime, who: Role, **more: object) -> None:
        InstrumentEvent(
            instrument=instrument, kind=str(entry), at=at, made_by=people[who], **more
        ).save()

    write(LogKind.PREPARED, start - timedelta(days=4), Role.ADVISER, done=list(facts.install[:2]))
    write(
        LogKind.INSTALLED,
        start - timedelta(days=2),
        Role.ADVISER,
        done=list(facts.install),
        proof=PROOF[kind],
        passed=True,
    )
    for days in visits:
        # A hurried visit does the first thing only.
        tasks = facts.tasks if days > 8 else facts.tasks[:1]
        write(LogKind.SERVICED, _at(days), Role.SCOUT, done=[t.key for t in tasks])


def make_rounds(farm: Farm) -> None:
    """The scout's two walks."""
    placed = sorted(LIVES, key=lambda label: LIVES[label][3])
    by_label = {i.label: i for i in Instrument.objects.for_farm(farm)}
    walks = {
        "Monday and Thursday": ([x for x in placed if x.startswith("Tensiometers")], 3),
        "Whole farm": (placed, 30),
    }
    for name, (labels, every) in walks.items():
        walk = Round(farm=farm, name=name, every_days=every)
        walk.save()
        for place, label in enumerate(labels):
            RoundStop(round=walk, instrument=by_label[label], place=place).save()
