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
    """Why the advice is as it is, or why there is less of it."""

    NO_INSTRUMENT = "no_instrument"
    NO_TRUSTED_READING = "no_trusted_reading"
    NO_CROP_IN_SEASON = "no_crop_in_season"
    NO_ET = "no_et"
    SURFACES_DIFFER = "surfaces_differ"
    SENSOR_NOT_TRUSTED = "sensor_not_trusted"
    CARRIED_FROM_READING = "carried_from_reading"
    UNSEEN_BELOW_SENSORS = "unseen_below_sensors"
    SITES_DISAGREE = "sites_disagree"
    PROFILE_STOPS_ROOTS = "profile_stops_roots"
    LARGEST_SET = "largest_set"
    SMALLEST_SET = "smallest_set"
    SURPLUS_DRAINING = "surplus_draining"
    BY_BALANCE_ALONE = "by_balance_alone"
    ET_NOT_RECORDED = "et_not_recorded"
    USE_ABOVE_BOOK = "use_above_book"
    USE_BELOW_BOOK = "use_below_book"
    WATER_NOT_LOGGED = "water_not_logged"
    BALANCE_SET_BACK = "balance_set_back"
    SET_FELL_SHORT = "set_fell_short"
    CRITICAL_STAGE = "critical_stage"
    CRITICAL_STAGE_NEXT = "critical_stage_next"
    HEAT_AHEAD = "heat_ahead"
    CANT_CATCH_UP = "cant_catch_up"
    RAIN_MAY_COVER = "rain_may_cover"
    NOT_WORTH_A_SET_YET = "not_worth_a_set_yet"
    DRAINAGE_AHEAD = "drainage_ahead"
    ENOUGH_TO_FINISH = "enough_to_finish"
    HELD = "held"
    GO_BEFORE_HOLD = "go_before_hold"
    PLANNED_IN_TIME = "planned_in_time"
    PLANNED_TOO_LATE = "planned_too_late"
    LEACHING_ADDED = "leaching_added"
    DRAINS_ON = "drains_on"
    GIVEN_WITHOUT_ANSWER = "given_without_answer"
    REFILL_OUT_OF_REACH = "refill_out_of_reach"
    LEACHING_FALLS_SHORT = "leaching_falls_short"
    DUE_EARLY = "due_early"
    MACHINE_TAKES_LONG = "machine_takes_long"


class Confidence(StrEnum):
    GOOD = "good"
    FAIR = "fair"
    LOW = "low"
    NONE = "none"
