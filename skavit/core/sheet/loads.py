"""What hangs on the contacts, as steps: the caution of an escape door, the wiring terminal by terminal, the test with the load watched."""

from collections.abc import Iterator

from skavit.core.load import LOGIC, Logic, dead_of, state_of, tests_of
from skavit.core.plan.contact import Contact
from skavit.core.plan.load import Load
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.step import Step, keyed

ESCAPE = "escape"  # the kind of a step that is seen and ticked before the sheet is printed
ESCAPE_TEXT = (
    "This door must let people out with power, without power, and with this timer dead. The local code, the fire alarm's release "
    "and licensed people decide how it is locked; this sheet does not. Tick it when they have said so."
)


def _loads(occasion: Occasion) -> Iterator[tuple[int, str, Load, Logic]]:
    for number, channel in enumerate(occasion.plan.channels, start=1):
        if channel.load is not None:
            yield number, channel.name, channel.load, LOGIC[channel.load.sort]


def escape_doors(occasion: Occasion) -> list[Step]:
    """One step for each door on an escape route."""
    return [
        keyed(
            Step(kind=ESCAPE, title=f"Escape door: {name}", say=ESCAPE_TEXT, caution=logic.caution),
            number,
            load.to_json(),
        )
        for number, name, load, logic in _loads(occasion)
        if load.escape
    ]


def wiring(occasion: Occasion) -> list[Step]:
    """How each load hangs on its contact, and what it does in each state."""
    contact = occasion.plan.unit.contact or Contact()
    found = []
    for number, name, load, logic in _loads(occasion):
        wired = load.wired or logic.contact
        side = contact.opens if wired == "open" else contact.closes
        between = f"between {contact.common} and {side}" if contact.dry else f"on {side}"
        say = f"{logic.name}: {between}, the normally {wired} contact of channel {number}."
        say += "" if contact.dry else " This unit's own supply stands at it."
        if wired != logic.contact:
            say += f" It hangs on the other contact than such a load needs: the normally {logic.contact} one is right."
        if wired == "closed" and not contact.changes_over and occasion.kind is not None:
            say += " This unit has no such contact: a relay between gives one."
        watch = (
            f"Relay off: {state_of(logic, wired, relay_on=False)}.",
            f"Relay on: {state_of(logic, wired, relay_on=True)}.",
            f"Its own power lost: {logic.power_lost}.",
            f"Timer dead: {dead_of(logic, wired)}.",
        )
        step = Step(kind="channels", title=f"Wiring: {name}", say=say, watch=watch, caution=logic.caution)
        found.append(keyed(step, number, load.sort, contact.to_json(), wired))
    return found


def tests(occasion: Occasion) -> list[Step]:
    """Each relay toggled by hand while somebody watches the load."""
    found = []
    for number, name, load, logic in _loads(occasion):
        say = "Toggle the relay by hand and watch the load, not the display."
        step = Step(
            kind="walk",
            title=f"Try it: {name}",
            say=say,
            watch=tests_of(logic, load.wired or logic.contact),
            caution=logic.caution,
        )
        found.append(keyed(step, number, load.sort, load.wired))
    return found
