"""Modes and what is done by hand, in the words of a unit's kind."""

from typing import assert_never

from skavit.core.kinds import Kind
from skavit.core.plan.overrides import Away, Boost, ClockSet, Countdown, ExitButton, FirstIn, Mode, PowerCut, Setting
from skavit.core.sheet import MODE_TEXT, mode_words
from skavit.core.text.wording import count, duration_text


def _mode_text(mode: Mode, kind: Kind | None) -> str:
    if kind is None or kind.modes is None:
        usual = {"auto": "automatic", "auto-on": "automatic, on now", "auto-off": "automatic, off now"}
        return usual.get(mode.word, f"{mode.word} by hand")
    if mode.word in MODE_TEXT:
        return mode_words(kind, mode.word)
    return kind.modes.word(mode.word)


def setting_text(setting: Setting, kind: Kind | None = None) -> str:
    """A mode or an override in words: the kind's own, where it is known."""
    match setting:
        case Mode():
            text = _mode_text(setting, kind)
        case Boost():
            text = f"boost {duration_text(setting.minutes * 60)}"
        case Countdown():
            text = f"countdown {duration_text(setting.minutes * 60)}, then {'on' if setting.then_on else 'off'}"
        case Away():
            text = f"away {count(setting.days, 'day')}"
        case ExitButton():
            text = f"exit button, {count(setting.seconds, 'second')}"
        case FirstIn():
            text = "the first person has come in"
        case PowerCut():
            text = f"a power cut of {duration_text(setting.hours * 3600)}"
        case ClockSet():
            text = "the clock set"
        case _:
            assert_never(setting)
    return text
