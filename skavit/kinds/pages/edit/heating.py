"""The heating side of a kind, adjusted to the manual in hand."""

from collections.abc import Iterator
from typing import Any

from django import forms

from skavit.core.kinds import Kind
from skavit.core.kinds.heating import HOLIDAYS, UNUSED, Heating
from skavit.kinds.pages.edit.document import DocumentForm, Group
from skavit.kinds.words import HOLIDAY_TEXT, UNUSED_TEXT

LIMITS = ("periods", "c_min", "c_max", "c_step")
PLAIN = ("zones", "frost_c", "unused", "holiday")
FLAGS = ("any_key_ends", "off_protects")


class HeatingForm(DocumentForm):
    """Zones, periods, degrees, and how its holiday counts."""

    zones = forms.IntegerField(label="Zones", min_value=1, max_value=24)
    periods = forms.IntegerField(label="Periods a day", required=False, min_value=1, max_value=24)
    period_words = forms.CharField(
        label="What its display calls them",
        required=False,
        max_length=200,
        help_text="Such as WAKE, LEAVE, BACK, SLEEP. Empty: by number.",
    )
    unused = forms.ChoiceField(
        label="A period not used is said", choices=[(word, UNUSED_TEXT[word]) for word in UNUSED]
    )
    c_min = forms.FloatField(label="Coldest that it holds, °C", required=False, min_value=-30, max_value=60)
    c_max = forms.FloatField(label="Warmest, °C", required=False, min_value=-30, max_value=60)
    c_step = forms.FloatField(label="Steps, °C", required=False, min_value=0.1, max_value=10)
    frost_c = forms.FloatField(label="Frost protection, °C", min_value=-30, max_value=60)
    off_protects = forms.BooleanField(required=False, label="Off protects from frost too")
    holiday = forms.ChoiceField(label="Its holiday is told", choices=[(word, HOLIDAY_TEXT[word]) for word in HOLIDAYS])
    any_key_ends = forms.BooleanField(required=False, label="Any key ends a holiday")

    @staticmethod
    def shown(kind: Kind) -> dict[str, Any]:
        """What the form shows of a kind."""
        has = kind.heating or Heating()
        found: dict[str, Any] = {name: getattr(has, name) for name in (*PLAIN, *FLAGS)}
        return (
            found | {name: getattr(has.limits, name) for name in LIMITS} | {"period_words": ", ".join(has.period_words)}
        )

    def document(self, data: dict[str, Any]) -> dict[str, Any]:
        """The kind's document with what was typed."""
        found = {name: data[name] for name in (*PLAIN, *FLAGS) if data.get(name) not in (None, "")}
        found["limits"] = {name: data[name] for name in LIMITS if data.get(name) is not None}
        found["period_words"] = [word.strip() for word in data["period_words"].split(",") if word.strip()]
        return self.kind.to_json() | {"heating": found}

    def groups(self) -> Iterator[Group]:
        """The fields by what they are about."""
        yield self.group("Its day", "zones", "periods", "period_words", "unused")
        yield self.group("Degrees", "c_min", "c_max", "c_step", "frost_c", "off_protects")
        yield self.group("Holiday", "holiday", "any_key_ends")
