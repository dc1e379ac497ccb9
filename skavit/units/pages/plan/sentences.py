"""The forms of windows and entries, written as sentences whose parts are the controls.

Each builds the plan file's own words from what was typed, and lets the core's readers judge them.
"""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Any, NamedTuple

from django import forms
from django.forms.boundfield import BoundWidget

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan import edits
from skavit.core.plan.days import DAILY, NAMED, WEEKDAYS, Days, Narrowed
from skavit.core.plan.document import Plan
from skavit.core.plan.entry import Entry, read_entry
from skavit.core.plan.limits import Limits
from skavit.core.plan.times import ClockTime
from skavit.core.plan.window import Window
from skavit.core.sun.days import SunEvent
from skavit.core.text.typed import clock_word
from skavit.core.text.wording import SHORT_DAYS, Words, capital, cycle_text, days_text
from skavit.units.pages.numbered import slot_words
from skavit.units.pages.plan.fields import days_fields, days_json, other_exceptions, time_fields, time_json

TIME_KINDS = [("clock", "clock"), *((word, word) for word in (event.name.lower() for event in SunEvent))]


TIME_PARTS = ("kind", "clock", "offset", "not_before", "not_after")
DAY_KINDS = [
    ("daily", "every day"),
    ("weekdays", "Mon to Fri"),
    ("weekends", "Sat, Sun"),
    ("chosen", "these weekdays"),
    ("odd", "odd dates"),
    ("even", "even dates"),
    ("every", "every n-th day"),
    ("dates", "these dates"),
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Offered:
    """The choices of a control: what the unit can hold and what is chosen, and the rest behind one word."""

    held: list[BoundWidget]
    rest: list[BoundWidget]

    @classmethod
    def of(cls, field: forms.BoundField, held: Collection[str]) -> "Offered":
        """The choices of a bound field by whether the unit can hold them."""
        chosen = field.value()
        fits = {str(w.data["value"]): w.data["value"] in held or w.data["value"] == chosen for w in field.subwidgets}
        return cls(
            held=[w for w in field.subwidgets if fits[str(w.data["value"])]],
            rest=[w for w in field.subwidgets if not fits[str(w.data["value"])]],
        )


def held_times(limits: Limits) -> frozenset[str]:
    """The sorts of time that one of a unit's slots can hold, and so long as a window may last."""
    banks = limits.slots or ()
    events = SunEvent if limits.sun_events is None else limits.sun_events
    by_sun = not banks or any(bank.holds_time(by_sun=True) for bank in banks)
    return frozenset({"clock", "for", *(event.name.lower() for event in events if by_sun)})


def held_days(limits: Limits) -> frozenset[str]:
    """The sorts of days that one of a unit's slots can hold."""
    if limits.day_groups is None:
        return frozenset(name for name, _ in DAY_KINDS)
    masks = limits.masks()
    named = {name for name, mask in NAMED.items() if mask in masks}
    return frozenset(named | {"as-is"} | ({"chosen"} if masks - set(NAMED.values()) else set()))


class TimeControl(NamedTuple):
    """The bound fields of one time, and what the closed control says."""

    prefix: str
    label: str
    kind: Offered
    clock: forms.BoundField
    offset: forms.BoundField
    not_before: forms.BoundField
    not_after: forms.BoundField
    errors: list[str]
    typed: bool  # stands open in a form that was overtaken: what was typed there is another than what stood there


class DaysControl(NamedTuple):
    """The bound fields of one day rule, and what the closed control says."""

    label: str
    kind: Offered
    chosen: forms.BoundField
    every: forms.BoundField
    start: forms.BoundField
    dates: forms.BoundField
    except_dates: forms.BoundField
    season_first: forms.BoundField
    season_last: forms.BoundField
    keep_except: forms.BoundField | None
    excepted: str
    errors: list[str]
    typed: bool


class Sentence(forms.Form):
    """Shared by windows and entries: times, and the days on which they hold."""

    prefixes: tuple[str, ...] = ()

    revision = forms.IntegerField(widget=forms.HiddenInput)
    days_kind = forms.ChoiceField(choices=DAY_KINDS, widget=forms.RadioSelect, required=False)
    days_chosen = forms.MultipleChoiceField(
        choices=list(zip(WEEKDAYS, SHORT_DAYS, strict=True)), widget=forms.CheckboxSelectMultiple, required=False
    )
    days_every = forms.IntegerField(required=False, min_value=1)
    days_from = forms.CharField(required=False)
    days_dates = forms.CharField(required=False)
    except_dates = forms.CharField(required=False)
    season_first = forms.CharField(required=False)
    season_last = forms.CharField(required=False)
    keep_except = forms.BooleanField(required=False)

    def __init__(
        self,
        *args: Any,
        place: str,
        index: int | None,
        words: Words,
        limits: Limits,
        kept: Days | None = None,
        **kwargs: Any,
    ) -> None:
        super().__init__(*args, **{**kwargs, "auto_id": f"{place}-%s"})
        self.place, self.index, self.kept, self.words, self.limits = place, index, kept, words, limits
        for prefix in self.prefixes:
            self.fields[f"{prefix}_kind"] = forms.ChoiceField(
                choices=TIME_KINDS, widget=forms.RadioSelect, required=False
            )
            self.fields[f"{prefix}_clock"] = forms.CharField(required=False, max_length=12)
            self.fields[f"{prefix}_offset"] = forms.IntegerField(required=False)
            self.fields[f"{prefix}_not_before"] = forms.CharField(required=False, max_length=12)
            self.fields[f"{prefix}_not_after"] = forms.CharField(required=False, max_length=12)
        if kept is not None and days_fields(kept).get("days_kind") == "as-is":
            kind = self.fields["days_kind"]
            kind.choices = [*DAY_KINDS, ("as-is", days_text(kept))]  # type: ignore[attr-defined]
        self.labels: dict[str, str] = {}
        self.overtaken = False  # somebody else has changed the plan since it was opened

    def _typed(self, *names: str) -> bool:
        return self.overtaken and any(name in self.changed_data for name in names)

    @property
    def is_new(self) -> bool:
        """Whether it adds a row rather than change one."""
        return self.index is None

    def times(self) -> list[TimeControl]:
        """The time controls, for the templates."""
        return [
            TimeControl(
                prefix=prefix,
                label=self.labels.get(prefix, "…"),
                kind=Offered.of(self[f"{prefix}_kind"], held_times(self.limits)),
                clock=self[f"{prefix}_clock"],
                offset=self[f"{prefix}_offset"],
                not_before=self[f"{prefix}_not_before"],
                not_after=self[f"{prefix}_not_after"],
                errors=[str(error) for name in TIME_PARTS for error in self.errors.get(f"{prefix}_{name}", [])],
                typed=self._typed(*(f"{prefix}_{name}" for name in TIME_PARTS)),
            )
            for prefix in self.prefixes
        ]

    def days(self) -> DaysControl:
        """The days control, for the templates."""
        without = other_exceptions(self.kept)
        names = ("days_kind", "days_chosen", "days_every", "days_from", "days_dates", "except_dates", "season_first",
                 "season_last")  # fmt: skip
        return DaysControl(
            label=self.labels.get("days", "every day"),
            kind=Offered.of(self["days_kind"], held_days(self.limits)),
            chosen=self["days_chosen"],
            every=self["days_every"],
            start=self["days_from"],
            dates=self["days_dates"],
            except_dates=self["except_dates"],
            season_first=self["season_first"],
            season_last=self["season_last"],
            keep_except=self["keep_except"] if without else None,
            excepted=days_text(Narrowed(days=DAILY, without=without)).removeprefix("every day ") if without else "",
            errors=[str(error) for name in names for error in self.errors.get(name, [])],
            typed=self._typed(*names),
        )

    def refuse(self, error: PlanError, places: dict[str, str]) -> None:
        """Show an error of the core at the field that its path names."""
        key = error.path.split(".")[0].split("[")[0]
        self.add_error(places.get(key), f"{capital(error.wrong)}. Accepted: {error.accepted}.")


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

    def __init__(self, *args: Any, channel: int, shown: Window | None = None, **kwargs: Any) -> None:
        super().__init__(*args, kept=shown.days if shown else None, **kwargs)
        self.channel = channel
        kind = self.fields["to_kind"]
        kind.choices = [*TIME_KINDS, ("for", "for so long")]  # type: ignore[attr-defined]
        self.window: Window | None = None
        if shown:
            self.initial = {**self.initial, **_window_fields(shown)}
            self.labels = {
                "from": self.words.time(shown.start),
                "to": self.words.time(shown.to) if shown.to else f"{shown.for_min} min later",
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
        found: dict[str, Any] = {"from": time_json(data, "from"), "days": days_json(data, self.kept)}
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
        return data


def _window_fields(window: Window) -> dict[str, Any]:
    """The fields of a form that shows a window."""
    found = {"for_min": window.for_min, "ends": _explicit_end(window)}
    found |= time_fields(window.start, "from") | time_fields(window.to, "to") | days_fields(window.days)
    if window.repeat:
        found |= {"pulse_on_s": window.repeat.on_s, "pulse_every_s": window.repeat.every_s}
    if window.to is None:
        found["to_kind"] = "for"
    if window.to == ClockTime(DAY_S):
        found["to_clock"] = "24:00"
    return found


def _explicit_end(window: Window) -> str:
    """`ends` where it says other than the times suggest."""
    if window.to is None or window.to == ClockTime(DAY_S):
        return ""
    suggested = window.to.nominal_s <= window.start.nominal_s
    if window.ends_next_day == suggested:
        return ""
    return "next-day" if window.ends_next_day else "same-day"


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
        self.plan, self.keying = plan, keying
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
            "days": days_json(data, self.kept),
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
