"""The fixed words of an advice."""

from enum import StrEnum


class State(StrEnum):
    OK = "ok"
    IRRIGATE_SOON = "irrigate_soon"
    IRRIGATE_NOW = "irrigate_now"
    BELOW_REFILL = "below_refill"
    ABOVE_FULL = "above_full"
    ON_HOLD = "on_hold"
    FINISHED = "finished"
    NO_RELIABLE_DATA = "no_reliable_data"


class Regime(StrEnum):
    """By what rule a block is watered."""

    ABOVE_REFILL = "above_refill"
    PONDED = "ponded"
    LEAF_GUIDED = "leaf_guided"
    DEFICIT = "deficit"
    CUT_OR_GRAZED = "cut_or_grazed"


class Reason(StrEnum):
    """Why the advice is as it is, or why there is less of it."""

    NO_INSTRUMENT = "no_instrument"
    NO_RELIABLE_READING = "no_reliable_reading"
    NO_CROP_IN_SEASON = "no_crop_in_season"
    NO_ET = "no_et"
    SURFACES_DIFFER = "surfaces_differ"
    SENSOR_EXCLUDED = "sensor_excluded"
    CARRIED_FROM_READING = "carried_from_reading"
    UNSEEN_BELOW_SENSORS = "unseen_below_sensors"
    SITES_DISAGREE = "sites_disagree"
    PROFILE_STOPS_ROOTS = "profile_stops_roots"
    MAXIMUM_APPLICATION = "maximum_application"
    MINIMUM_APPLICATION = "minimum_application"
    SURPLUS_DRAINING = "surplus_draining"
    BY_BALANCE_ALONE = "by_balance_alone"
    ET_NOT_RECORDED = "et_not_recorded"
    USE_ABOVE_PUBLISHED = "use_above_published"
    USE_BELOW_PUBLISHED = "use_below_published"
    WATER_NOT_LOGGED = "water_not_logged"
    BALANCE_SET_BACK = "balance_set_back"
    IRRIGATION_FELL_SHORT = "irrigation_fell_short"
    CRITICAL_STAGE = "critical_stage"
    CRITICAL_STAGE_NEXT = "critical_stage_next"
    HEAT_AHEAD = "heat_ahead"
    CANT_CATCH_UP = "cant_catch_up"
    RAIN_MAY_COVER = "rain_may_cover"
    NOT_WORTH_IRRIGATING_YET = "not_worth_irrigating_yet"
    DRAINAGE_AHEAD = "drainage_ahead"
    ENOUGH_TO_FINISH = "enough_to_finish"
    MAY_BE_THE_LAST = "may_be_the_last"
    ON_HOLD = "on_hold"
    GO_BEFORE_HOLD = "go_before_hold"
    PLANNED_IN_TIME = "planned_in_time"
    PLANNED_TOO_LATE = "planned_too_late"
    LEACHING_ADDED = "leaching_added"
    DRAINS_ON = "drains_on"
    MORE_APPLIED_THAN_USED = "more_applied_than_used"
    REFILL_OUT_OF_REACH = "refill_out_of_reach"
    LEACHING_FALLS_SHORT = "leaching_falls_short"
    DUE_EARLY = "due_early"
    MACHINE_TAKES_LONG = "machine_takes_long"
    PLACE_NOT_KNOWN = "place_not_known"
    SALT_LOWERS_USE = "salt_lowers_use"
    WATER_TABLE_FEEDS = "water_table_feeds"
    WATER_TABLE_IN_ROOTS = "water_table_in_roots"
    DRAINS_SLOWLY = "drains_slowly"
    WOULD_RUN_OFF = "would_run_off"
    DRIER_THAN_SENSOR_READS = "drier_than_sensor_reads"
    SALT_CARRIED_OFF = "salt_carried_off"
    KEPT_PONDED = "kept_ponded"
    FLOWERING_PONDED = "flowering_ponded"
    NITROGEN_BEFORE_WATER = "nitrogen_before_water"
    DRAIN_FOR_HARVEST = "drain_for_harvest"
    MAY_DRY_DEEPER = "may_dry_deeper"
    BUND_TOO_LOW = "bund_too_low"
    LEAVES_NOT_READ = "leaves_not_read"
    LEAF_DRIER_THAN_SOIL = "leaf_drier_than_soil"
    LEAF_WETTER_THAN_SOIL = "leaf_wetter_than_soil"
    LESS_BY_PLAN = "less_by_plan"
    NOT_WORKED_OUT = "not_worked_out"  # given by who asks, where the core fails


