"""Forms of a crew and its people."""

from typing import Any

from django import forms
from django.contrib.auth.password_validation import validate_password

from skavit.crews.models import Role, User


class CrewForm(forms.Form):
    """The crew's name and its clock."""

    name = forms.CharField(max_length=80, label="Crew")
    twelve_hour = forms.TypedChoiceField(
        label="Times are shown in",
        choices=[("0", "24 hours: 22:40"), ("1", "12 hours: 10:40 pm")],
        coerce=lambda value: value == "1",
        widget=forms.RadioSelect,
    )


class PersonForm(forms.Form):
    """A person added to the crew, with a first password."""

    username = forms.CharField(max_length=40, label="Login name")
    password = forms.CharField(
        label="First password", widget=forms.PasswordInput(attrs={"autocomplete": "new-password"})
    )
    role = forms.ChoiceField(choices=Role.choices, initial=Role.INSTALLER, label="Role")

    def clean_username(self) -> str:
        """A name that nobody has."""
        name: str = self.cleaned_data["username"].strip()
        if User.objects.filter(username__iexact=name).exists():
            raise forms.ValidationError("Somebody has this login name. Accepted: another one.")
        return name

    def clean_password(self) -> str:
        """A password by Django's rules."""
        password: str = self.cleaned_data["password"]
        validate_password(password)
        return password


class RoleForm(forms.Form):
    """A person's role."""

    role = forms.ChoiceField(choices=Role.choices)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["role"].label = "Role"
