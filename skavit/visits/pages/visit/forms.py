"""What is written down at a visit: as found, what was done, as left."""

import datetime as dt
from dataclasses import dataclass
from typing import Any, ClassVar

from django import forms

from skavit.core.plan.document import Plan
from skavit.core.plan.sorts import Sort
from skavit.core.text.wording import Words
from skavit.typed_fields import DateField, in_words
from skavit.units.pages.as_found.forms import MODES, AsFoundForm
from skavit.visits.services.visits import LONGEST_LINES, LONGEST_VALUE, Found

KEYED, NOT_KEYED = "keyed", "nothing"
AUTOMATIC = MODES[0]
SUSPENDED = (("", "nothing"), ("date", "until a date"), ("open", "until further notice"))


def _choice(label: str, *choices: tuple[str, str], **more: Any) -> forms.ChoiceField:
    return forms.ChoiceField(label=label, choices=choices, required=False, widget=forms.RadioSelect, **more)


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """Fields that belong together."""

    slug: str
    title: str
    says: str
    fields: list[forms.BoundField]


class VisitForm(AsFoundForm):
    """All of a visit. Everything may be left empty until it is ended."""

    battery = _choice("Its battery", ("", "not looked at"), ("good", "good"), ("low", "low"), ("flat", "flat"))
    switches = forms.CharField(
        max_length=LONGEST_VALUE, required=False, label="Switches and jumpers", help_text="How each of them stands."
    )
    keyed = _choice("What stands in it now", (KEYED, "all as the sheet says"), (NOT_KEYED, "nothing was keyed"))
    battery_date = DateField(required=False, label="New battery of", help_text="")
    charge_h = forms.FloatField(required=False, min_value=0, max_value=1000, label="Hours of charge given")
    done = forms.CharField(
        max_length=LONGEST_VALUE, required=False, label="What else was done", widget=forms.Textarea(attrs={"rows": 2})
    )
    left_mode = _choice("Left in", *((mode, mode) for mode in MODES))
    tested = _choice("The test", ("", "not done"), ("seen", "on and off were seen"))
    after_cover = _choice(
        "Its output with the cover shut", ("", "not looked at"), ("right", "as it must be"), ("wrong", "something else")
    )
    suspended = _choice("Suspended", *SUSPENDED)
    suspended_until = DateField(required=False, label="Until", help_text="")
    signed = forms.CharField(max_length=80, required=False, label="Signed", help_text="Who was here, by name.")

    SECTIONS: ClassVar = (
        ("found", "As found", "Before anything is pressed. Leave empty what cannot be seen."),
        ("done", "Done", "The sheet keeps its own ticks."),
        ("left", "As left", "Look at the output again with the cover shut: shutting it can press a key."),
    )
    OF: ClassVar = {
        "found": ("time", "date", "weekday", "mode", "output", "battery", "sunrise", "sunset", "lines", "note"),
        "done": ("keyed", "battery_date", "charge_h", "switches", "done"),
        "left": ("left_mode", "tested", "after_cover", "suspended", "suspended_until", "signed"),
    }
    # Without these a visit says nothing.
    NEEDED: ClassVar = {
        "keyed": "Say whether anything was keyed.",
        "left_mode": "Say in which mode it was left.",
        "signed": "Sign it with a name.",
    }

    def __init__(
        self, *args: Any, plan: Plan, today: dt.date, words: Words, ending: bool = False, **kwargs: Any
    ) -> None:
        super().__init__(*args, plan=plan, today=today, **kwargs)
        self.ending = ending
        self.fields["lines"].widget.attrs["rows"] = 4
        if plan.sort == Sort.HEATS:
            del self.fields["lines"]
        for name in ("mode", "output"):
            self.fields[name].widget = forms.RadioSelect(choices=self.fields[name].choices)  # type: ignore[attr-defined]
        in_words(self, words)

    def clean(self) -> dict[str, Any]:
        """What a visit must say before it ends."""
        data = super().clean() or {}
        if self.ending:
            for name, text in self.NEEDED.items():
                if name not in self.errors and not data.get(name):
                    self.add_error(name, text)
            if (
                data.get("suspended") == "date"
                and not data.get("suspended_until")
                and "suspended_until" not in self.errors
            ):
                self.add_error("suspended_until", "Say until when.")
        return data

    def sections(self) -> list[Section]:
        """The fields as the page shows them."""
        return [
            Section(
                slug=slug, title=title, says=says, fields=[self[name] for name in self.OF[slug] if name in self.fields]
            )
            for slug, title, says in self.SECTIONS
        ]

    def dates(self) -> dict[str, str]:
        """The dates that were typed, of a form that is valid."""
        found = {name: self.cleaned_data[name] for name, field in self.fields.items() if isinstance(field, DateField)}
        return {name: day.isoformat() for name, day in found.items() if day is not None}

    def found(self) -> Found:
        """The unit as it was found, of a form that is valid."""
        if self.plan.sort == Sort.HEATS:
            return Found(shown={}, lines="", entries=())
        shown = self.shown() | ({"battery": self.cleaned_data["battery"]} if self.cleaned_data["battery"] else {})
        return Found(shown=shown, lines=self.cleaned_data["lines"], entries=self.entries)


def sent_values(data: Any, names: Any) -> dict[str, tuple[str, str]]:
    """What a page sent of some fields: by name what is in it now, and what stood there when somebody began to type."""
    found = {}
    for name in names:
        if name in data:
            most = LONGEST_LINES if name == "lines" else LONGEST_VALUE
            found[name] = (data[name].strip()[:most], data.get(f"was-{name}", "").strip()[:most])
    return found
