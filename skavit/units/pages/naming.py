"""What a unit is called and where it hangs, as a form asks it."""

from django import forms


class NamedForm(forms.Form):
    """A name and where it hangs."""

    name = forms.CharField(max_length=80, label="Name", help_text="What the crew calls it, such as Path lights.")
    whereabouts = forms.CharField(
        max_length=120, required=False, label="Where it hangs", help_text="Such as: box at the north door, lower half."
    )
