"""A unit as found: what is typed of it."""

import datetime as dt
from typing import Any

from django import forms
from django.utils.translation import gettext_lazy as _

from skavit.core.ground.errors import PlanError
from skavit.core.ground.records import Record
from skavit.core.kinds import Kind
from skavit.core.plan.document import Plan
from skavit.core.text.wording import capital
from skavit.server.bounds import LINES_BYTES, MOST_LINES
from skavit.units.models import AsFound
from skavit.units.pages.clock.forms import ShownForm
from skavit.units.trades import pages_of

MODES = (
    (AsFound.AUTOMATIC, _("automatic")),
    ("on by hand", _("on by hand")),
    ("off by hand", _("off by hand")),
    ("other", _("other")),
)


class AsFoundForm(ShownForm):
    """A unit as found."""

    mode = forms.ChoiceField(choices=[("", _("not seen")), *MODES], required=False, label=_("Mode"))
    output = forms.ChoiceField(
        choices=[("", _("not seen")), ("on", _("on")), ("off", _("off"))], required=False, label=_("Its output")
    )
    lines = forms.CharField(
        widget=forms.Textarea(attrs={"rows": 8, "spellcheck": "false", "autocapitalize": "off", "class": "lines"}),
        required=False,
        label=_("The entries it holds, a line each"),
        help_text=_(
            "Such as: on sunset+10, off 22:40 mo-fr, c2 on 6:15 am sa su. A slot number before it may stand there."
        ),
    )
    note = forms.CharField(max_length=300, required=False, label=_("Anything else"))

    def __init__(self, *args: Any, plan: Plan, kind: Kind | None, today: dt.date, **kwargs: Any) -> None:
        super().__init__(*args, plan=plan, kind=kind, today=today, **kwargs)
        self.plan, self.today = plan, today
        self.entries: tuple[Record, ...] = ()
        pages = pages_of(plan)
        lines = self.fields["lines"]
        lines.label, lines.help_text = pages.lines_label or lines.label, pages.lines_help or lines.help_text

    def clean_lines(self) -> str:
        """The lines as typed; each is an entry."""
        text = self.cleaned_data["lines"].strip()
        found: list[Record] = []
        wrong = []
        for number, line in enumerate(_lines(text), start=1):
            if not line.strip():
                continue
            try:
                found.append(pages_of(self.plan).read_line(line, f"line {number}", self.plan, self.today))
            except PlanError as error:
                wrong.append(forms.ValidationError(_sentence(error)))
        if wrong:
            raise forms.ValidationError(wrong)
        self.entries = tuple(found)
        return text

    def shown(self) -> dict[str, str]:
        """What was looked at, as plain text by field, for keeping."""
        data = self.cleaned_data
        times = {
            name: f"{data[name] // 3600:02d}:{data[name] // 60 % 60:02d}"
            for name in ("time", "sunrise", "sunset")
            if data[name] is not None
        }
        words = {name: data[name] for name in ("weekday", "mode", "output", "note") if data[name]}
        return times | words | ({"date": data["date"].isoformat()} if data["date"] else {})


def _lines(text: str) -> list[str]:
    found = text.splitlines()
    if len(found) > MOST_LINES or len(text) > LINES_BYTES:
        raise forms.ValidationError(
            f"{len(found):,} lines with {len(text):,} letters are too many. "
            f"Accepted: at most {MOST_LINES} lines and {LINES_BYTES:,} letters."
        )
    return found


def _sentence(error: PlanError) -> str:
    return f"{capital(error.path)}: {error.wrong}. Accepted: {error.accepted}."
