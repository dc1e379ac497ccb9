"""Which contact a load needs, and what becomes of it with the relay on, with power lost, with the timer dead.

*Open* is the contact that is open while the relay is off (normally open), *closed* the one that is closed then. ON of a channel
means for a door that it is free. Wiring of locks, gates, contactors and pumps: common practice, no source; local codes go before it.
"""

from dataclasses import dataclass

LOCKS = ("lock-holds", "lock-opens")


@dataclass(frozen=True, slots=True, kw_only=True)
class Logic:
    """One load: the contact, and what it does in each state."""

    name: str
    contact: str  # open or closed
    on: str  # the relay is on
    off: str
    power_lost: str  # the load's own supply is gone
    timer_dead: str  # the relay has no power: it is off
    more: tuple[str, ...]  # what is tried beside the relay
    caution: str


_MAINS = "Mains: isolate, lock off and prove dead before a cover comes off; licensed people, by the local code."
_DOOR = (
    "A door that people must get out by: the local code, the fire alarm's release and licensed people decide how it is locked. "
    "The release and the exit button break the lock's supply by themselves, whatever this timer does."
)
_TOGGLE = ("Relay off by hand: {off}.", "Relay on by hand: {on}.", "Relay off again: {off}.")


def _logic(name: str, contact: str, states: tuple[str, str, str, str], more: tuple[str, ...], caution: str) -> Logic:
    on, off, power_lost, timer_dead = states
    return Logic(
        name=name, contact=contact, on=on, off=off, power_lost=power_lost, timer_dead=timer_dead,
        more=more, caution=caution,
    )  # fmt: skip


LOGIC: dict[str, Logic] = {
    "lock-holds": _logic(
        "Lock that holds with power",
        "closed",
        ("the door is free", "the door is held", "the door is free", "the door is held, and only a release frees it"),
        (
            "Switch the lock's supply off: the door is free at once.",
            "Press the exit button, then let the fire alarm's release act: the door is free each time.",
        ),
        _DOOR,
    ),
    "lock-opens": _logic(
        "Lock that opens with power",
        "open",
        ("the door is free", "the door is shut", "the door is shut: key, or handle from inside", "the door is shut"),
        (
            "Switch the lock's supply off: from inside the handle opens the door all the same.",
            "Press the exit button: the door is free.",
        ),
        _DOOR,
    ),
    "gate": _logic(
        "Gate operator, dry contact",
        "open",
        (
            "the gate is told to open and stays open",
            "the gate shuts by itself",
            "the gate stands: its own release",
            "the gate works by its own buttons",
        ),
        ("Break the light beam while it moves: it stops.", "Look that nobody stands in its way before each move."),
        "Gates crush: stand clear, keep the beams and edges working, and know the hand release before the relay moves it.",
    ),
    "contactor": _logic(
        "Lighting contactor",
        "open",
        ("the lights are on", "the lights are off", "the lights are off", "the lights are off"),
        ("Listen: the contactor pulls in once and does not chatter.",),
        _MAINS,
    ),
    "lamps": _logic(
        "Lamps on the contact",
        "open",
        ("the lights are on", "the lights are off", "the lights are off", "the lights are off"),
        (),
        _MAINS,
    ),
    "transformer": _logic(
        "Low-voltage transformer",
        "open",
        ("the lights are on", "the lights are off", "the lights are off", "the lights are off"),
        ("With all lamps lit, read the volts at the first and at the last lamp.",),
        _MAINS,
    ),
    "valve": _logic(
        "Valve solenoid",
        "open",
        ("the valve is open", "the valve is shut", "the valve is shut", "the valve is shut"),
        ("Look that it shuts within half a minute, and that nothing drips on.",),
        "A valve that shuts fast hammers the pipe; water on a path is a slip.",
    ),
    "pump": _logic(
        "Pump relay",
        "open",
        ("the pump runs", "the pump stands", "the pump stands", "the pump stands"),
        ("Before it runs: a valve open behind it, water in front of it.",),
        "A pump against shut valves boils or bursts; dry it seizes. Open a valve first. " + _MAINS,
    ),
    "bell": _logic(
        "Bell",
        "open",
        ("the bell rings", "the bell is still", "the bell is still", "the bell is still"),
        ("A pulse of the seconds that are keyed: it ends by itself.",),
        "Loud: warn people first.",
    ),
    "heater": _logic(
        "Heater or water heater",
        "open",
        ("it heats", "it does not heat", "it does not heat", "it does not heat"),
        ("By the meter or a clamp: it takes its amperes.",),
        "Stored water scalds above 50 °C at the tap, and breeds bacteria below 60 °C in the store: a mixing valve, the local rules. "
        + _MAINS,
    ),
}


def state_of(logic: Logic, wired: str, *, relay_on: bool) -> str:
    """What the load does where it hangs on one of the contacts."""
    as_meant = wired == logic.contact
    return logic.on if relay_on == as_meant else logic.off


def dead_of(logic: Logic, wired: str) -> str:
    """What the load does with the timer dead, its relay off, where it hangs on one of the contacts."""
    return logic.timer_dead if wired == logic.contact else state_of(logic, wired, relay_on=False)


def tests_of(logic: Logic, wired: str) -> tuple[str, ...]:
    """What somebody tries, and what the load must do then, where it hangs on one of the contacts."""
    on, off = (state_of(logic, wired, relay_on=relay) for relay in (True, False))
    toggled = (line.format(on=on, off=off) for line in _TOGGLE)
    return (*toggled, *logic.more, "Back to automatic, and the load as the program has it.")
