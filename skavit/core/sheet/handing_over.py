"""The last steps: the mode, the keypad's lock, the cover shut and the output looked at."""

from dataclasses import replace

import numpy as np

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Press
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed
from skavit.core.simulation.handover import ChannelHandover
from skavit.core.text.wording import duration_text, weekday_date

MODE_TEXT = {
    "auto": "automatic",
    "auto-on": "automatic, with the output switched on by hand now",
    "auto-off": "automatic, with the output switched off by hand now",
}

_BRIEF = {"auto": "automatic", "auto-on": "on by hand, automatic", "auto-off": "off by hand, automatic"}


def _by_hand(kind: Kind | None, leave_in: str) -> str:
    """The word of the kind's mode that brings an output by hand to what it is left in; empty where it has none."""
    if kind is None or kind.modes is None or leave_in == "auto":
        return ""
    return kind.modes.word(leave_in.removeprefix("auto-"))


def mode_words(kind: Kind | None, leave_in: str) -> str:
    """What a channel is left in, in the kind's own words: AUTO; or ON first, then AUTO."""
    if kind is None or kind.modes is None:
        return MODE_TEXT[leave_in]
    auto = kind.modes.word("auto")
    if leave_in == "auto":
        return auto
    by_hand = _by_hand(kind, leave_in)
    state = leave_in.removeprefix("auto-")
    return f"{by_hand} first, then {auto}" if by_hand else f"{auto}, with the output switched {state} by hand now"


def _mode_brief(kind: Kind | None, leaving: tuple[ChannelHandover, ...]) -> str:
    """The same in a few words, the channels named where they differ."""
    told = {c.name: mode_words(kind, c.leave_in) if kind and kind.modes else _BRIEF[c.leave_in] for c in leaving}
    if len(set(told.values())) == 1:
        return next(iter(told.values()))
    return "; ".join(f"{name}: {words}" for name, words in told.items())


def mode(occasion: Occasion) -> list[Step]:
    """The mode to leave the unit in, for its way of returning to automatic."""
    leaving, kind, unit = occasion.leaving, occasion.kind, occasion.plan.unit
    modes = {channel.leave_in for channel in leaving}
    if len(modes) == 1:
        say = f"Leave the unit in {mode_words(kind, next(iter(modes)))}."
    else:
        say = " ".join(f"{channel.name}: {mode_words(kind, channel.leave_in)}." for channel in leaving)
    if unit.on_return_to_auto == "waits":
        say += " This unit keeps its output until the next entry acts: bring it by hand to what it must be doing now."
    step = Step(kind="mode", title="The mode", say=say, brief=_mode_brief(kind, leaving))
    if kind and kind.modes:
        auto = mode_words(kind, "auto")
        by_hand = _by_hand(kind, next(iter(modes))) if len(modes) == 1 else ""
        presses = (*to_mode(kind, by_hand), *to_mode(kind, auto))
        shown = Display(rows=(DisplayRow(word="mode", value=auto),))
        by_chance = [m.word for m in kind.modes.cycle if m.means == "random"]
        say += "".join(f" Not {word}: that switches at random." for word in by_chance)
        step = replace(step, say=say, presses=presses, display=shown)
    # What was left in automatic runs on by itself: the hours go on, and it is left so still. Another set of entries is not.
    return [keyed(step, occasion.written_entries, unit.on_return_to_auto)]


def to_mode(kind: Kind | None, word: str) -> tuple[Press, ...]:
    """The press that brings the mode to a word; none where the kind has no such key, or no word is given."""
    if kind is None or kind.modes is None or not word:
        return ()
    return (Press(keys=(kind.modes.key,), field="mode", until=word),)


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


def pin(occasion: Occasion) -> list[Step]:
    """A PIN, where the kind takes one."""
    kind = occasion.kind
    if kind is None or not kind.pin:
        return []
    say = "Set a PIN, and write it down for whoever comes next: without it only a reset opens the keys."
    return [keyed(Step(kind="pin", title="PIN", say=say, presses=kind.pin))]


def cover(occasion: Occasion) -> list[Step]:
    """The cover shut, then the output seen."""
    states = [f"{channel.name} {'ON' if channel.output else 'OFF'}" for channel in occasion.leaving]
    must = " ".join(f"{channel.name} must be {'ON' if channel.output else 'OFF'}." for channel in occasion.leaving)
    switches = occasion.kind is None or occasion.kind.cover_switches
    step = Step(
        kind="output",
        title="Cover shut, output seen",
        say=f"Shut the cover, then look at the output again. {must}",
        caution="A cover can press a key: look after it is shut, not before." if switches else "",
        watch=tuple(_watch(occasion, channel) for channel in occasion.leaving),
        brief=", ".join(states),
    )
    return [keyed(step, occasion.written_entries)]


def _watch(occasion: Occasion, channel: ChannelHandover) -> str:
    """What a channel does now and at its next switchings, by the site's time."""
    clock = (occasion.ahead or occasion.year).site_clock
    coming = []
    for switching in channel.next:
        day, seconds = divmod(int(clock.digits(np.array([switching.instant]))[0]), DAY_S)
        coming.append(f"{occasion.words.minute(seconds)} {'ON' if switching.on else 'OFF'}, {weekday_date(day)}")
    return f"{channel.name}: {'ON' if channel.output else 'OFF'} now. Then {'; '.join(coming) or 'nothing switches'}."
