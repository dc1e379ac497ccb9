"""Forms of the unit's page. Each builds the plan file's own words and lets the core's readers judge them."""

from typing import Any, NamedTuple

from django import forms

from skavit.core import edits
from skavit.core.clock_settings import NAMED_RULES, ByHand, ClockSettings, NamedRule, read_clock
from skavit.core.days import DAILY, WEEKDAYS, Days, Narrowed
from skavit.core.errors import PlanError
from skavit.core.limits import Limits, read_limits
from skavit.core.plan import Entry, Plan, Window, read_entry, read_window
from skavit.core.reading import Node
from skavit.core.sheet import RULE_TEXT
from skavit.core.sun import DAY_S, SunEvent
from skavit.core.values import ClockTime
from skavit.core.wording import SHORT_DAYS, Words, capital, days_text
from skavit.units.typed import days_fields, days_json, time_fields, time_json

SUN_WORDS = [event.name.lower() for event in SunEvent]
TIME_KINDS = [("clock", "clock"), *((word, word) for word in SUN_WORDS)]
DAY_KINDS = [
    ("daily", "every day"),
    ("weekdays", "Mon to Fri"),
    ("weekends", "Sat, Sun"),
    ("chosen", "these weekdays"),
    ("odd", "odd dates"),
    ("even", "even dates"),
    ("every", "every n-th day"),
]


class TimeControl(NamedTuple):
    """The bound fields of one time, and what the closed control says."""

    prefix: str
    label: str
    kind: forms.BoundField
    clock: forms.BoundField
    offset: forms.BoundField
    not_before: forms.BoundField
    not_after: forms.BoundField
    errors: list[str]


class DaysControl(NamedTuple):
    """The bound fields of one day rule, and what the closed control says."""

    label: str
    kind: forms.BoundField
    chosen: forms.BoundField
    every: forms.BoundField
    start: forms.BoundField
    season_first: forms.BoundField
    season_last: forms.BoundField
    keep_except: forms.BoundField | None
    excepted: str
    errors: list[str]


class _Sentence(forms.Form):
    """Shared by windows and entries: times, and the days on which they hold."""

    prefixes: tuple[str, ...] = ()

    revision = forms.IntegerField(widget=forms.HiddenInput)
    days_kind = forms.ChoiceField(choices=DAY_KINDS, widget=forms.RadioSelect, required=False)
    days_chosen = forms.MultipleChoiceField(
        choices=list(zip(WEEKDAYS, SHORT_DAYS, strict=True)), widget=forms.CheckboxSelectMultiple, required=False
    )
    days_every = forms.IntegerField(required=False, min_value=1)
    days_from = forms.CharField(required=False)
    season_first = forms.CharField(required=False)
    season_last = forms.CharField(required=False)
    keep_except = forms.BooleanField(required=False)

    def __init__(
        self, *args: Any, place: str, index: int | None, words: Words, kept: Days | None = None, **kwargs: Any
    ) -> None:
        super().__init__(*args, auto_id=f"{place}-%s", **kwargs)
        self.place, self.index, self.kept, self.words = place, index, kept, words
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

    @property
    def is_new(self) -> bool:
        """Whether it adds a row rather than change one."""
        return self.index is None

    @property
    def note(self) -> str:
        """What the edit is called in the unit's history."""
        raise NotImplementedError

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        raise NotImplementedError

    def times(self) -> list[TimeControl]:
        """The time controls, for the templates."""
        return [
            TimeControl(
                prefix=prefix,
                label=self.labels.get(prefix, "…"),
                kind=self[f"{prefix}_kind"],
                clock=self[f"{prefix}_clock"],
                offset=self[f"{prefix}_offset"],
                not_before=self[f"{prefix}_not_before"],
                not_after=self[f"{prefix}_not_after"],
                errors=[
                    error
                    for name in ("kind", "clock", "offset", "not_before", "not_after")
                    for error in self.errors.get(f"{prefix}_{name}", [])
                ],
            )
            for prefix in self.prefixes
        ]

    def days(self) -> DaysControl:
        """The days control, for the templates."""
        without = self.kept.without if isinstance(self.kept, Narrowed) else ()
        names = ("days_kind", "days_chosen", "days_every", "days_from", "season_first", "season_last")
        return DaysControl(
            label=self.labels.get("days", "every day"),
            kind=self["days_kind"],
            chosen=self["days_chosen"],
            every=self["days_every"],
            start=self["days_from"],
            season_first=self["season_first"],
            season_last=self["season_last"],
            keep_except=self["keep_except"] if without else None,
            excepted=days_text(Narrowed(days=DAILY, without=without)).removeprefix("every day ") if without else "",
            errors=[error for name in names for error in self.errors.get(name, [])],
        )

    def refuse(self, error: PlanError, places: dict[str, str]) -> None:
        """Show an error of the core at the field that its path names."""
        key = error.path.split(".")[0].split("[")[0]
        self.add_error(places.get(key), f"{capital(error.wrong)}. Accepted: {error.accepted}.")


