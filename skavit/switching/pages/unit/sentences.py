"""The forms of windows and entries."""

from dataclasses import replace
from typing import Any

from django import forms

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan import edits
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry, read_entry
from skavit.core.plan.times import ClockTime
from skavit.core.plan.window import Window
from skavit.core.simulation.window_ends import WindowEnds, window_ends
from skavit.core.text.typed import clock_word
from skavit.core.text.wording import Words, capital, count, cycle_text, days_text, duration_text
from skavit.server.now import read_now, year_at
from skavit.units.pages.numbered_findings import slot_words
from skavit.units.pages.unit.fields import days_fields, days_json, time_fields, time_json, with_named_dates
from skavit.units.pages.unit.sentence import TIME_KINDS, Sentence, held_times


class WindowForm(Sentence):
    """A window as a sentence: on from ... until ... on ..."""

    prefixes = ("from", "to")

    ends = forms.ChoiceField(
        choices=[("", "as the times suggest"), ("same-day", "the same day"), ("next-day", "the next day")],
        required=False,
    )
    for_min = forms.IntegerField(required=False, min_value=1)
    pulse_on_s = forms.IntegerField(required=False, min_value=1)
    pulse_every_s = forms.IntegerField(required=False, min_value=2)

    def __init__(self, *args: Any, plan: Plan, channel: int, shown: Window | None = None, **kwargs: Any) -> None:
        super().__init__(*args, kept=shown.days if shown else None, **kwargs)
        self.plan, self.channel, self.year = plan, channel, year_at(plan.site, read_now())
        kind = self.fields["to_kind"]
        kind.choices = [*TIME_KINDS, ("for", "for so long")]  # type: ignore[attr-defined]
        self.window: Window | None = None
        if shown:
            self.initial = {**self.initial, **_window_fields(shown), "ends": self._explicit_end(shown)}
            self.labels = {
                "from": self.words.time(shown.start),
                "to": end_text(shown, self.words),
                "days": days_text(shown.days),
                "pulses": cycle_text(shown.repeat),
            }
        else:
            start = "sunset" if "sunset" in held_times(self.limits) else "clock"
            self.initial = {**self.initial, "from_kind": start, "to_kind": "clock", "days_kind": "daily"}

    @property
    def note(self) -> str:
        """What the edit is called in the unit's history."""
        return "window added" if self.index is None else "window changed"

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        if self.window is None:
            raise ValueError(self.errors)
        if self.index is None:
            return edits.add_window(plan, self.channel, self.window)
        return edits.change_window(plan, self.channel, self.index, self.window)

    def clean(self) -> dict[str, Any]:
        """Read the window by the core's rules."""
        data = super().clean() or {}
        if self.errors:
            return data
        found: dict[str, Any] = {
            "from": time_json(data, "from"),
            "days": days_json(with_named_dates(data, self.plan.site.timezone, self.year), self.kept),
        }
        if data.get("to_kind") == "for":
            found["for_min"] = data.get("for_min") or 0
        else:
            found["to"] = time_json(data, "to")
            if data.get("ends"):
                found["ends"] = data["ends"]
        if data.get("pulse_on_s") or data.get("pulse_every_s"):
            found["repeat"] = {"on_s": data.get("pulse_on_s") or 0, "every_s": data.get("pulse_every_s") or 0}
        places = {"from": "from_clock", "to": "to_clock", "for_min": "for_min", "days": "days_kind", "ends": "ends",
                  "repeat": "pulse_every_s"}  # fmt: skip
        try:
            self.window = Window.read(Node(found))
        except PlanError as error:
            self.refuse(error, places)
        else:
            self._decide_end(self.window, given=bool(data.get("ends")))
            self._refuse_twice()
        return data

    def _decide_end(self, window: Window, *, given: bool) -> None:
        """The day on which it ends, by what the site's year does; where that does not decide it, the reader must."""
        ends = None if given else window_ends(window, self.plan.site, self.year)
        if ends is None:
            return
        if ends.decided is None:
            self.window = None
            self.add_error("ends", _undecided(ends, window, self.words, self.year))
            return
        self.window = replace(window, ends_next_day=ends.decided)

    def _refuse_twice(self) -> None:
        """A window that is there already is not added once more."""
        others = [w for n, w in enumerate(self.plan.channels[self.channel - 1].windows) if n != self.index]
        if self.window and any(replace(w, id=None) == replace(self.window, id=None) for w in others):
            self.window = None
            self.add_error(None, "This window is there already. Change the other one, or type another.")

    def _explicit_end(self, window: Window) -> str:
        """`ends` where the year does not decide it so by itself."""
        ends = window_ends(window, self.plan.site, self.year)
        if ends is None or ends.decided is window.ends_next_day:
            return ""
        return "next-day" if window.ends_next_day else "same-day"


def end_text(window: Window, words: Words) -> str:
    """When a window ends: 10:30 pm; sunrise, the next day; 20 min later."""
    if window.to is None:
        return f"{window.for_min} min later"
    return words.time(window.to) + (", the next day" if window.ends_next_day else "")


