"""A new unit."""

from typing import Any

from django import forms

from skavit.core.plan.sorts import Sort
from skavit.core.text.wording import count
from skavit.kinds.selectors import Listed
from skavit.units.pages.naming import NamedForm

UNKNOWN = {"unknown": Sort.SWITCHES, "unknown-waters": Sort.WATERS, "unknown-heats": Sort.HEATS}


class UnitForm(NamedForm):
    """A new unit: what kind it is, its name, where it hangs, and its outputs."""

    kind = forms.CharField(required=False, max_length=80)
    channel_1 = forms.CharField(
        max_length=80,
        required=False,
        label="Channel 1",
        help_text="What the first output switches. Empty: as the unit. A unit that waters has stations instead, one that holds temperatures has zones: they come next.",
    )
    channel_2 = forms.CharField(max_length=80, required=False, label="Channel 2", help_text="Empty: one output only.")
    field_order = ("kind", "name", "channel_1", "channel_2", "whereabouts")

    def __init__(self, *args: Any, listed: list[Listed], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.listed = listed

    def clean(self) -> dict[str, Any]:
        """Find the kind, and hold the outputs against it."""
        data = super().clean() or {}
        reference = data.get("kind", "")
        self.chosen = next((found for found in self.listed if found.reference == reference), None)
        if self.chosen is None and reference not in UNKNOWN:
            self.add_error("kind", "Which kind is it? Accepted: one of the list, or not known yet.")
        outputs = len(self.channels())
        if self.chosen and self.chosen.sort == Sort.SWITCHES and outputs > self.chosen.kind.channels:
            self.add_error("channel_2", f"This kind has {count(self.chosen.kind.channels, 'output')}. Accepted: empty.")
        return data

    @property
    def sort(self) -> Sort:
        """What the unit does."""
        return self.chosen.sort if self.chosen else UNKNOWN.get(self.cleaned_data.get("kind", ""), Sort.SWITCHES)

    def channels(self) -> list[str]:
        """The names of the outputs; a unit that waters or holds temperatures has none."""
        if self.sort != Sort.SWITCHES:
            return []
        first = self.cleaned_data.get("channel_1") or self.cleaned_data.get("name", "")
        return [name for name in (first, self.cleaned_data.get("channel_2")) if name]
