"""The last steps: the mode, the keypad's lock, the cover shut and the output looked at."""

from skavit.core.kinds.kind import Press
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed
from skavit.core.text.wording import duration_text

MODE_TEXT = {
    "auto": "automatic",
    "auto-on": "automatic, with the output switched on by hand now",
    "auto-off": "automatic, with the output switched off by hand now",
}


def mode(occasion: Occasion) -> list[Step]:
    """The mode to leave the unit in, for its way of returning to automatic."""
    leaving, kind = occasion.leaving, occasion.kind
    modes = {channel.leave_in for channel in leaving}
    if len(modes) == 1:
        say = f"Leave the unit in {MODE_TEXT[next(iter(modes))]}."
    else:
        say = " ".join(f"{channel.name}: {MODE_TEXT[channel.leave_in]}." for channel in leaving)
    if occasion.plan.unit.on_return_to_auto == "waits":
        say += " This unit keeps its output until the next entry acts: bring it by hand to what it must be doing now."
    step = Step(kind="mode", title="The mode", say=say)
    if kind and kind.modes:
        words = {mode.means: mode.word for mode in reversed(kind.modes.cycle)}
        by_hand = [words[means] for means in ("on", "off") if modes == {f"auto-{means}"} and means in words]
        stations = [*by_hand, words["auto"]]
        presses = tuple(Press(keys=(kind.modes.key,), field="mode", until=word) for word in stations)
        shown = Display(rows=(DisplayRow(word="mode", value=words["auto"]),))
        step = Step(kind="mode", title="The mode", say=say, presses=presses, display=shown)
    return [keyed(step, say)]


def lock(occasion: Occasion) -> list[Step]:
    """The keypad's lock, and a screen that goes dark."""
    kind = occasion.kind
    if kind is None or not (kind.lock or kind.dark_after_s):
        return []
    say = "Lock the keys, where hands could reach them." if kind.lock else ""
    dark = (
        f"The screen goes dark after {duration_text(kind.dark_after_s)}: it runs all the same."
        if kind.dark_after_s
        else ""
    )
    step = Step(
        kind="lock",
        title="Keypad and screen",
        say=f"{say} {dark}".strip(),
        presses=kind.lock,
    )
    return [keyed(step, say, dark)]


def cover(occasion: Occasion) -> list[Step]:
    """The cover shut, then the output seen."""
    parts = [f"{channel.name} must be {'ON' if channel.program else 'OFF'}." for channel in occasion.leaving]
    switches = occasion.kind is None or occasion.kind.cover_switches
    step = Step(
        kind="output",
        title="Cover shut, output seen",
        say="Shut the cover, then look at the output again. " + " ".join(parts),
        caution="A cover can press a key: look after it is shut, not before." if switches else "",
    )
    return [keyed(step, parts)]
