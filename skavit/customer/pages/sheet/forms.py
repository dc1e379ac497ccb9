"""The form of a link."""

from django import forms
from django.conf import settings

DAYS = ((30, "30 days"), (90, "90 days"), (365, "a year"))


class LinkForm(forms.Form):
    """In which language, for whom, for how long."""

    language = forms.ChoiceField(choices=settings.LANGUAGES, label="Language", widget=forms.RadioSelect)
    whom = forms.CharField(max_length=80, required=False, label="For whom")
    whole_site = forms.TypedChoiceField(
        choices=(("0", "this unit"), ("1", "all units of the site")),
        coerce=lambda value: value == "1",
        initial="0",
        required=False,
        empty_value=False,  # type: ignore[arg-type]  # the stub knows text alone
        label="It shows",
        widget=forms.RadioSelect,
    )
    days = forms.TypedChoiceField(choices=DAYS, coerce=int, initial=90, label="It holds for", widget=forms.RadioSelect)
