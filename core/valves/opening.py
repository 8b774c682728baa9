"""What speaks against opening a valve from afar.

Design rule (handbook of the trade, no published source): a person confirms each opening, the
controller itself holds a longest run and closes when it loses contact, whoever stands in the field
can lock a valve out, and an emergency stop outlasts whatever was asked before it.
"""

from dataclasses import dataclass

from core.sentence import Sentence, sentence
from core.valves.flow_check import FlowFault

SECONDS_PER_MINUTE = 60.0


@dataclass(frozen=True)
class ValveNow:
    """A valve as far as is known.

    Parameters
    ----------
    control_on : whether the farm opens valves from afar at all
    stopped : whether the emergency stop is on
    heard_s_ago : since its controller was heard from [s]; None where it never was
    contact_s : after so long without contact the controller closes all it has [s]
    longest_s : the longest run the controller allows [s]; None while it has not said
    is_open : None while its controller has not told
    locked_out : whether somebody in the field locked it out
    fault : what is wrong with its water and was not looked at
    on_hold : whether its block must not be irrigated now
    """

    control_on: bool
    stopped: bool
    heard_s_ago: float | None
    contact_s: float
    longest_s: float | None
    is_open: bool | None
    locked_out: bool
    fault: FlowFault | None = None
    on_hold: bool = False


def is_silent(heard_s_ago: float | None, contact_s: float) -> bool:
    """Whether a controller has to be taken for cut off."""
    return heard_s_ago is None or heard_s_ago > contact_s


def against_opening(valve: ValveNow, run_s: float) -> list[Sentence]:
    """Every reason why a valve must not be opened for a time; none where it may.

    Parameters
    ----------
    run_s : how long it is to stay open [s]
    """
    found = []
    if not valve.control_on:
        found.append(sentence("Valve control is switched off on this farm."))
    if valve.stopped:
        found.append(sentence("The emergency stop is on. Release it first."))
    if is_silent(valve.heard_s_ago, valve.contact_s):
        found.append(sentence("The controller has no contact."))
    elif valve.is_open is None:
        found.append(sentence("The controller has not told of this valve: check its number."))
    if valve.locked_out:
        found.append(sentence("The valve is locked out in the field: somebody may be at it."))
    if valve.is_open:
        found.append(sentence("The valve is open already."))
    if valve.on_hold:
        found.append(sentence("The block must not be irrigated now: it is on hold."))
    if valve.fault is not None:
        found.append(
            sentence("Its last alarm is not confirmed yet: look at the valve and confirm it first.")
        )
    if run_s <= 0:
        found.append(sentence("Enter how long it is to stay open."))
    elif valve.longest_s is not None and run_s > valve.longest_s:
        found.append(
            sentence(
                "The controller closes after {most:g} min at the latest. Choose a shorter time.",
                most=valve.longest_s / SECONDS_PER_MINUTE,
            )
        )
    return found
