"""What each role may do; the one place where it is said."""

from enum import StrEnum

from core.sentence import Sentence, sentence
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
    STOP_VALVES = "stop_valves"
    OPERATE_VALVES = "operate_valves"
    MANAGE_VALVES = "manage_valves"
    MANAGE_PEOPLE = "manage_people"


ALLOWED: dict[Role, frozenset[Action]] = {
    Role.MANAGER: frozenset(Action),
    # Who opens a valve stands by it: an adviser far away does not.
    Role.ADVISER: frozenset(Action)
    - {Action.MANAGE_PEOPLE, Action.OPERATE_VALVES, Action.MANAGE_VALVES},
    Role.SCOUT: frozenset({Action.SEE, Action.STOP_VALVES, Action.RECORD_READINGS}),
    Role.IRRIGATOR: frozenset(
        {
            Action.SEE,
            Action.STOP_VALVES,
            Action.RECORD_READINGS,
            Action.LOG_WATER,
            Action.OPERATE_VALVES,
        }
    ),
    # Whoever sees that something goes wrong may stop it.
    Role.VIEWER: frozenset({Action.SEE, Action.STOP_VALVES}),
}

# How an error reads: "As viewer you can't ...".
SPOKEN: dict[Action, Sentence] = {
    Action.SEE: sentence("see this farm"),
    Action.RECORD_READINGS: sentence("record readings"),
    Action.SET_UP_GROUND: sentence("set up blocks, soils and instruments"),
    Action.ENTER_ET: sentence("enter the expected ET"),
    Action.MANAGE_DEVICES: sentence("manage loggers and their tokens"),
    Action.LOG_WATER: sentence("log irrigation and rain"),
    Action.DECIDE: sentence("decide when a block is irrigated"),
    Action.RECORD_WEATHER: sentence("change recorded weather"),
    Action.STOP_VALVES: sentence("stop valves"),
    Action.OPERATE_VALVES: sentence("open or close valves"),
    Action.MANAGE_VALVES: sentence("set up valve control"),
    Action.MANAGE_PEOPLE: sentence("add people or change their roles"),
}


def may(role: Role, action: Action) -> bool:
    """Whether a role permits an action."""
    return action in ALLOWED[role]
