"""Controllers in the field, their valves, what was asked of them and what became of it.

Moments are the farm's, but for those by which machines are heard or asked, which pass at the pace
of the network: `heard_at`, `told_at` and `expires_at` are real ones.
"""

import uuid
from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from core.valves.flow_check import FlowFault
from server.blocks.models import Block
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.water.models import Irrigation

# What machines tell of themselves every few seconds: no change of how they were set up.
TOLD_OF_CONTROLLER = ["heard_at", "boot", "event_seen", "longest_s", "contact_s", "stopped"]
TOLD_OF_VALVE = [
    "is_open",
    "since_s",
    "flow_ls",
    "volume_m3",
    "closes_in_s",
    "locked_out",
    "told_at",
]
# Before a controller has told how long it waits without contact.
CONTACT_S = 120.0


class ValveControl(FarmOwned):
    """Whether a farm opens valves from afar, and its emergency stop. No row: it does not."""

    touches = None

    farm = models.OneToOneField(Farm, on_delete=models.CASCADE, related_name="valve_control")
    on = models.BooleanField(default=False)
    stopped_at = models.DateTimeField(null=True)
    stopped_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    history = HistoricalRecords()

    def __str__(self) -> str:
        return f"{self.farm}: {'on' if self.on else 'off'}"


class ValveController(FarmOwned):
    """A box in the field that opens valves; of its token only the SHA-256 is kept.

    ``boot`` names its last start, ``event_seen`` the last of its events since then that was taken.
    ``longest_s`` is the longest run that it allows and ``contact_s`` how long it leaves a valve
    open without contact [s], as it told; ``stopped`` whether it told that it is.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="valve_controllers")
    name = models.CharField(max_length=80)
    simulated = models.BooleanField(default=False)
    token_sha256 = models.CharField(max_length=64, unique=True)
    token_hint = models.CharField(max_length=8)
    revoked_at = models.DateTimeField(null=True)
    heard_at = models.DateTimeField(null=True)
    boot = models.CharField(max_length=40, blank=True)
    event_seen = models.PositiveBigIntegerField(default=0)
    longest_s = models.FloatField(null=True)
    contact_s = models.FloatField(default=CONTACT_S)
    stopped = models.BooleanField(default=False)

    history = HistoricalRecords(excluded_fields=TOLD_OF_CONTROLLER)

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("farm", Lower("name"), name="valve_controller_name_once")
        ]

    def __str__(self) -> str:
        return self.name


class Valve(FarmOwned):
    """A valve by its number on its controller, the block behind it and the flow it should have.

    What the controller told last: ``is_open`` (null while it has not told) for ``since_s``, flow
    and the volume of this run [L/s, m3] where it has a meter, and in how long it closes [s].
    """

    farm_path = "controller__farm"
    touches = None

    controller = models.ForeignKey(ValveController, on_delete=models.CASCADE, related_name="valves")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=80)
    block = models.ForeignKey(Block, on_delete=models.SET_NULL, null=True, related_name="valves")
    expected_ls = models.FloatField(null=True)
    is_open = models.BooleanField(null=True)
    since_s = models.FloatField(null=True)
    flow_ls = models.FloatField(null=True)
    volume_m3 = models.FloatField(null=True)
    closes_in_s = models.FloatField(null=True)
    locked_out = models.BooleanField(default=False)
    told_at = models.DateTimeField(null=True)

    history = HistoricalRecords(excluded_fields=TOLD_OF_VALVE)

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["controller", "number"], name="valve_number_once"),
            models.CheckConstraint(
                condition=models.Q(expected_ls__isnull=True) | models.Q(expected_ls__gt=0),
                name="valve_expects_water",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class CommandKind(models.TextChoices):
    """What is asked of a valve."""

    OPEN = "open"
    CLOSE = "close"


class CommandState(models.TextChoices):
    """How far a command is: an opening is prepared, and waits to be sent once it is confirmed."""

    PREPARED = "prepared"
    WAITING = "waiting"
    DONE = "done"
    REFUSED = "refused"
    EXPIRED = "expired"


class ValveCommand(FarmOwned):
    """What a person asked of a valve. After ``expires_at`` it is not sent, nor done, any more."""

    farm_path = "valve__controller__farm"
    touches = None

    key = models.UUIDField(default=uuid.uuid4, unique=True)
    valve = models.ForeignKey(Valve, on_delete=models.CASCADE, related_name="commands")
    kind = models.CharField(max_length=5, choices=CommandKind)
    state = models.CharField(max_length=8, choices=CommandState)
    run_s = models.FloatField(null=True)
    irrigation = models.ForeignKey(
        Irrigation, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    asked_at = models.DateTimeField()
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    expires_at = models.DateTimeField()

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [models.Index(fields=["state", "valve"])]
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(kind="close", run_s__isnull=True)
                | models.Q(kind="open", run_s__gt=0),
                name="opening_has_a_time",
            )
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.valve}, {self.state}"


class EndedBy(models.TextChoices):
    """Why a valve closed."""

    COMMAND = "command"
    RUN_TIME = "run_time"
    CONTACT_LOST = "contact_lost"
    LOCKED_OUT = "locked_out"
    STOPPED = "stopped"
    RESTART = "restart"


class ValveRun(FarmOwned):
    """A valve open from when to when, on whose command, and the irrigation it became in the log."""

    farm_path = "valve__controller__farm"
    touches = None

    valve = models.ForeignKey(Valve, on_delete=models.CASCADE, related_name="runs")
    command = models.OneToOneField(ValveCommand, on_delete=models.CASCADE, related_name="run")
    irrigation = models.ForeignKey(
        Irrigation, on_delete=models.SET_NULL, null=True, related_name="valve_runs"
    )
    opened_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True)
    ended_by = models.CharField(max_length=12, choices=EndedBy, blank=True)
    volume_m3 = models.FloatField(null=True)
    logged = models.BooleanField(default=False)

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(closed_at__isnull=True, ended_by="")
                | models.Q(closed_at__gte=models.F("opened_at"), ended_by__gt=""),
                name="valve_run_ends_for_a_reason",
            ),
            models.UniqueConstraint(
                fields=["valve"],
                condition=models.Q(closed_at__isnull=True),
                name="valve_runs_once_at_a_time",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.valve} from {self.opened_at:%Y-%m-%d %H:%M}"


class ValveAlarm(FarmOwned):
    """Something wrong with the water at a valve; it stands until somebody has looked at it."""

    farm_path = "valve__controller__farm"
    touches = None

    valve = models.ForeignKey(Valve, on_delete=models.CASCADE, related_name="alarms")
    fault = models.CharField(max_length=12, choices=[(str(f), str(f)) for f in FlowFault])
    flow_ls = models.FloatField()
    began_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    confirmed_at = models.DateTimeField(null=True)
    confirmed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(
                fields=["valve", "fault"],
                condition=models.Q(ended_at__isnull=True),
                name="valve_alarm_once_at_a_time",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.fault} at {self.valve}"


class EntryKind(models.TextChoices):
    """What the valve record tells."""

    OPENING_CONFIRMED = "opening_confirmed"
    OPENED = "opened"
    OPENING_REFUSED = "opening_refused"
    OPENING_EXPIRED = "opening_expired"
    CLOSING_ASKED = "closing_asked"
    CLOSED = "closed"
    LOCKED_OUT = "locked_out"
    LOCK_REMOVED = "lock_removed"
    EMERGENCY_STOP = "emergency_stop"
    STOP_RELEASED = "stop_released"
    CONTROLLER_RESTARTED = "controller_restarted"
    CONTACT_LOST = "contact_lost"
    ALARM = "alarm"


class ValveEntry(FarmOwned):
    """A line of the valve record: every command, and everything a controller told of itself.

    ``why`` is an `EndedBy`, a `Refusal` or a `FlowFault`, by its kind. Nothing changes it later.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="+")
    valve = models.ForeignKey(Valve, on_delete=models.SET_NULL, null=True, related_name="+")
    about = models.CharField(max_length=80, blank=True)
    kind = models.CharField(max_length=20, choices=EntryKind)
    why = models.CharField(max_length=14, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [models.Index(fields=["farm", "-at"])]

    def __str__(self) -> str:
        return f"{self.kind} {self.about} {self.at:%Y-%m-%d %H:%M}"
