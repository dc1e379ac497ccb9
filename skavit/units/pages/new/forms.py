"""A new unit."""

from django import forms


class UnitForm(forms.Form):
    """A new unit: its name, where it hangs, and its outputs."""

    name = forms.CharField(max_length=80, label="Name", help_text="What the crew calls it, such as Path lights.")
    whereabouts = forms.CharField(
        max_length=120, required=False, label="Where it hangs", help_text="Such as: box at the north door, lower half."
    )
    channel_1 = forms.CharField(max_length=80, label="Channel 1", help_text="What the first output switches.")
    channel_2 = forms.CharField(max_length=80, required=False, label="Channel 2", help_text="Empty: one output only.")

    def channels(self) -> list[str]:
        """The names of the outputs."""
        return [name for key in ("channel_1", "channel_2") if (name := self.cleaned_data.get(key))]
