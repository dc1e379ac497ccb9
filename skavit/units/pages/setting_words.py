"""Modes and what is done by hand, in the words of a unit's kind."""

from typing import assert_never

from skavit.core.kinds import Kind
from skavit.core.plan.overrides import Away, Boost, ClockSet, Countdown, Mode, PowerCut, Setting
from skavit.core.sheet.handing_over import MODE_TEXT, mode_words
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
            return _mode_text(setting, kind)
        case Boost():
            return f"boost {duration_text(setting.minutes * 60)}"
        case Countdown():
            return f"countdown {duration_text(setting.minutes * 60)}, then {'on' if setting.then_on else 'off'}"
        case Away():
            return f"away {count(setting.days, 'day')}"
        case PowerCut():
            return f"a power cut of {duration_text(setting.hours * 3600)}"
        case ClockSet():
            return "the clock set"
        case _:
            assert_never(setting)
