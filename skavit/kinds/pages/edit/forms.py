"""Adjusting a kind to the manual in hand. What is typed becomes a document that the core's reader judges."""

from collections.abc import Iterator
from typing import Any

from django import forms

from skavit.core.kinds import Kind
from skavit.core.kinds.likely import with_likely_keys
from skavit.core.kinds.offsets import with_offset
from skavit.core.kinds.parts import OFFSETS, RULES
from skavit.core.text.wording import RULE_TEXT
from skavit.kinds.pages.edit.document import DocumentForm, Group
from skavit.kinds.words import OFFSET_TEXT

KEY_PREFIX = "key-"
# Each field and where its value is in the kind's document.
PATHS = {
    "name": ("name",),
    "says": ("says",),
    "channels": ("channels",),
    "entries": ("limits", "entries"),
    "day_groups": ("limits", "day_groups"),
    "clock_step_s": ("limits", "clock_step_s"),
    "sun_offset_max_min": ("limits", "sun_offset_max_min"),
    "hours": ("clock", "hours"),
    "hours_switch": ("clock", "hours_switch"),
    "has_date": ("clock", "has_date"),
    "rules": ("clock", "rules"),
    "morning_word": ("sun", "morning_word"),
    "evening_word": ("sun", "evening_word"),
    "margin_min": ("sun", "margin_min"),
    "empty": ("slot", "empty"),
    "on_word": ("slot", "on_word"),
    "off_word": ("slot", "off_word"),
    "battery": ("power", "battery"),
    "battery_months": ("power", "battery_months"),
    "reserve_h": ("power", "reserve_h"),
    "charge_h": ("power", "charge_h"),
    "settle_min": ("power", "settle_min"),
    "returns": ("modes", "returns"),
    "cover_switches": ("cover_switches",),
    "dark_after_s": ("dark_after_s",),
}
GROUPS = [
    ("daily", "every day"),
    ("weekdays", "Mon to Fri"),
    ("weekends", "Sat, Sun"),
    ("single-days", "each weekday alone"),
    ("any", "any set of weekdays"),
]


def _words(label: str, *, needed: bool = False, help_text: str = "", longest: int = 120) -> forms.CharField:
    return forms.CharField(max_length=longest, required=needed, label=label, help_text=help_text)


def _number(label: str, low: int, high: int, help_text: str = "") -> forms.IntegerField:
    return forms.IntegerField(min_value=low, max_value=high, required=False, label=label, help_text=help_text)


class KindForm(DocumentForm):
    """The parts of a kind that manuals differ in; its keys and its memory have forms of their own."""

    name = _words("Name", needed=True, help_text="What it is, in general words.", longest=80)
    says = _words("In a sentence", needed=True, longest=300)
    channels = forms.IntegerField(min_value=1, max_value=48, label="Outputs")
    entries = _number("Entries it holds", 1, 10_000, "An ON and an OFF are two.")
    day_groups = forms.MultipleChoiceField(
        choices=GROUPS, widget=forms.CheckboxSelectMultiple, required=False, label="Days that a slot can carry"
    )
    clock_step_s = _number("Steps of its clock times, seconds", 1, 3600)
    sun_offset_max_min = _number("Largest offset or correction, minutes", 0, 720)
    hours = forms.ChoiceField(choices=[("24", "24 hours"), ("12", "12 hours, AM and PM")], label="Its clock shows")
    hours_switch = _words("How it goes from 12 to 24 hours")
    has_date = forms.BooleanField(required=False, label="It holds a date, not only a weekday")
    rules = forms.MultipleChoiceField(
        choices=[(name, RULE_TEXT[name]) for name in RULES],
        widget=forms.CheckboxSelectMultiple,
        label="Daylight-saving rules it knows",
    )
    morning_word = _words("Its word for sunrise", longest=20)
    evening_word = _words("Its word for sunset", longest=20)
    margin_min = _number("Margin built into them, minutes", 0, 120)
    offset = forms.ChoiceField(choices=[(name, OFFSET_TEXT[name]) for name in OFFSETS], label="It takes an offset as")
    empty = _words("An empty slot reads", longest=20)
    on_word = _words("Its word for ON", longest=20)
    off_word = _words("Its word for OFF", longest=20)
    battery = _words("The clock is kept by")
    battery_months = _number("which lasts, months", 1, 480)
    reserve_h = forms.FloatField(min_value=0, max_value=200_000, required=False, label="for so many hours")
    charge_h = forms.FloatField(min_value=0, max_value=1000, required=False, label="after hours of charge")
    settle_min = _number("Minutes before an indicator is believed", 0, 1440)
    returns = forms.ChoiceField(
        label="Put back to automatic, it",
        choices=[("computes", "goes to what its program has now"), ("waits", "keeps its output until the next entry")],
    )
    cover_switches = forms.BooleanField(required=False, label="Shutting its cover can switch the output")
    dark_after_s = _number("Its screen goes dark after, seconds", 0, 3600)
    before = forms.CharField(
        widget=forms.Textarea(attrs={"rows": 4}), required=False, label="Before mounting, a line each"
    )

    def __init__(self, *args: Any, kind: Kind, version: int, **kwargs: Any) -> None:
        super().__init__(*args, kind=kind, version=version, **kwargs)
        if kind.modes is None:
            del self.fields["returns"]
        if kind.watering or kind.heating:  # its stations or zones stand in a form of their own
            for name in ("channels", "entries", "empty", "on_word", "off_word"):
                del self.fields[name]
        for key in kind.keys:
            self.fields[f"{KEY_PREFIX}{key}"] = forms.CharField(
                max_length=30, label=f"Key “{key}” is marked", initial=key
            )

    @staticmethod
    def shown(kind: Kind) -> dict[str, Any]:
        """What the form shows of a kind."""
        return _shown(kind)

    def document(self, data: dict[str, Any]) -> dict[str, Any]:
        """The kind's document with what was typed."""
        return _document(self.kind, data)

    def make(self, data: dict[str, Any]) -> Kind:
        """The kind with what was typed; with the keys for other outputs, or for an offset taken another way."""
        return with_offset(with_likely_keys(self.kind, super().make(data)), data["offset"])

    def groups(self) -> Iterator[Group]:
        """The fields by what they are about."""
        yield self.group("What it is", "name", "says", "channels", "before")
        yield self.group("Clock", "hours", "hours_switch", "has_date", "rules", "battery", "battery_months", "reserve_h", "charge_h",
                         "settle_min")  # fmt: skip
        yield self.group("Slots", "entries", "day_groups", "clock_step_s", "empty", "on_word", "off_word")
        yield self.group("Sun", "morning_word", "evening_word", "margin_min", "offset", "sun_offset_max_min")
        yield self.group("Mode, cover, screen", "returns", "cover_switches", "dark_after_s")
        yield self.group("Keys", *(f"{KEY_PREFIX}{key}" for key in self.kind.keys))


