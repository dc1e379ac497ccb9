"""What the calculators ask."""

from typing import Any

from django import forms

from skavit.core.site.sun_table import Meaning, SunReading
from skavit.core.sun import FIRST_YEAR, LAST_YEAR
from skavit.core.text.wording import FULL_DAYS
from skavit.sites.forms import PlaceForm, ZoneField
from skavit.web.typed_fields import DateField, TimeField

MOST_READINGS = 3
WEEKDAY_CHOICES = [(str(number), name) for number, name in enumerate(FULL_DAYS)]


class SunForm(PlaceForm):
    """A place and a date."""

    date = DateField(label="Date")


class ZoneForm(forms.Form):
    """A zone and the first year."""

    timezone = ZoneField()
    year = forms.IntegerField(min_value=FIRST_YEAR + 1, max_value=LAST_YEAR - 10, label="From the year")


class ReadingForm(PlaceForm):
    """A place and one to three readings of a unit's sun table."""

    events = forms.ChoiceField(
        label="Its words mean",
        choices=[(Meaning.SUNRISE.value, "sunrise and sunset"), (Meaning.DAWN.value, "dawn and dusk, civil twilight")],
        required=False,
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for number in range(1, MOST_READINGS + 1):
            needed = number == 1
            self.fields[f"date_{number}"] = DateField(label=f"Date {number}", required=needed)
            self.fields[f"rise_{number}"] = TimeField(label="Sunrise it shows", required=needed)
            self.fields[f"set_{number}"] = TimeField(label="Sunset it shows", required=needed)

    def readings(self) -> tuple[SunReading, ...]:
        """Those that are complete."""
        found = []
        for number in range(1, MOST_READINGS + 1):
            day, rise, fall = (self.cleaned_data.get(f"{name}_{number}") for name in ("date", "rise", "set"))
            if day is not None and rise is not None and fall is not None:
                found.append(SunReading(day=day, sunrise_s=rise // 60 * 60, sunset_s=fall // 60 * 60))
        return tuple(found)


class WeekdayForm(forms.Form):
    """A date, and the weekday that a unit shows for it."""

    date = DateField(label="Date")
    weekday = forms.ChoiceField(
        choices=[("", "not looked at"), *WEEKDAY_CHOICES], required=False, label="The unit shows"
    )


class DriftForm(forms.Form):
    """Two looks at a clock, each with the true time and the time shown."""

    date_1 = DateField(label="First look, date")
    true_1 = TimeField(label="True time", help_text="With seconds where you have them: 14:25:30.")
    shown_1 = TimeField(label="It showed")
    date_2 = DateField(label="Second look, date")
    true_2 = TimeField(label="True time")
    shown_2 = TimeField(label="It showed")
    resolution = forms.ChoiceField(
        label="Read to", choices=[("1", "the second"), ("60", "the minute")], required=False, initial="1"
    )

    def clean(self) -> dict[str, Any]:
        """The second look is the later one."""
        data = super().clean() or {}
        if not self.errors and self.looks()[1][0] - self.looks()[0][0] < 60:
            raise forms.ValidationError("The second look must be a minute after the first at least.")
        return data

    def looks(self) -> tuple[tuple[int, float], tuple[int, float]]:
        """(seconds of true local time, seconds ahead) of both."""
        found = []
        for number in (1, 2):
            day, true, shown = (self.cleaned_data[f"{name}_{number}"] for name in ("date", "true", "shown"))
            ahead = (shown - true + 43200) % 86400 - 43200
            found.append((day.toordinal() * 86400 + true, float(ahead)))
        return found[0], found[1]
