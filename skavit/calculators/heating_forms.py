"""What the calculators of heat, hot water and pulses ask."""

from typing import Any

from django import forms

from skavit.core.plan.heat import MAX_CAPACITY_WH_K, MAX_HEATER_W, MAX_LOSS_W_K
from skavit.core.text.quantities import TEMPERATURE, VOLUME, Measure
from skavit.web.typed_fields import QuantityField, TimeField

WATER = Measure(name="temperature", unit="C", us="F", low=0, high=100, others={"f": 5 / 9}, zero={"f": 32})
MOST_PULSE_S = 86_400


class WarmUpForm(forms.Form):
    """A room, its heater and the cold."""

    loss = forms.FloatField(label="The room loses, watts a degree", min_value=0.01, max_value=MAX_LOSS_W_K, help_text="Some 90 for 50 m² of a house with some insulation.")  # fmt: skip
    capacity = forms.FloatField(label="It stores, watt hours a degree", min_value=0.01, max_value=MAX_CAPACITY_WH_K, help_text="Some 2,000 for the same: light walls less, stone more.")  # fmt: skip
    heater = forms.FloatField(label="Heater, watts", min_value=0, max_value=MAX_HEATER_W)
    outside = QuantityField(TEMPERATURE, label="Outside")
    start = QuantityField(TEMPERATURE, label="The room now")
    aim = QuantityField(TEMPERATURE, label="Wanted")
    warm_at = TimeField(label="To be warm at", required=False)


class ReheatForm(forms.Form):
    """A store of hot water and its heater."""

    litres = QuantityField(VOLUME, label="Water", help_text="In litres, or such as 50 gal.")
    cold = QuantityField(WATER, label="From")
    hot = QuantityField(WATER, label="To")
    heater = forms.FloatField(label="Heater, watts", min_value=0, max_value=MAX_HEATER_W)
    loss = forms.FloatField(label="It loses, watts", required=False, min_value=0, max_value=MAX_HEATER_W)


class PulsesForm(forms.Form):
    """Pulses in a window of a day."""

    start = TimeField(label="From")
    end = TimeField(label="Until")
    on_s = forms.IntegerField(label="Seconds on", min_value=1, max_value=MOST_PULSE_S)
    every_s = forms.IntegerField(label="Every so many seconds", min_value=2, max_value=MOST_PULSE_S, help_text="From one start to the next: the whole cycle.")  # fmt: skip

    def clean(self) -> dict[str, Any]:
        """A pulse shorter than its cycle."""
        data = super().clean() or {}
        on, every = data.get("on_s"), data.get("every_s")
        if on is not None and every is not None and on >= every:
            self.add_error("every_s", "It must be longer than the seconds on.")
        return data


class ModeForm(forms.Form):
    """A unit that is about to be left."""

    on = TimeField(label="It goes on at")
    off = TimeField(label="It goes off at")
    now = TimeField(label="It is now")
    does = forms.ChoiceField(label="Its output now", choices=[("off", "off"), ("on", "on")])
    returns = forms.ChoiceField(
        label="Back in automatic it",
        choices=[
            ("unknown", "does what is not known"),
            ("computes", "goes to what its program has"),
            ("waits", "keeps its output until the next entry"),
        ],
    )