class WindowForm(_Sentence):
    """A window as a sentence: on from ... until ... on ..."""

    prefixes = ("from", "to")

    ends = forms.ChoiceField(
        choices=[("", "as the times suggest"), ("same-day", "the same day"), ("next-day", "the next day")],
        required=False,
    )
    for_min = forms.IntegerField(required=False, min_value=1)

    def __init__(self, *args: Any, channel: int, shown: Window | None = None, **kwargs: Any) -> None:
        super().__init__(*args, kept=shown.days if shown else None, **kwargs)
        self.channel = channel
        kind = self.fields["to_kind"]
        kind.choices = [*TIME_KINDS, ("for", "for so long")]  # type: ignore[attr-defined]
        self.window: Window | None = None
        if shown:
            self.initial |= _window_fields(shown)
            self.labels = {
                "from": self.words.time(shown.start),
                "to": self.words.time(shown.to) if shown.to else f"{shown.for_min} min later",
                "days": days_text(shown.days),
            }
        else:
            self.initial |= {"from_kind": "sunset", "to_kind": "clock", "days_kind": "daily"}

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
        places = {"from": "from_clock", "to": "to_clock", "for_min": "for_min", "days": "days_kind", "ends": "ends"}
        try:
            self.window = read_window(Node(found))
        except PlanError as error:
            self.refuse(error, places)
        return data


def _window_fields(window: Window) -> dict[str, Any]:
    """The fields of a form that shows a window."""
    found = {"for_min": window.for_min, "ends": _explicit_end(window)}
    found |= time_fields(window.start, "from") | time_fields(window.to, "to") | days_fields(window.days)
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


class EntryForm(_Sentence):
    """One entry: channels, ON or OFF, at, on which days."""

    prefixes = ("at",)

    action = forms.ChoiceField(choices=[("on", "ON"), ("off", "OFF")], widget=forms.RadioSelect)
    channels = forms.TypedMultipleChoiceField(coerce=int, widget=forms.CheckboxSelectMultiple, required=False)

    def __init__(self, *args: Any, plan: Plan, shown: Entry | None = None, **kwargs: Any) -> None:
        super().__init__(*args, kept=shown.days if shown else None, **kwargs)
        self.plan = plan
        if shown:
            self.initial |= {"action": shown.action, "channels": list(shown.channels)}
            self.initial |= time_fields(shown.at, "at") | days_fields(shown.days)
        else:
            self.initial |= {"action": "on", "channels": [1], "days_kind": "daily", "at_kind": "clock"}
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
        return "entry added" if self.index is None else f"slot {self.index + 1} changed"

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
        places = {"channels": "channels", "action": "action", "at": "at_clock", "days": "days_kind"}
        try:
            self.entry = read_entry(Node(found), len(self.plan.channels), self.plan.unit.sun_source)
        except PlanError as error:
            self.refuse(error, places)
        return data


class UnitForm(forms.Form):
    """A new unit: its name, where it hangs, and its outputs."""

    name = forms.CharField(max_length=80, label="Name", help_text="What the crew calls it, such as Path lights.")
    whereabouts = forms.CharField(
        max_length=120, required=False, label="Where it hangs", help_text="Such as: box at the north door, lower half."
    )
    channel_1 = forms.CharField(max_length=80, label="Channel 1", help_text="What the first output switches.")
    channel_2 = forms.CharField(max_length=80, required=False, label="Channel 2", help_text="Empty: one output only.")

    def channels(self) -> list[str]:
        """The names of the outputs."""
        return [name for key in ("channel_1", "channel_2") if (name := self.cleaned_data.get(key))]


class ChannelForm(forms.Form):
    """A channel's name."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    name = forms.CharField(max_length=80, label="Channel")


class ImportForm(forms.Form):
    """A plan file."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    file = forms.FileField(label="Plan file", help_text="A skavit-plan/1 file, at most 16 MB.")


