"""The change history: what each person did on a farm, kept in the transaction that did it."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from server.farms.access import Access
from server.farms.models import Change


class Done(StrEnum):
    """What an act did, one name for each kind of entry."""

    BLOCK_ADDED = "block_added"
    BLOCK_CHANGED = "block_changed"
    BLOCK_SPLIT = "block_split"
    PADDY_CHANGED = "paddy_changed"
    PADDY_REMOVED = "paddy_removed"
    THRESHOLD_CHANGED = "threshold_changed"
    NITROGEN_APPLIED = "nitrogen_applied"
    STEERING_CHANGED = "steering_changed"
    STEERING_REMOVED = "steering_removed"
    STEM_ROUND_ADDED = "stem_round_added"
    STEM_ROUND_KEPT = "stem_round_kept"
    STEM_ROUND_UNKEPT = "stem_round_unkept"
    STEM_ROUND_REMOVED = "stem_round_removed"
    LESS_WATER_CHANGED = "less_water_changed"
    LESS_WATER_REMOVED = "less_water_removed"
    CUT_PLAN_CHANGED = "cut_plan_changed"
    CUT_PLAN_REMOVED = "cut_plan_removed"
    OUTLINE_CHANGED = "outline_changed"
    MAP_FEATURE_ADDED = "map_feature_added"
    MAP_FEATURE_REMOVED = "map_feature_removed"
    SOIL_ADDED = "soil_added"
    SOIL_CHANGED = "soil_changed"
    SOIL_REMOVED = "soil_removed"
    SOIL_ASSIGNED = "soil_assigned"
    REFILL_RULE_SET = "refill_rule_set"
    CROP_ADDED = "crop_added"
    CROP_CHANGED = "crop_changed"
    CROP_REMOVED = "crop_removed"
    SEASON_ADDED = "season_added"
    SEASON_CHANGED = "season_changed"
    SEASON_REMOVED = "season_removed"
    OBSERVATION_ADDED = "observation_added"
    OBSERVATION_REMOVED = "observation_removed"
    INSTRUMENT_ADDED = "instrument_added"
    INSTRUMENT_CHANGED = "instrument_changed"
    SENSOR_EXCLUDED = "sensor_excluded"
    SENSOR_INCLUDED = "sensor_included"
    CALIBRATION_APPLIED = "calibration_applied"
    PHOTO_ADDED = "photo_added"
    PHOTO_REMOVED = "photo_removed"
    LOG_ENTRY_ADDED = "log_entry_added"
    LOG_ENTRY_REMOVED = "log_entry_removed"
    ROUND_ADDED = "round_added"
    ROUND_CHANGED = "round_changed"
    ROUND_REMOVED = "round_removed"
    VISIT_RECORDED = "visit_recorded"
    READINGS_ENTERED = "readings_entered"
    READINGS_REVIEWED = "readings_reviewed"
    LAYER_FILE_UPLOADED = "layer_file_uploaded"
    LAYER_READING_CHANGED = "layer_reading_changed"
    LAYER_FILE_STORED = "layer_file_stored"
    LAYER_FILE_DELETED = "layer_file_deleted"
    LAYER_CHANGED = "layer_changed"
    LAYER_DELETED = "layer_deleted"
    SURVEY_IMPORTED = "survey_imported"
    SURVEY_DELETED = "survey_deleted"
    READINGS_BORROWED = "readings_borrowed"
    RAIN_YEARS_CHANGED = "rain_years_changed"
    SITING_CHANGED = "siting_changed"
    SPOT_CHOSEN = "spot_chosen"
    SPOT_REMOVED = "spot_removed"
    SPOT_INSTALLED = "spot_installed"
    SPOT_CORE_RECORDED = "spot_core_recorded"
    SPOT_CHECKED = "spot_checked"
    SPOT_CHECK_REMOVED = "spot_check_removed"
    SPOT_KEPT = "spot_kept"
    SPOT_MOVED = "spot_moved"
    FILE_UPLOADED = "file_uploaded"
    FILE_IMPORTED = "file_imported"
    FILE_DELETED = "file_deleted"
    LAYOUT_DELETED = "layout_deleted"
    LOGGER_ADDED = "logger_added"
    LOGGER_TOKEN_RENEWED = "logger_token_renewed"  # noqa: S105 - no secret
    LOGGER_REVOKED = "logger_revoked"
    CATCH_CANS_ADDED = "catch_cans_added"
    CATCH_CANS_REMOVED = "catch_cans_removed"
    FINDING_CONFIRMED = "finding_confirmed"
    FINDING_DISMISSED = "finding_dismissed"
    FINDING_DONE = "finding_done"
    ADVICE_ACCEPTED = "advice_accepted"
    ADVICE_ADJUSTED = "advice_adjusted"
    ADVICE_SKIPPED = "advice_skipped"
    IRRIGATION_SCHEDULED = "irrigation_scheduled"
    IRRIGATION_STARTED = "irrigation_started"
    IRRIGATION_LOGGED = "irrigation_logged"
    IRRIGATION_CHANGED = "irrigation_changed"
    IRRIGATION_CANCELLED = "irrigation_cancelled"
    POSITION_ADDED = "position_added"
    POSITION_REMOVED = "position_removed"
    HOLD_ADDED = "hold_added"
    NETWORK_CHANGED = "network_changed"
    RUN_SHEET_PLANNED = "run_sheet_planned"
    RUN_SHEET_TAKEN = "run_sheet_taken"
    RUN_SHEET_DISCARDED = "run_sheet_discarded"
    RUN_SHEET_CHANGED = "run_sheet_changed"
    RUN_SHEET_ANNOUNCED = "run_sheet_announced"
    VALVE_CONTROL_ON = "valve_control_on"
    VALVE_CONTROL_OFF = "valve_control_off"
    CONTROLLER_ADDED = "controller_added"
    CONTROLLER_TOKEN_RENEWED = "controller_token_renewed"  # noqa: S105 - no secret
    CONTROLLER_REVOKED = "controller_revoked"
    VALVE_ADDED = "valve_added"
    VALVE_CHANGED = "valve_changed"
    VALVE_REMOVED = "valve_removed"
    VALVE_OPENED = "valve_opened"
    VALVE_CLOSED = "valve_closed"
    VALVE_ALARM_CONFIRMED = "valve_alarm_confirmed"
    EMERGENCY_STOP = "emergency_stop"
    EMERGENCY_STOP_RELEASED = "emergency_stop_released"
    ET_ENTERED = "et_entered"
    RAIN_ENTERED = "rain_entered"
    WEATHER_ENTERED = "weather_entered"
    WEATHER_IMPORTED = "weather_imported"
    STATION_CHANGED = "station_changed"
    PERSON_ADDED = "person_added"
    ROLE_CHANGED = "role_changed"
    PERSON_REMOVED = "person_removed"
    INVITATION_RENEWED = "invitation_renewed"
    SETUP_STEP_SKIPPED = "setup_step_skipped"
    SETUP_STEP_REOPENED = "setup_step_reopened"


@dataclass(frozen=True)
class Entry:
    """What an entry is about.

    Parameters
    ----------
    about : what was changed, by the name people know it by
    thing : number of the row that an undoing act takes
    block : number of the block it is part of
    """

    about: str
    thing: int | None = None
    block: int | None = None


def record(
    access: Access, done: Done, about: str = "", thing: int | None = None, block: int | None = None
) -> None:
    """Write an entry into the farm's change history; see `Entry`."""
    record_each(access, done, [Entry(about, thing, block)])


def record_each(access: Access, done: Done, entries: Iterable[Entry]) -> None:
    """Write an entry for each of several things that one act changed in the same way."""
    Change.unscoped.bulk_create(
        Change(
            farm=access.farm,
            at=access.now(),
            by=access.user,
            done=str(done),
            about=e.about[: Change.ABOUT_LENGTH],
            thing=e.thing,
            block=e.block,
        )
        for e in entries
    )
