"""The form of a key."""

from django import forms


class KeyForm(forms.Form):
    """Which program it is for."""

    program = forms.CharField(max_length=80, label="For which program", help_text="So that you know it again.")
