"""What each role may do; the one place where it is said."""

from enum import StrEnum

from server.farms.models import Role


class Action(StrEnum):
    SEE = "see"
    RECORD_READINGS = "record_readings"
    SET_UP_GROUND = "set_up_ground"
    ENTER_ET = "enter_et"
    MANAGE_DEVICES = "manage_devices"
    LOG_WATER = "log_water"
    DECIDE = "decide"
    RECORD_WEATHER = "record_weather"
    MANAGE_PEOPLE = "manage_people"


ALLOWED: dict[Role, frozenset[Action]] = {
    Role.MANAGER: frozenset(Action),
    Role.ADVISER: frozenset(Action) - {Action.MANAGE_PEOPLE},
    Role.SCOUT: frozenset({Action.SEE, Action.RECORD_READINGS}),
    Role.IRRIGATOR: frozenset({Action.SEE, Action.RECORD_READINGS, Action.LOG_WATER}),
    Role.VIEWER: frozenset({Action.SEE}),
}

# How a refusal reads: "A viewer can't ...".
SPOKEN: dict[Action, str] = {
    Action.SEE: "see this farm",
    Action.RECORD_READINGS: "record readings",
    Action.SET_UP_GROUND: "set up blocks, soils and instruments",
    Action.ENTER_ET: "enter the expected ET",
    Action.MANAGE_DEVICES: "manage loggers and their tokens",
    Action.LOG_WATER: "log irrigation and rain",
    Action.DECIDE: "decide when a block is irrigated",
    Action.RECORD_WEATHER: "change recorded weather",
    Action.MANAGE_PEOPLE: "add people or change their roles",
}


def may(role: Role, action: Action) -> bool:
    """Whether a role permits an action."""
    return action in ALLOWED[role]
