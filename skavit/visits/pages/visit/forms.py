"""What is written down at a visit: as found, what was done, as left."""

import datetime as dt
from dataclasses import dataclass
from typing import Any, ClassVar

from django import forms
from django.utils.translation import gettext
from django.utils.translation import gettext_lazy as _

from skavit.core.kinds import Kind
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words
from skavit.units.pages.as_found.forms import MODES, AsFoundForm
from skavit.units.trades import NotWritten, pages_of
from skavit.visits.services.visits import LONGEST_LINES, LONGEST_VALUE, Found
from skavit.web.typed_fields import DateField, in_words

KEYED, NOT_KEYED = "keyed", "nothing"
SUSPENDED = (("", _("nothing")), ("date", _("until a date")), ("open", _("until further notice")))


def _choice(label: Any, *choices: tuple[str, Any], **more: Any) -> forms.ChoiceField:
    return forms.ChoiceField(label=label, choices=choices, required=False, widget=forms.RadioSelect, **more)


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """Fields that belong together."""

    slug: str
    title: Any  # a text, in the language of whoever reads it
    says: Any
    fields: list[forms.BoundField]


class VisitForm(AsFoundForm):
    """All of a visit. Everything may be left empty until it is ended."""

    battery = _choice(
        _("Its battery"), ("", _("not looked at")), ("good", _("good")), ("low", _("low")), ("flat", _("flat"))
    )
    switches = forms.CharField(
        max_length=LONGEST_VALUE,
        required=False,
        label=_("Switches and jumpers"),
        help_text=_("How each of them stands."),
    )
    keyed = _choice(
        _("What stands in it now"), (KEYED, _("all as the sheet says")), (NOT_KEYED, _("nothing was keyed"))
    )
    battery_date = DateField(required=False, label=_("New battery of"), help_text="")
    charge_h = forms.FloatField(required=False, min_value=0, max_value=1000, label=_("Hours of charge given"))
    done = forms.CharField(
        max_length=LONGEST_VALUE,
        required=False,
        label=_("What else was done"),
        widget=forms.Textarea(attrs={"rows": 2}),
    )
    left_mode = _choice(_("Left in"), *MODES)
    tested = _choice(_("The test"), ("", _("not done")), ("seen", _("on and off were seen")))
    after_cover = _choice(
        _("Its output with the cover shut"),
        ("", _("not looked at")),
        ("right", _("as it must be")),
        ("wrong", _("something else")),
    )
    suspended = _choice(_("Suspended"), *SUSPENDED)
    suspended_until = DateField(required=False, label=_("Until"), help_text="")
    signed = forms.CharField(max_length=80, required=False, label=_("Signed"), help_text=_("Who was here, by name."))

    SECTIONS: ClassVar = (
        ("found", _("As found"), _("Before anything is pressed. Leave empty what cannot be seen.")),
        ("done", _("Done"), _("The sheet keeps its own ticks.")),
        ("left", _("As left"), _("Look at the output again with the cover shut: shutting it can press a key.")),
    )
    OF: ClassVar = {
        "found": ("time", "date", "weekday", "mode", "output", "battery", "sunrise", "sunset", "lines", "note"),
        "done": ("keyed", "battery_date", "charge_h", "switches", "done"),
        "left": ("left_mode", "tested", "after_cover", "suspended", "suspended_until", "signed"),
    }
    # Where the fields of a trade stand in a section; else at its end.
    TRADE_BEFORE: ClassVar = {"found": "lines", "left": "suspended"}
    # Without these a visit says nothing.
    NEEDED: ClassVar = {
        "keyed": _("Say whether anything was keyed."),
        "left_mode": _("Say in which mode it was left."),
        "signed": _("Sign it with a name."),
    }

    def __init__(
        self,
        *args: Any,
        plan: Plan,
        kind: Kind | None,
        today: dt.date,
        words: Words,
        ending: bool = False,
        **kwargs: Any,
    ) -> None:
        super().__init__(*args, plan=plan, kind=kind, today=today, **kwargs)
        self.ending = ending
        self.of_trade = pages_of(plan).visit_fields()
        for fields in self.of_trade.values():
            self.fields.update(fields)
        self.fields["lines"].widget.attrs["rows"] = 4
        self.written = True
        try:
            pages_of(plan).check_written()
        except NotWritten:
            self.written = False
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
                self.add_error("suspended_until", _("Say until when."))
        return data

    def sections(self) -> list[Section]:
        """The fields as the page shows them."""
        return [
            Section(
                slug=slug,
                title=title,
                says=says,
                fields=[self[name] for name in self._names(slug) if name in self.fields],
            )
            for slug, title, says in self.SECTIONS
        ]

    def _names(self, slug: str) -> list[str]:
        """The names of a section's fields in their order, those of the trade among them."""
        names = list(self.OF[slug])
        place = names.index(self.TRADE_BEFORE[slug]) if slug in self.TRADE_BEFORE else len(names)
        return [*names[:place], *self.of_trade.get(slug, ()), *names[place:]]

    def dates(self) -> dict[str, str]:
        """The dates that were typed, of a form that is valid."""
        found = {name: self.cleaned_data[name] for name, field in self.fields.items() if isinstance(field, DateField)}
        return {name: day.isoformat() for name, day in found.items() if day is not None}

    def found(self) -> Found:
        """The unit as it was found, of a form that is valid."""
        if not self.written:
            return Found(shown={}, lines="", entries=())
        shown = self.shown() | ({"battery": self.cleaned_data["battery"]} if self.cleaned_data["battery"] else {})
        return Found(shown=shown, lines=self.cleaned_data["lines"], entries=self.entries)


def sent_values(data: Any, names: Any) -> dict[str, tuple[str, str]]:
    """What a page sent of some fields: by name what is in it now, and what was there when somebody began to type."""
    found = {}
    for name in names:
        if name in data:
            most = LONGEST_LINES if name == "lines" else LONGEST_VALUE
            found[name] = (data[name].strip()[:most], data.get(f"was-{name}", "").strip()[:most])
    return found


def spoken() -> dict[str, str]:
    """What the page says by itself, without the server; in braces the names of what it puts in."""
    return {
        "visit": gettext("Visit"),
        "unsent": gettext("not sent yet"),
        "kept": gettext("All of it is kept."),
        "keepsNothing": gettext("This browser keeps nothing: stay where there is a connection."),
        "signal": gettext("No connection."),
        "login": gettext("Load this page again, and log in if asked."),
        "server": gettext("The server did not take it."),
        "waits": gettext("Kept here, sent when it can be: {parts}."),
        "fields": gettext("written down: {count}"),
        "photos": gettext("photos: {count}"),
        "end": gettext("the end of the visit"),
        "conflict": gettext("{label}: here {mine}, {by} wrote {theirs}."),
        "nothing": gettext("nothing"),
        "mine": gettext("Keep mine"),
        "theirs": gettext("Take what {by} wrote"),
        "photo": gettext("A photo that is not sent yet"),
        "large": gettext("This photo is too large."),
    }
