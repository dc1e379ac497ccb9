"""What the calculators of watering ask."""

import re
from typing import Any

from django import forms

from skavit.core.ground.errors import UserError
from skavit.core.text.quantities import AREA, DEPTH, FLOW, LENGTH, RATE, SPEED, TEMPERATURE
from skavit.core.water.rates import INTAKE_MM_H, MOST_CANS, CanTest, can_depth_mm, can_test
from skavit.sites.forms import DegreesField
from skavit.web.typed_fields import DateField, QuantityField

GROUND = [("", "typed below"), *((name, f"{name}, {rate:g} mm/h") for name, rate in INTAKE_MM_H.items())]
LOWEST_DU = 20


class RateForm(forms.Form):
    """A station's flow, and the ground that it waters."""

    by = forms.ChoiceField(
        label="Known",
        choices=[("area", "the whole station's flow and area"), ("grid", "one head or dripper of a grid")],
        required=False,
    )
    flow = QuantityField(FLOW, label="Flow", help_text="In l/min, or such as 10 gpm, 2 l/h.")
    area = QuantityField(AREA, label="Area", required=False, help_text="Of the station: in m², or such as 1300 sq ft.")
    spacing = QuantityField(
        LENGTH, label="Spacing in the row", required=False, help_text="Of a grid: in m, or such as 30 cm, 12 ft."
    )
    rows = QuantityField(LENGTH, label="From row to row", required=False)
    need = QuantityField(DEPTH, label="Water wanted", required=False, help_text="In mm, or such as 0.5 in.")
    du = forms.IntegerField(
        label="Uniformity, %", required=False, min_value=LOWEST_DU, max_value=100, help_text="Of cans; empty: 100."
    )

    def clean(self) -> dict[str, Any]:
        """What belongs to what is known."""
        data = super().clean() or {}
        for name in ("spacing", "rows") if data.get("by") == "grid" else ("area",):
            if data.get(name) is None and name not in self.errors:
                self.add_error(name, "Fill this in.")
        return data


class CansForm(forms.Form):
    """Catch cans under a running station."""

    cans = forms.CharField(
        label="In the cans", widget=forms.Textarea(attrs={"rows": 4, "inputmode": "decimal"}), max_length=4000,
        help_text="One number a can, four of them or more.",
    )  # fmt: skip
    read = forms.ChoiceField(
        label="Read as", choices=[("ml", "millilitres"), ("mm", "millimetres of depth")], required=False
    )
    opening = QuantityField(LENGTH, label="Opening of a can, across", required=False, help_text="Such as 11 cm, 4 in.")
    minutes = forms.FloatField(label="Minutes that it ran", min_value=1, max_value=600)

    def clean(self) -> dict[str, Any]:
        """The cans' depths, and what they say."""
        data = super().clean() or {}
        if self.errors:
            return data
        words = re.split(r"[\s;]+", data["cans"].strip())
        try:
            numbers = [float(word.replace(",", ".")) for word in words[: MOST_CANS + 1]]
        except ValueError:
            self.add_error("cans", "Accepted: numbers such as 24 31 28.5, with spaces or on lines of their own.")
            return data
        if any(not 0 <= number <= 10_000 for number in numbers):
            self.add_error("cans", "Accepted: numbers from 0 to 10,000.")
            return data
        if data.get("read") != "mm":
            if data.get("opening") is None:
                self.add_error("opening", "Fill this in: millilitres say nothing without it.")
                return data
            numbers = [can_depth_mm(number, data["opening"] * 1000) for number in numbers]
        try:
            data["test"] = can_test(numbers, data["minutes"])
        except UserError as error:
            self.add_error("cans", f"{error}.")
        return data

    @property
    def test(self) -> CanTest:
        """What the cans say."""
        found: CanTest = self.cleaned_data["test"]
        return found


class SoakForm(forms.Form):
    """A run, and the ground under it."""

    minutes = forms.FloatField(label="Minutes wanted in all", min_value=1, max_value=1440)
    rate = QuantityField(RATE, label="Precipitation rate", help_text="In mm/h, or such as 0.75 in/h.")
    ground = forms.ChoiceField(label="Ground", choices=GROUND, required=False)
    intake = QuantityField(RATE, label="Intake of the ground", required=False, help_text="Where you know it better.")
    surface = QuantityField(
        DEPTH, label="May stand on it", help_text="6 mm on level ground, less on a slope; or such as 0.25 in."
    )

    def clean(self) -> dict[str, Any]:
        """The intake rate that is typed, or else the ground's."""
        data = super().clean() or {}
        if data.get("intake") is None and "intake" not in self.errors:
            data["intake"] = INTAKE_MM_H.get(data.get("ground") or "")
            if data["intake"] is None:
                self.add_error("ground", "Accepted: a ground of the list, or its intake below.")
        if data.get("surface") == 0:
            self.add_error("surface", "Accepted: more than 0.")
        return data


class DayEt0Form(forms.Form):
    """A place, a date, and the weather of it."""

    latitude = DegreesField("latitude")
    date = DateField(label="Date")
    low = QuantityField(TEMPERATURE, label="Lowest temperature", help_text="In °C, or such as 54 F.")
    high = QuantityField(TEMPERATURE, label="Highest temperature")
    radiation = forms.FloatField(
        label="Sun, MJ a square metre", required=False, min_value=0, max_value=60,
        help_text="Of a weather station. Empty: from the temperatures alone.",
    )  # fmt: skip
    humid_low = forms.FloatField(label="Lowest humidity, %", required=False, min_value=0, max_value=100)
    humid_high = forms.FloatField(label="Highest humidity, %", required=False, min_value=0, max_value=100)
    wind = QuantityField(SPEED, label="Wind", required=False, help_text="At 2 m: in m/s, or such as 7 km/h, 5 mph.")
    altitude = forms.FloatField(label="Altitude, m", required=False, min_value=-450, max_value=9000)

    def clean(self) -> dict[str, Any]:
        """What cannot be."""
        data = super().clean() or {}
        for low, high in (("low", "high"), ("humid_low", "humid_high")):
            if data.get(low) is not None and data.get(high) is not None and data[low] > data[high]:
                self.add_error(low, "Higher than the highest.")
        return data
