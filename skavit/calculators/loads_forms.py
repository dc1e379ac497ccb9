"""What the calculators of loads ask."""

import re
from typing import Any

from django import forms

from skavit.core.ground.errors import UserError
from skavit.core.load import LOGIC
from skavit.core.plan.load import SORTS, Cable
from skavit.core.text.cables import cable_typed
from skavit.core.text.quantities import LENGTH
from skavit.core.text.wording import capital
from skavit.web.typed_fields import QuantityField

MOST_LAMPS = 60
_LAMPS = re.compile(r"(?:([0-9]{1,3})\s*[x\u00d7*]\s*)?([0-9]+(?:\.[0-9]+)?)")
LAYOUTS = [("chain", "one after another"), ("hub", "each from one point"), ("loop", "a loop back to the transformer")]


class TransformerForm(forms.Form):
    """Lamps on a transformer."""

    lamps = forms.CharField(label="Lamps, VA", max_length=200, help_text="Such as 7 x 12, 3 x 20.")
    rating = forms.FloatField(label="Transformer, VA", required=False, min_value=1, max_value=100_000)

    def clean_lamps(self) -> list[tuple[int, float]]:
        """How many of how many VA."""
        found = []
        for part in re.split(r"[;,+]", self.cleaned_data["lamps"]):
            match = _LAMPS.fullmatch(part.strip())
            if match is None:
                raise forms.ValidationError(f"{part.strip()!r} cannot be read. Accepted: such as 7 x 12, 3 x 20.")
            found.append((int(match[1] or 1), float(match[2])))
        return found


class VoltsForm(forms.Form):
    """A run of alike lamps."""

    supply = forms.FloatField(label="Supply, volts", min_value=1, max_value=1000)
    count = forms.IntegerField(label="Lamps", min_value=1, max_value=MOST_LAMPS)
    va = forms.FloatField(label="VA each", min_value=0.01, max_value=10_000)
    first = QuantityField(LENGTH, label="To the first lamp, or to the point", help_text="In m, or such as 40 ft.")
    between = QuantityField(LENGTH, label="From lamp to lamp, or from the point to each", required=False)
    layout = forms.ChoiceField(label="Laid", choices=LAYOUTS)
    cable = forms.CharField(label="Cable", max_length=30, help_text="Such as 2.5 mm², 4 flex, AWG 12.")
    conductor = forms.FloatField(
        label="Conductor, °C", required=False, min_value=-50, max_value=200, help_text="Empty: 20."
    )
    low = forms.FloatField(label="At least, volts at a lamp", required=False, min_value=0, max_value=1000)
    taps = forms.CharField(label="Other taps, volts", required=False, max_length=80)

    def clean_cable(self) -> Cable:
        """The cable as the core knows it."""
        try:
            return cable_typed(self.cleaned_data["cable"])
        except UserError as error:
            raise forms.ValidationError(f"{capital(str(error))}.") from error

    def clean_taps(self) -> tuple[float, ...]:
        """The other taps."""
        try:
            found = tuple(float(part) for part in re.split(r"[,;\s]+", self.cleaned_data["taps"].strip()) if part)
        except ValueError as error:
            raise forms.ValidationError("Accepted: numbers such as 13, 14.") from error
        if any(not 0 < tap <= 1000 for tap in found):
            raise forms.ValidationError("Accepted: volts up to 1000.")
        return found

    def clean(self) -> dict[str, Any]:
        """Distances where there are several lamps."""
        data = super().clean() or {}
        if (data.get("count") or 1) > 1 and data.get("between") is None and "between" not in self.errors:
            self.add_error("between", "Fill this in.")
        return data


class ContactForm(forms.Form):
    """A load that is to hang on a relay."""

    sort = forms.ChoiceField(label="What hangs on it", choices=[(sort, LOGIC[sort].name) for sort in SORTS])
    escape = forms.BooleanField(label="A door on an escape route", required=False)