def _undecided(ends: WindowEnds, window: Window, words: Words, year: int) -> str:
    """What to ask where the times do not say on which day a window ends."""
    assert window.to is not None
    to, start = capital(words.time(window.to)), words.time(window.start)
    same = duration_text(round(ends.longest_same_s / 60) * 60)
    following = f"{ends.longest_next_s / 3600:.0f} h"
    if ends.next_day is None:
        return (
            f"{to} comes before {start} on {count(ends.before, 'day')} of {year}, and after it on the others. Choose the day on "
            f"which it ends. The same day: on for up to {same}, and not at all on those {count(ends.before, 'day')}. The next day: "
            f"on for up to {following}."
        )
    return f"It would be on for up to {following if ends.next_day else same}. If you want that, choose the day on which it ends."


def _window_fields(window: Window) -> dict[str, Any]:
    """The fields of a form that shows a window."""
    found: dict[str, Any] = {"for_min": window.for_min}
    found |= time_fields(window.start, "from") | time_fields(window.to, "to") | days_fields(window.days)
    if window.repeat:
        found |= {"pulse_on_s": window.repeat.on_s, "pulse_every_s": window.repeat.every_s}
    if window.to is None:
        found["to_kind"] = "for"
    if window.to == ClockTime(DAY_S):
        found["to_clock"] = "24:00"
    return found


class EntryForm(Sentence):
    """One entry: channels, ON or OFF, at, on which days."""

    prefixes = ("at",)

    action = forms.ChoiceField(choices=[("on", "ON"), ("off", "OFF"), ("pulse", "PULSE")], widget=forms.RadioSelect)
    seconds = forms.IntegerField(required=False, min_value=1)
    repeat_on_s = forms.IntegerField(required=False, min_value=1)
    repeat_off_s = forms.IntegerField(required=False, min_value=1)
    repeat_until = forms.CharField(required=False, max_length=12)
    channels = forms.TypedMultipleChoiceField(coerce=int, widget=forms.CheckboxSelectMultiple, required=False)
    disabled = forms.BooleanField(required=False, label="kept, but disabled: it does nothing")
    bypass = forms.BooleanField(
        required=False, label="past the reader: the door opens without a card, and no relay moves"
    )

    def __init__(self, *args: Any, plan: Plan, keying: int = 0, shown: Entry | None = None, **kwargs: Any) -> None:
        super().__init__(*args, kept=shown.days if shown else None, **kwargs)
        self.plan, self.keying, self.year = plan, keying, year_at(plan.site, read_now())
        if shown:
            self.initial = {**self.initial, "action": shown.action, "channels": list(shown.channels)}
            self.initial |= {"disabled": shown.disabled, "bypass": shown.bypass}
            self.initial = {
                **self.initial,
                **(time_fields(shown.at, "at") | days_fields(shown.days) | _pulse_fields(shown)),
            }
        else:
            self.initial = {**self.initial, "action": "on", "channels": [1], "days_kind": "daily", "at_kind": "clock"}
        choices = self.fields["channels"]
        choices.choices = [(n, c.name) for n, c in enumerate(plan.channels, start=1)]  # type: ignore[attr-defined]
        self.entry: Entry | None = None

    @property
    def several(self) -> bool:
        """Whether the unit has more than one channel."""
        return len(self.plan.channels) > 1

    @property
    def note(self) -> str:
        """What the edit is called in the unit's history."""
        return (
            "entry added"
            if self.index is None
            else f"{slot_words(self.plan, self.words, self.keying).slot(self.index + 1)} changed"
        )

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        if self.entry is None:
            raise ValueError(self.errors)
        if self.index is None:
            return edits.add_entry(plan, self.entry)
        return edits.change_entry(plan, self.index, self.entry)

    def clean(self) -> dict[str, Any]:
        """Read the entry by the core's rules."""
        data = super().clean() or {}
        if self.errors:
            return data
        found = {
            "channels": data.get("channels") or ([1] if len(self.plan.channels) == 1 else []),
            "action": data["action"],
            "at": time_json(data, "at"),
            "days": days_json(with_named_dates(data, self.plan.site.timezone, self.year), self.kept),
        }
        if data["action"] == "pulse":
            found["seconds"] = data.get("seconds") or 0
        if data.get("repeat_on_s") or data.get("repeat_off_s"):
            found["repeat"] = {
                "on_s": data.get("repeat_on_s") or 0,
                "off_s": data.get("repeat_off_s") or 0,
                "until": clock_word(data.get("repeat_until") or ""),
            }
        found |= {name: True for name in ("disabled", "bypass") if data.get(name)}
        places = {"channels": "channels", "action": "action", "at": "at_clock", "days": "days_kind",
                  "seconds": "seconds", "repeat": "repeat_until"}  # fmt: skip
        try:
            self.entry = read_entry(Node(found), len(self.plan.channels), self.plan.unit.sun)
        except PlanError as error:
            self.refuse(error, places)
        return data


def _pulse_fields(entry: Entry) -> dict[str, Any]:
    """The fields of a form that show how an entry ends itself."""
    if entry.repeat is None:
        return {"seconds": entry.pulse_s}
    until = str(entry.repeat.until)
    return {"repeat_on_s": entry.repeat.on_s, "repeat_off_s": entry.repeat.off_s, "repeat_until": until}
