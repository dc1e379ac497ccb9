"""The form of a code."""

from django import forms

USUAL = ("Installer PIN", "User PIN", "Engineer code", "Key safe", "Gate")


class CodeForm(forms.Form):
    """What it opens, and the code."""

    name = forms.CharField(
        max_length=60, label="What for", widget=forms.TextInput(attrs={"list": "usual-codes", "autocomplete": "off"})
    )
    code = forms.CharField(
        max_length=120,
        label="Code",
        widget=forms.TextInput(attrs={"autocomplete": "off", "spellcheck": "false", "autocapitalize": "none"}),
    )
