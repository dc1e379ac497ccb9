"""Adjusting a kind to the manual in hand. What is typed becomes a document that the core's reader judges."""

from typing import Any

from django import forms

from skavit.core.errors import PlanError
from skavit.core.kinds import Kind, read_kind
from skavit.core.kinds.kind import OFFSETS, RULES
from skavit.core.reading import Node
from skavit.core.wording import capital
from skavit.kinds.selectors import OFFSET_TEXT

KEY_PREFIX = "key-"


class KindForm(forms.Form):
    """The parts of a kind that manuals differ in; its dialogues are changed in its file."""

    name = forms.CharField(max_length=80, label="Name", help_text="What it is, in general words.")
    says = forms.CharField(max_length=300, label="In a sentence")
    channels = forms.IntegerField(min_value=1, max_value=48, label="Outputs")
    entries = forms.IntegerField(
        min_value=1, max_value=10_000, required=False, label="Entries it holds", help_text="An ON and an OFF are two."
    )
    clock_step_s = forms.IntegerField(
        min_value=1, max_value=3600, required=False, label="Steps of its clock times, seconds"
    )
    hours = forms.ChoiceField(choices=[("24", "24 hours"), ("12", "12 hours, AM and PM")], label="Its clock shows")
    has_date = forms.BooleanField(required=False, label="It holds a date, not only a weekday")
    rules = forms.MultipleChoiceField(
        choices=[(name, name) for name in RULES], widget=forms.CheckboxSelectMultiple, label="Summer time it knows"
    )
    offset = forms.ChoiceField(choices=[(name, OFFSET_TEXT[name]) for name in OFFSETS], label="It takes an offset as")
    reserve_h = forms.FloatField(min_value=0, max_value=200_000, required=False, label="Keeps the clock, hours")
    battery = forms.CharField(max_length=120, required=False, label="By what")
    returns = forms.ChoiceField(
        label="Put back to automatic, it",
        choices=[("computes", "goes to what its program has now"), ("waits", "keeps its output until the next entry")],
    )
    cover_switches = forms.BooleanField(required=False, label="Shutting its cover can switch the output")
    dark_after_s = forms.IntegerField(
        min_value=0, max_value=3600, required=False, label="Its screen goes dark after, seconds"
    )
    before = forms.CharField(
        widget=forms.Textarea(attrs={"rows": 4}), required=False, label="Before mounting, a line each"
    )

    def __init__(self, *args: Any, kind: Kind, **kwargs: Any) -> None:
        super().__init__(*args, initial=_shown(kind), **kwargs)
        self.kind = kind
        self.made: Kind | None = None
        for key in kind.keys:
            self.fields[f"{KEY_PREFIX}{key}"] = forms.CharField(
                max_length=30, label=f"Key “{key}” is marked", initial=key
            )

    def clean(self) -> dict[str, Any]:
        """The kind with what was typed, if the core takes it."""
        data = super().clean() or {}
        if self.errors:
            return data
        try:
            self.made = read_kind(Node(_document(self.kind, data)))
        except PlanError as error:
            raise forms.ValidationError(
                f"{capital(error.path or 'the kind')}: {error.wrong}. Accepted: {error.accepted}."
            ) from error
        return data


class KindFileForm(forms.Form):
    """The file of a kind."""

    file = forms.FileField(label="Kind file", help_text="A skavit-kind/1 file.")


def _shown(kind: Kind) -> dict[str, Any]:
    return {
        "name": kind.name,
        "says": kind.says,
        "channels": kind.channels,
        "entries": kind.limits.entries,
        "clock_step_s": kind.limits.clock_step_s,
        "hours": str(kind.clock.hours),
        "has_date": kind.clock.has_date,
        "rules": list(kind.clock.rules),
        "offset": kind.sun.offset,
        "reserve_h": kind.power.reserve_h,
        "battery": kind.power.battery,
        "returns": kind.modes.returns if kind.modes else "computes",
        "cover_switches": kind.cover_switches,
        "dark_after_s": kind.dark_after_s or None,
        "before": "\n".join(setting.what for setting in kind.before),
    }


def _document(kind: Kind, data: dict[str, Any]) -> dict[str, Any]:
    """The kind's document with the form's values; what a form leaves empty is left out."""
    found = kind.to_json()
    renamed = {key: data[f"{KEY_PREFIX}{key}"].strip() for key in kind.keys}
    found = _with_keys(found, renamed)
    cautions = {setting.what: setting.caution for setting in kind.before}
    lines = [line.strip() for line in data["before"].splitlines() if line.strip()]
    found["before"] = [{"what": line, **({"caution": cautions[line]} if cautions.get(line) else {})} for line in lines]
    for key in ("name", "says", "channels", "cover_switches"):
        found[key] = data[key]
    found["dark_after_s"] = data["dark_after_s"] or 0
    _put(found, "limits", entries=data["entries"], clock_step_s=data["clock_step_s"])
    _put(found, "clock", hours=int(data["hours"]), has_date=data["has_date"], rules=data["rules"])
    _put(found, "sun", offset=data["offset"])
    _put(found, "power", reserve_h=data["reserve_h"], battery=data["battery"] or None)
    if kind.modes:
        _put(found, "modes", returns=data["returns"])
    return found


def _put(document: dict[str, Any], part: str, **values: Any) -> None:
    inner = dict(document.get(part, {}))
    for key, value in values.items():
        inner.pop(key, None)
        if value is not None:
            inner[key] = value
    document[part] = inner


def _with_keys(value: Any, renamed: dict[str, str], *, of_keys: bool = False) -> Any:
    """A document with its keys under other names, wherever a key of the unit stands."""
    places = {"keys", "key", "accept", "leave", "next"}
    if isinstance(value, dict):
        return {name: _with_keys(inner, renamed, of_keys=name in places) for name, inner in value.items()}
    if isinstance(value, list):
        return [_with_keys(inner, renamed, of_keys=of_keys) for inner in value]
    return renamed.get(value, value) if of_keys and isinstance(value, str) else value
