"""What the pages of all units are put together from: the label strip, lines of what was done by hand, small forms."""

from abc import abstractmethod
from dataclasses import dataclass
from typing import Any

from django import forms

from skavit.core.plan.document import Plan
from skavit.core.plan.times import ClockTime
from skavit.web.typed_fields import DateField, TimeField, check_size

Forms = dict[str, Any]  # open forms by their place: window-1-0, window-1-new, entry-0, entry-new, import ...


@dataclass(frozen=True, slots=True, kw_only=True)
class Strip:
    """State now and next switching of a channel, for the label strip."""

    tone: str
    state: str
    since: str
    now: str
    held: bool = False  # by hand: no entry acts
    next_time: str = ""
    next_half: str = ""  # am or pm
    next_action: str = ""
    next_in: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class ByHandRow:
    """One dated line."""

    index: int
    day: str
    time: str
    text: str
    channel: str  # its name; empty where it is the whole unit, or the unit has but one


class LineForm(forms.Form):
    """A dated line of what was done to a unit."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    date = DateField(label="Date")
    time = TimeField(label="Time", help_text="Such as 18:10.")

    @abstractmethod
    def edit(self, plan: Plan) -> Plan:
        """The plan with it."""

    @property
    def local_datetime(self) -> str:
        """When it was, as the plan file has it."""
        return f"{self.cleaned_data['date'].isoformat()}T{ClockTime(self.cleaned_data['time'])}"


class ImportForm(forms.Form):
    """A plan file."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    file = forms.FileField(label="Plan file", help_text="A skavit-plan/1 file, at most 2 MB.", validators=[check_size])


class MeantSoForm(forms.Form):
    """Why a finding is meant so, and until when."""

    finding = forms.CharField(max_length=200, widget=forms.HiddenInput)
    reason = forms.CharField(max_length=200, label="Why")
    until = DateField(label="Until", help_text="")
