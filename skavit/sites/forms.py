"""The form of a site."""

from typing import Any

from django import forms

from skavit.core.ground.errors import PlanError
from skavit.core.ground.zones import timezones
from skavit.core.text.coordinates import FORMS, parse_degrees
from skavit.core.text.wording import capital
from skavit.sites.cities import zone_at
from skavit.sites.models import Site
from skavit.web.versions import VersionField


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


class ZoneField(forms.CharField):
    """A time zone of the zone data, typed or chosen from their list."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(
            max_length=64,
            label="Time zone",
            widget=forms.TextInput(attrs={"list": "zones", "autocomplete": "off", "spellcheck": "false"}),
            **kwargs,
        )

    def clean(self, value: Any) -> str:
        """The zone in its own spelling; empty where it may be left so."""
        typed = str(super().clean(value)).strip()
        if not typed:
            return ""
        word = typed.lower().replace(" ", "_")
        found = {name.lower(): name for name in timezones()}.get(word)
        if found is None:
            near = sorted(name for name in timezones() if word in name.lower())[:3]
            hint = f" Near it: {', '.join(near)}." if near else ""
            raise forms.ValidationError(f"{typed!r} is no time zone. Accepted: a name such as Pacific/Auckland.{hint}")
        return found


class PlaceForm(forms.Form):
    """Coordinates and their time zone, which is found from them where it is left empty."""

    latitude = DegreesField("latitude")
    longitude = DegreesField("longitude")
    timezone = ZoneField(required=False, help_text="Empty: found from the coordinates.")

    def clean(self) -> dict[str, Any]:
        """Find the zone where none was typed."""
        data = super().clean() or {}
        if "latitude" in data and "longitude" in data and data.get("timezone") == "":
            data["timezone"] = zone_at(data["latitude"], data["longitude"])
            if not data["timezone"]:
                self.add_error(
                    "timezone",
                    "No zone is known there: south and west are minus, or S and W. Accepted: a name such as Pacific/Auckland.",
                )
        return data


class SiteForm(PlaceForm):
    """Name, place and time zone."""

    name = forms.CharField(max_length=80, label="Name", help_text="What the crew calls the place.")
    notes = forms.CharField(
        max_length=2000,
        required=False,
        label="Notes",
        help_text="The way in, who has the key, which breaker.",
        widget=forms.Textarea(attrs={"rows": 3}),
    )
    area = forms.CharField(
        max_length=60, required=False, label="Area", help_text="A part of town or country: the round is narrowed by it."
    )
    version = VersionField()
    field_order = ("name", "latitude", "longitude", "timezone")

    @classmethod
    def showing(cls, site: Site) -> "SiteForm":
        """An unbound form that shows a site."""
        return cls(
            initial={
                "name": site.name,
                "version": site.version,
                "notes": site.notes,
                "area": site.area,
                "latitude": f"{site.latitude:.6f}".rstrip("0").rstrip("."),
                "longitude": f"{site.longitude:.6f}".rstrip("0").rstrip("."),
                "timezone": site.timezone,
            }
        )
