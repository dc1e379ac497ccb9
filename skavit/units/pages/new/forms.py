"""A new unit."""

from dataclasses import dataclass
from typing import Any

from django import forms

from skavit.core.plan.trade import Trade
from skavit.core.text.wording import count
from skavit.core.trades import SWITCHING
from skavit.kinds.selectors import Listed
from skavit.units.pages.naming import NamedForm
from skavit.units.trades import all_pages


@dataclass(frozen=True, slots=True, kw_only=True)
class Unknown:
    """A unit of which the trade is known, and not the kind."""

    reference: str  # what a form sends for it
    trade: Trade
    label: str
    help: str


def unknown_kinds() -> list[Unknown]:
    """One for each trade, that of units that switch first."""
    return [
        Unknown(
            reference="unknown" if pages.trade is SWITCHING else f"unknown-{pages.trade.slug}",
            trade=pages.trade,
            label=pages.unknown_label,
            help=pages.unknown_help,
        )
        for pages in all_pages().values()
    ]


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
        self.unknown = next((found for found in unknown_kinds() if found.reference == reference), None)
        if self.chosen is None and self.unknown is None:
            self.add_error("kind", "Which kind is it? Accepted: one of the list, or not known yet.")
        outputs = len(self.channels())
        if self.chosen and self.chosen.trade is SWITCHING and outputs > self.chosen.kind.channels:
            self.add_error("channel_2", f"This kind has {count(self.chosen.kind.channels, 'output')}. Accepted: empty.")
        return data

    @property
    def trade(self) -> Trade:
        """What the unit does."""
        found = self.chosen or self.unknown
        return found.trade if found else SWITCHING

    def channels(self) -> list[str]:
        """The names of the outputs; a unit of another trade has none."""
        if self.trade is not SWITCHING:
            return []
        first = self.cleaned_data.get("channel_1") or self.cleaned_data.get("name", "")
        return [name for name in (first, self.cleaned_data.get("channel_2")) if name]
