"""What is typed of a unit's clock and sun."""

import datetime as dt
from dataclasses import replace
from typing import Any, ClassVar

from django import forms
from django.utils.translation import gettext_lazy as _

from skavit.core.ground.strict_json import Node
from skavit.core.kinds import Kind
from skavit.core.plan.document import Plan, read_plan
from skavit.core.plan.edits import set_sun
from skavit.core.plan.sun_settings import Adjust, SunSettings
from skavit.core.plan.times import MAX_OFFSET_MIN
from skavit.core.text.wording import FULL_DAYS, MONTHS
from skavit.web.typed_fields import DateField, TimeField, tell_today


class ShownForm(forms.Form):
    """What a unit's clock and sun table show; everything may be left empty."""

    time = TimeField(required=False, label=_("Time it shows"), help_text=_("Such as 21:40 or 9:40 pm."))
    date = DateField(required=False, label=_("Date"))
    weekday = forms.ChoiceField(
        choices=[("", _("not shown")), *((name, _(name)) for name in FULL_DAYS)], required=False, label=_("Weekday")
    )
    sunrise = TimeField(required=False, label=_("Sunrise it shows"))
    sunset = TimeField(required=False, label=_("Sunset it shows"))

    OF_A_DATE: ClassVar[tuple[str, ...]] = ("date",)
    OF_THE_SUN: ClassVar[tuple[str, ...]] = ("sunrise", "sunset")

    def __init__(self, *args: Any, plan: Plan, kind: Kind | None, today: dt.date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        tell_today(self, today)
        self.unasked = (
            *(self.OF_A_DATE if kind is not None and not kind.clock.has_date else ()),
            *(() if _shows_sun(plan, kind) else self.OF_THE_SUN),
        )
        for name in self.unasked:
            del self.fields[name]

    def clean(self) -> dict[str, Any]:
        """What the unit cannot show was not seen."""
        return dict.fromkeys(self.unasked) | (super().clean() or {})


def _shows_sun(plan: Plan, kind: Kind | None) -> bool:
    """Whether a unit may show sun times that matter: it has them, and its plan uses them or says nothing yet."""
    if plan.unit.sun.source in ("none", "photocell") or (kind is not None and kind.sun.place == "none"):
        return False
    numbers = range(1, len(plan.channels) + 1)
    bare = not plan.unit.all_entries and not any(channel.windows for channel in plan.channels)
    return bool(plan.channels) and (bare or any(plan.uses_sun(number) for number in numbers))


MONTH_CHOICES = [("", "–"), *((str(number), name) for number, name in enumerate(MONTHS, start=1))]


WEEK_CHOICES = [("", "–"), ("1", "first Sunday"), ("2", "second"), ("3", "third"), ("4", "fourth"), ("5", "last")]


class ClockForm(ShownForm):
    """What a unit's clock page asks: beside the rest the summer-time rule that it displays, or its two next dates."""

    from_month = forms.ChoiceField(choices=MONTH_CHOICES, required=False, label="Daylight saving from")
    from_week = forms.ChoiceField(choices=WEEK_CHOICES, required=False, label="on its")
    to_month = forms.ChoiceField(choices=MONTH_CHOICES, required=False, label="until")
    to_week = forms.ChoiceField(choices=WEEK_CHOICES, required=False, label="on its")
    starts = DateField(required=False, label="Or it shows a start on", help_text="")
    ends = DateField(required=False, label="and an end on", help_text="")

    OF_A_DATE: ClassVar[tuple[str, ...]] = ("date", "starts", "ends")

    RULE_FIELDS = ("from_month", "from_week", "to_month", "to_week", "starts", "ends")

    def change_days(self) -> tuple[int, int, int, int] | None:
        """Month and week of either change, where all four were chosen."""
        a, b, c, d = (self.cleaned_data.get(name) for name in ("from_month", "from_week", "to_month", "to_week"))
        return (int(a), int(b), int(c), int(d)) if a and b and c and d else None


class KeepForm(forms.Form):
    """What the clock page found and the plan is to keep: a correction, the place it implies, or how far the clock is out."""

    revision = forms.IntegerField()
    error_s = forms.IntegerField(required=False)
    sunrise_min = forms.IntegerField(required=False, min_value=-MAX_OFFSET_MIN, max_value=MAX_OFFSET_MIN)
    sunset_min = forms.IntegerField(required=False, min_value=-MAX_OFFSET_MIN, max_value=MAX_OFFSET_MIN)

    latitude = forms.FloatField(required=False, min_value=-90, max_value=90)
    longitude = forms.FloatField(required=False, min_value=-180, max_value=180)

    def clean(self) -> dict[str, Any]:
        """One of the three is there."""
        data = super().clean() or {}
        has_pair = data.get("sunrise_min") is not None and data.get("sunset_min") is not None
        if data.get("error_s") is None and data.get("latitude") is None and not has_pair:
            raise forms.ValidationError("Nothing to save.")
        return data

    @property
    def note(self) -> str:
        """What the revision is called."""
        if self.cleaned_data["error_s"] is not None:
            return "clock error"
        return "correction of the sun" if self.cleaned_data["latitude"] is None else "place of its sun table"

    def edit(self, plan: Plan) -> Plan:
        """The plan that keeps it; read again by the core, which refuses what cannot stand together."""
        data, unit = self.cleaned_data, plan.unit
        if data["error_s"] is not None:
            changed = replace(plan, unit=replace(unit, clock=replace(unit.clock, error_s=data["error_s"])))
            return read_plan(Node(changed.to_json()))
        # The reading is of the unit: a channel's own correction, made for another table, gives way to it.
        bare = replace(plan, channels=tuple(replace(channel, adjust=None) for channel in plan.channels))
        if data["latitude"] is not None:
            return set_sun(bare, self._place(unit.sun))
        adjust = Adjust(sunrise_min=data["sunrise_min"], sunset_min=data["sunset_min"])
        return set_sun(bare, replace(unit.sun, adjust=adjust))

    def _place(self, sun: SunSettings) -> SunSettings:
        """The unit's sun as its table has it: by latitude alone where no longitude was sent."""
        latitude, longitude = self.cleaned_data["latitude"], self.cleaned_data["longitude"]
        skips = sun.skips_without_sun
        if longitude is None:
            return SunSettings(source="table", latitude=latitude, skips_without_sun=skips)
        return SunSettings(source="coordinates", latitude=latitude, longitude=longitude, skips_without_sun=skips)
