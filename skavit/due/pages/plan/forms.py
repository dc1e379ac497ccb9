"""A visit planned: who and when."""

import datetime as dt
from typing import Any

from django import forms

from skavit.crews.models import Crew, User
from skavit.due.selectors import people_of
from skavit.web.typed_fields import DateField, tell_today


class PlanForm(forms.Form):
    """Who goes, and when; with neither nothing is planned."""

    person: "forms.ModelChoiceField[User]" = forms.ModelChoiceField(
        queryset=None, required=False, label="Who", empty_label="nobody yet"
    )
    date = DateField(required=False, label="When", help_text="")
    note = forms.CharField(max_length=200, required=False, label="What for")

    def __init__(self, *args: Any, crew: Crew, today: dt.date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["person"].queryset = people_of(crew)  # type: ignore[attr-defined]
        tell_today(self, today)
