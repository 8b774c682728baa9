"""The fixed words of an advice."""

from enum import StrEnum


class State(StrEnum):
    HOLDING = "holding"
    WATER_SOON = "water_soon"
    WATER_NOW = "water_now"
    PAST_REFILL = "past_refill"
    BRIMMING = "brimming"
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


class Confidence(StrEnum):
    GOOD = "good"
    FAIR = "fair"
    LOW = "low"
    NONE = "none"
