"""What no replay shows: causes that lie outside clock, mode and entries, with what to ask. Common practice, no source."""

from dataclasses import dataclass

from skavit.core.causes.looks import BLANK
from skavit.core.causes.shown import Looked, Shown
from skavit.core.plan.document import Plan


@dataclass(frozen=True, slots=True, kw_only=True)
class Beyond:
    """Something else that shows like this, and the question that finds it."""

    text: str
    ask: str


_BREAKER = Beyond(text="Its breaker has tripped, or its fuse is gone.", ask="Is anything else on that breaker dead?")
_BATTERY = Beyond(
    text="Its battery is flat.", ask="Does the display come back when the cover is pressed or the mains return?"
)
_LAMP = Beyond(
    text="The lamp, the valve or the cable is at fault, and not the unit.",
    ask="Does it come on when it is put on by hand?",
)
_COVER = Beyond(text="Shutting the cover has pressed a key.", ask="Was somebody at the unit since it last worked?")
_LOCKED = Beyond(text="The keypad is locked: what was set since is not in it.", ask="Do its keys do anything?")
_RANDOM = Beyond(text="Random switching was left on.", ask="Does it switch at another time each night?")
_COVERED = Beyond(text="The photocell is covered, dirty or overgrown.", ask="What hangs or grows before its eye?")
_OWN_LAMPS = Beyond(text="The photocell sees its own lamps.", ask="Does it go on and off again and again after dark?")
_WELDED = Beyond(text="The contact has welded shut.", ask="Does it stay on when it is put off by hand?")


def beyond(plan: Plan, looked: Looked, right: Shown) -> tuple[Beyond, ...]:
    """What else shows like the looks; ``right`` is the unit without a fault, of which outputs differ or a display is blank."""
    wrong = {glance.on for glance in looked.glances(right.outputs) if not glance.explained}
    blank = any(BLANK in look.display for look in looked.looks)
    dark, burning = False in wrong, True in wrong
    light = plan.unit.sun.is_photocell
    found = [
        (blank, _BATTERY),
        (blank or dark, _BREAKER),
        (dark, _LAMP),
        (burning, _WELDED),
        (dark or burning, _COVER),
        (burning and light, _COVERED),
        (dark and light, _OWN_LAMPS),
        (dark and burning, _RANDOM),
        (dark or burning, _LOCKED),
    ]
    return tuple(one for shows, one in found if shows)
