"""What a visit to a unit that waters asks beside the rest: pressure, the meter, leaks, and the stations walked."""

from typing import Any

from django import forms
from django.utils.translation import gettext_lazy as _

LONGEST = 120


def visit_fields() -> dict[str, dict[str, forms.Field]]:
    """The fields by the section of the visit in which they stand."""
    return {
        "found": {
            "pressure": _text(_("Pressure"), _("Such as 2.5 bar with station 3 running, and at which end.")),
            "meter_found": _text(_("Water meter, as found")),
            "leaks": _choice(_("Leaks"), ("none", _("none seen")), ("seen", _("seen: write where"))),
        },
        "left": {
            "walked": _choice(_("Stations walked"), ("all", _("all of them")), ("some", _("some: write which"))),
            "meter_left": _text(_("Water meter, as left")),
        },
    }


def _text(label: Any, help_text: Any = "") -> forms.CharField:
    return forms.CharField(label=label, help_text=help_text, max_length=LONGEST, required=False)


def _choice(label: Any, *choices: tuple[str, Any]) -> forms.ChoiceField:
    unseen = ("", _("not looked at"))
    return forms.ChoiceField(label=label, choices=(unseen, *choices), required=False, widget=forms.RadioSelect)
