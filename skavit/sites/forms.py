"""The form of a site."""

from typing import Any

from django import forms

from skavit.core.clock import timezones
from skavit.core.coordinates import FORMS, parse_degrees
from skavit.core.errors import PlanError
from skavit.core.wording import capital
from skavit.sites.models import Site


class DegreesField(forms.CharField):
    """A latitude or longitude, typed as decimal or as degrees, minutes and seconds."""

    def __init__(self, axis: str, **kwargs: Any) -> None:
        super().__init__(max_length=40, label=capital(axis), help_text=capital(FORMS[axis]), **kwargs)
        self.axis = axis

    def clean(self, value: Any) -> float:
        """Degrees, north and east positive."""
        text = super().clean(value)
        try:
            return parse_degrees(text, self.axis)
        except PlanError as error:
            raise forms.ValidationError(f"{capital(error.wrong)}. Accepted: {error.accepted}.") from error


class SiteForm(forms.Form):
    """Name, place and time zone."""

    name = forms.CharField(max_length=80, label="Name", help_text="What the crew calls the place.")
    latitude = DegreesField("latitude")
    longitude = DegreesField("longitude")
    timezone = forms.CharField(
        max_length=64,
        label="Time zone",
        help_text="Type a city or a part of it and choose, such as Pacific/Auckland.",
        widget=forms.TextInput(attrs={"list": "zones", "autocomplete": "off", "spellcheck": "false"}),
    )

    @classmethod
    def showing(cls, site: Site) -> "SiteForm":
        """An unbound form that shows a site."""
        return cls(
            initial={
                "name": site.name,
                "latitude": f"{site.latitude:.6f}".rstrip("0").rstrip("."),
                "longitude": f"{site.longitude:.6f}".rstrip("0").rstrip("."),
                "timezone": site.timezone,
            }
        )

    def clean_timezone(self) -> str:
        """A zone of the zone data, in its own spelling."""
        typed = self.cleaned_data["timezone"].strip()
        by_lower = {name.lower(): name for name in timezones()}
        found = by_lower.get(typed.lower().replace(" ", "_"))
        if found is None:
            near = sorted(name for name in timezones() if typed.lower().replace(" ", "_") in name.lower())[:3]
            hint = f" Near it: {', '.join(near)}." if near and typed else ""
            raise forms.ValidationError(f"{typed!r} is no time zone. Accepted: a name such as Pacific/Auckland.{hint}")
        return found