def _shown(kind: Kind) -> dict[str, Any]:
    """What the form shows of a kind."""
    found: dict[str, Any] = {"before": "\n".join(setting.what for setting in kind.before)}
    for field, path in PATHS.items():
        value: Any = kind
        for step in path:
            value = getattr(value, step, None)
        found[field] = list(value) if isinstance(value, tuple) else value
    found["hours"] = str(kind.clock.hours)
    found["offset"] = kind.sun.offset
    groups = kind.limits.to_json().get("day_groups", [])
    found["day_groups"] = [group for group in groups if isinstance(group, str)]
    return found


def _document(kind: Kind, data: dict[str, Any]) -> dict[str, Any]:
    """The kind's document with the form's values; what a form leaves empty is left out."""
    renamed = {key: data[f"{KEY_PREFIX}{key}"].strip() for key in kind.keys}
    found = _with_keys(kind.to_json(), renamed)
    cautions = {setting.what: setting.caution for setting in kind.before}
    lines = [line.strip() for line in data["before"].splitlines() if line.strip()]
    found["before"] = [{"what": line, **({"caution": cautions[line]} if cautions.get(line) else {})} for line in lines]
    # Sets of weekdays that have no name are kept as they are, in their place.
    sets = [group for group in kind.limits.to_json().get("day_groups", []) if not isinstance(group, str)]
    groups = [*data["day_groups"], *sets]
    values = {**data, "hours": int(data["hours"]), "day_groups": groups or None}
    if groups and _as_before(kind, groups):
        values["day_groups"] = kind.limits.to_json()["day_groups"]
    for field, path in PATHS.items():
        if field in values:
            _put(found, path, values[field])
    return found


def _as_before(kind: Kind, groups: list[Any]) -> bool:
    """Whether the groups are the kind's own, in whatever order: then theirs stays, since a day key steps by it."""
    own = kind.limits.to_json().get("day_groups", [])
    return len(own) == len(groups) and all(group in own for group in groups)


def _put(document: dict[str, Any], path: tuple[str, ...], value: Any) -> None:
    *parts, last = path
    for part in parts:
        document = document.setdefault(part, {})
    document.pop(last, None)
    if value not in (None, ""):
        document[last] = value


def _with_keys(value: Any, renamed: dict[str, str], *, of_keys: bool = False) -> Any:
    """A document with its keys under other names, wherever a key of the unit is."""
    places = {"keys", "key", "accept", "leave", "next"}
    if isinstance(value, dict):
        return {name: _with_keys(inner, renamed, of_keys=name in places) for name, inner in value.items()}
    if isinstance(value, list):
        return [_with_keys(inner, renamed, of_keys=of_keys) for inner in value]
    return renamed.get(value, value) if of_keys and isinstance(value, str) else value
