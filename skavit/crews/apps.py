"""The application of crews: the first of the project, and so where forms get the words of the trade."""

from django import forms
from django.apps import AppConfig
from django.utils.translation import gettext_lazy as _

REQUIRED = _("Fill this in.")


class CrewsConfig(AppConfig):
    """Crews, their people and their words."""

    name = "skavit.crews"

    def ready(self) -> None:
        """Say an empty field in fewer words than the framework's."""
        forms.Field.default_error_messages = forms.Field.default_error_messages | {"required": REQUIRED}