class Confidence(StrEnum):
    GOOD = "good"
    FAIR = "fair"
    LOW = "low"
    NONE = "none"


# For whoever decides: what keeps an answer from being given, what to do now, then how sure it is.
BY_WEIGHT: tuple[Reason, ...] = (
    Reason.NOT_WORKED_OUT,
    Reason.NO_INSTRUMENT,
    Reason.NO_RELIABLE_READING,
    Reason.NO_CROP_IN_SEASON,
    Reason.SURFACES_DIFFER,
    Reason.NO_ET,
    Reason.ON_HOLD,
    Reason.GO_BEFORE_HOLD,
    Reason.PLANNED_TOO_LATE,
    Reason.PLANNED_IN_TIME,
    Reason.RAIN_MAY_COVER,
    Reason.DUE_EARLY,
    Reason.CANT_CATCH_UP,
    Reason.MACHINE_TAKES_LONG,
    Reason.FLOWERING_PONDED,
    Reason.DRAIN_FOR_HARVEST,
    Reason.NITROGEN_BEFORE_WATER,
    Reason.KEPT_PONDED,
    Reason.CRITICAL_STAGE,
    Reason.CRITICAL_STAGE_NEXT,
    Reason.HEAT_AHEAD,
    Reason.ENOUGH_TO_FINISH,
    Reason.MAY_BE_THE_LAST,
    Reason.LEAF_DRIER_THAN_SOIL,
    Reason.LEAF_WETTER_THAN_SOIL,
    Reason.LEAVES_NOT_READ,
    Reason.LESS_BY_PLAN,
    Reason.BUND_TOO_LOW,
    Reason.MAY_DRY_DEEPER,
    Reason.NOT_WORTH_IRRIGATING_YET,
    Reason.WATER_NOT_LOGGED,
    Reason.IRRIGATION_FELL_SHORT,
    Reason.BALANCE_SET_BACK,
    Reason.MORE_APPLIED_THAN_USED,
    Reason.DRAINS_ON,
    Reason.SURPLUS_DRAINING,
    Reason.DRAINAGE_AHEAD,
    Reason.DRAINS_SLOWLY,
    Reason.WOULD_RUN_OFF,
    Reason.MAXIMUM_APPLICATION,
    Reason.MINIMUM_APPLICATION,
    Reason.LEACHING_FALLS_SHORT,
    Reason.LEACHING_ADDED,
    Reason.SALT_CARRIED_OFF,
    Reason.SALT_LOWERS_USE,
    Reason.WATER_TABLE_IN_ROOTS,
    Reason.WATER_TABLE_FEEDS,
    Reason.PLACE_NOT_KNOWN,
    Reason.SITES_DISAGREE,
    Reason.SENSOR_EXCLUDED,
    Reason.CARRIED_FROM_READING,
    Reason.BY_BALANCE_ALONE,
    Reason.DRIER_THAN_SENSOR_READS,
    Reason.REFILL_OUT_OF_REACH,
    Reason.UNSEEN_BELOW_SENSORS,
    Reason.PROFILE_STOPS_ROOTS,
    Reason.USE_ABOVE_PUBLISHED,
    Reason.USE_BELOW_PUBLISHED,
    Reason.ET_NOT_RECORDED,
)