GROUP_CHOICES = [
    ("daily", "every day"),
    ("weekdays", "Mon to Fri"),
    ("weekends", "Sat, Sun"),
    ("single-days", "each weekday alone"),
    ("any", "any set of weekdays"),
]


class BehaviourForm(forms.Form):
    """How the unit's clock runs, how it returns to automatic, and what its memory holds."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    dst = forms.ChoiceField(label="Summer time", choices=[(n, capital(RULE_TEXT[n])) for n in NAMED_RULES])
    error_s = forms.IntegerField(
        label="Clock is ahead by, seconds", required=False, help_text="Behind: a minus. 3600 is an hour ahead."
    )
    on_return_to_auto = forms.ChoiceField(
        label="Put back to automatic, it",
        choices=[("computes", "goes to what its program has now"), ("waits", "keeps its output until the next entry")],
    )
    entries = forms.IntegerField(label="Slots in all", required=False, min_value=0, help_text="Empty: no limit.")
    day_groups = forms.MultipleChoiceField(
        label="Day groups of one slot",
        choices=GROUP_CHOICES,
        required=False,
        widget=forms.CheckboxSelectMultiple,
        help_text="None ticked: any days, odd and even dates and seasons too.",
    )
    clock_step_s = forms.IntegerField(
        label="Steps of clock times, seconds", required=False, min_value=1, help_text="60 for whole minutes."
    )
    sun_offset_max_min = forms.IntegerField(label="Largest sun offset, minutes", required=False, min_value=0)
    sun_events = forms.MultipleChoiceField(
        label="Sun times it knows",
        choices=[(word, word) for word in SUN_WORDS],
        required=False,
        widget=forms.CheckboxSelectMultiple,
        help_text="None ticked: all four.",
    )
    limited_times = forms.BooleanField(label="A slot can hold not before and not after", required=False)

    def __init__(self, *args: Any, plan: Plan, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.plan = plan
        self.clock: ClockSettings = plan.unit.clock
        self.limits: Limits = plan.unit.limits
        if not isinstance(plan.unit.clock.dst, NamedRule):
            own = "Set by hand, as in the plan file" if isinstance(plan.unit.clock.dst, ByHand) else "Its own rule"
            dst = self.fields["dst"]
            dst.choices = [*dst.choices, ("as-is", own)]  # type: ignore[attr-defined]

    @classmethod
    def showing(cls, plan: Plan, revision: int) -> "BehaviourForm":
        """An unbound form that shows a plan's unit."""
        limits, rule = plan.unit.limits.to_json(), plan.unit.clock.dst
        groups = [group for group in limits.pop("day_groups", []) if isinstance(group, str)]
        initial = limits | {
            "revision": revision,
            "dst": rule.name if isinstance(rule, NamedRule) else "as-is",
            "error_s": int(plan.unit.clock.error_s) or None,
            "on_return_to_auto": plan.unit.on_return_to_auto,
            "day_groups": groups,
        }
        return cls(initial=initial, plan=plan)

    def clean(self) -> dict[str, Any]:
        """Read clock and limits by the core's rules; what the form does not show stays as it is."""
        data = super().clean() or {}
        if self.errors:
            return data
        clock = self.plan.unit.clock.to_json()
        if data["dst"] != "as-is":
            clock["dst"] = data["dst"]
        clock.pop("error_s", None)
        if data.get("error_s"):
            clock["error_s"] = data["error_s"]
        kept = self.plan.unit.limits.to_json()
        shown = ("entries", "clock_step_s", "sun_offset_max_min", "sun_events", "limited_times")
        limits = {k: v for k, v in kept.items() if k not in shown and k != "day_groups"}
        limits |= {k: data[k] for k in shown if data.get(k) not in (None, [], False)}
        own_groups = [g for g in kept.get("day_groups", []) if not isinstance(g, str)]
        if data.get("day_groups") or own_groups:
            limits["day_groups"] = [*data["day_groups"], *own_groups]
        try:
            self.clock = read_clock(Node(clock, "dst"))
            self.limits = read_limits(Node(limits))
        except PlanError as error:
            key = error.path.split(".")[-1].split("[")[0]
            self.add_error(key if key in self.fields else None, f"{capital(error.wrong)}. Accepted: {error.accepted}.")
        return data
