"""The fixed words of an advice."""

from enum import StrEnum


class State(StrEnum):
    HOLDING = "holding"
    WATER_SOON = "water_soon"
    WATER_NOW = "water_now"
    PAST_REFILL = "past_refill"
    BRIMMING = "brimming"
    HELD = "held"
    NO_WORD = "no_word"


class Reason(StrEnum):
    """Why the advice is as it is, or why there is less of it; the weightiest for whoever decides
    come first."""

    NOT_WORKED_OUT = "not_worked_out"  # given by who asks, where the core fails
    NO_INSTRUMENT = "no_instrument"
    NO_TRUSTED_READING = "no_trusted_reading"
    NO_CROP_IN_SEASON = "no_crop_in_season"
    SURFACES_DIFFER = "surfaces_differ"
    NO_ET = "no_et"
    HELD = "held"
    GO_BEFORE_HOLD = "go_before_hold"
    PLANNED_TOO_LATE = "planned_too_late"
    PLANNED_IN_TIME = "planned_in_time"
    RAIN_MAY_COVER = "rain_may_cover"
    DUE_EARLY = "due_early"
    CANT_CATCH_UP = "cant_catch_up"
    MACHINE_TAKES_LONG = "machine_takes_long"
    CRITICAL_STAGE = "critical_stage"
    CRITICAL_STAGE_NEXT = "critical_stage_next"
    HEAT_AHEAD = "heat_ahead"
    ENOUGH_TO_FINISH = "enough_to_finish"
    NOT_WORTH_A_SET_YET = "not_worth_a_set_yet"
    WATER_NOT_LOGGED = "water_not_logged"
    SET_FELL_SHORT = "set_fell_short"
    BALANCE_SET_BACK = "balance_set_back"
    GIVEN_WITHOUT_ANSWER = "given_without_answer"
    DRAINS_ON = "drains_on"
    SURPLUS_DRAINING = "surplus_draining"
    DRAINAGE_AHEAD = "drainage_ahead"
    DRAINS_SLOWLY = "drains_slowly"
    WOULD_RUN_OFF = "would_run_off"
    LARGEST_SET = "largest_set"
    SMALLEST_SET = "smallest_set"
    LEACHING_FALLS_SHORT = "leaching_falls_short"
    LEACHING_ADDED = "leaching_added"
    SALT_CARRIED_OFF = "salt_carried_off"
    SALT_LOWERS_USE = "salt_lowers_use"
    WATER_TABLE_IN_ROOTS = "water_table_in_roots"
    WATER_TABLE_FEEDS = "water_table_feeds"
    PLACE_NOT_KNOWN = "place_not_known"
    SITES_DISAGREE = "sites_disagree"
    SENSOR_NOT_TRUSTED = "sensor_not_trusted"
    CARRIED_FROM_READING = "carried_from_reading"
    BY_BALANCE_ALONE = "by_balance_alone"
    DRIER_THAN_SENSOR_READS = "drier_than_sensor_reads"
    REFILL_OUT_OF_REACH = "refill_out_of_reach"
    UNSEEN_BELOW_SENSORS = "unseen_below_sensors"
    PROFILE_STOPS_ROOTS = "profile_stops_roots"
    USE_ABOVE_BOOK = "use_above_book"
    USE_BELOW_BOOK = "use_below_book"
    ET_NOT_RECORDED = "et_not_recorded"


class Confidence(StrEnum):
    GOOD = "good"
    FAIR = "fair"
    LOW = "low"
    NONE = "none"
