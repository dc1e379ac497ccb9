"""Forms of a crew and its people."""

from typing import Any

from django import forms
from django.conf import settings
from django.contrib.auth.forms import PasswordChangeForm, SetPasswordForm
from django.contrib.auth.password_validation import validate_password
from django.utils.translation import gettext_lazy as _

from skavit.core.text.wording import DAYLIGHT_SAVING, SUMMER_TIME
from skavit.crews.models import Mails, Role, User
from skavit.crews.names import check_login_name, check_name, looks_of
from skavit.crews.services import PERSON_TAKEN

PASSWORD_HELP = _("At least eight characters, not the name, not only digits.")
CLOCKS = [("0", _("24 hours: 22:40")), ("1", _("12 hours: 10:40 pm"))]
UNITS = [("0", "litres, millimetres, metres"), ("1", "gallons, inches, feet")]
SUMMERS = [("0", DAYLIGHT_SAVING), ("1", SUMMER_TIME)]


def _either(label: str, choices: list[tuple[str, str]]) -> forms.TypedChoiceField:
    """One of two ways, false and true; the first where nothing is sent."""
    return forms.TypedChoiceField(
        label=label,
        choices=choices,
        initial="0",
        required=False,
        empty_value=False,  # type: ignore[arg-type]  # the stub knows text alone
        coerce=lambda value: value == "1",
        widget=forms.RadioSelect,
    )


class CrewForm(forms.Form):
    """The crew's name and its clock."""

    name = forms.CharField(max_length=80, label="Crew", validators=[check_name])
    twelve_hour = forms.TypedChoiceField(
        label="Times are shown in", choices=CLOCKS, coerce=lambda value: value == "1", widget=forms.RadioSelect
    )
    summer_time = _either("The clock put ahead is called", SUMMERS)
    us_units = _either("Water is measured in", UNITS)
    contact = forms.CharField(
        max_length=120,
        required=False,
        label="Customers call",
        help_text="A name and a number: it stands on their sheet.",
    )


class NameForm(forms.Form):
    """A user name."""

    username = forms.CharField(
        max_length=40,
        label=_("User name"),
        validators=[check_login_name],
        widget=forms.TextInput(attrs={"autocomplete": "username"}),
    )
    person: User | None = None  # whose name it is to be: their own does not count as taken

    def clean_username(self) -> str:
        """A name that nobody else has."""
        name: str = self.cleaned_data["username"].strip()
        others = User.objects.exclude(pk=self.person.pk) if self.person else User.objects.all()
        if others.filter(looks=looks_of(name)).exists():
            raise forms.ValidationError(PERSON_TAKEN)
        return name

    @classmethod
    def of(cls, person: User, typed: Any = None) -> "NameForm":
        """The form that renames a person."""
        form = cls(typed, initial={"username": person.username})
        form.person = person
        return form


class NewPersonForm(NameForm):
    """A user name and a first password."""

    password = forms.CharField(
        label=_("Password"),
        help_text=PASSWORD_HELP,
        widget=forms.PasswordInput(attrs={"autocomplete": "new-password"}),
    )

    def clean(self) -> dict[str, Any]:
        """A password by Django's rules, one of which holds it against the name."""
        data = super().clean() or {}
        if "password" in data:
            try:
                validate_password(data["password"], User(username=data.get("username", "")))
            except forms.ValidationError as error:
                self.add_error("password", error)
        return data


class _Chosen(forms.Form):
    """The two fields of a new password, in the words of the house."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["new_password1"].help_text = PASSWORD_HELP
        self.fields["new_password2"].label = _("The new password again")
        self.fields["new_password2"].help_text = ""


class ChangedPasswordForm(_Chosen, PasswordChangeForm):
    """Another password, by who knows the old one."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["old_password"].widget.attrs.pop("autofocus", None)


class ChosenPasswordForm(_Chosen, SetPasswordForm):  # type: ignore[type-arg]  # it takes none when it runs
    """A password, by who has a link."""


class PersonForm(NewPersonForm):
    """A person added to the crew."""

    role = forms.ChoiceField(choices=Role.choices, initial=Role.INSTALLER, label="Role")


class BeginForm(NewPersonForm):
    """The first crew and its owner."""

    crew = forms.CharField(
        max_length=80, label=_("Crew"), help_text=_("What your firm or team is called."), validators=[check_name]
    )
    twelve_hour = forms.TypedChoiceField(
        label=_("Times are shown in"),
        choices=CLOCKS,
        initial="0",
        coerce=lambda value: value == "1",
        widget=forms.RadioSelect,
    )
    field_order = ("crew", "username", "password", "twelve_hour")


class RoleForm(forms.Form):
    """A person's role."""

    role = forms.ChoiceField(choices=Role.choices)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["role"].label = "Role"


class MailForm(forms.Form):
    """Where a person's mail goes."""

    email = forms.EmailField(
        label=_("Mail"),
        required=False,
        help_text=_("For a link to a new password, and what is due. Empty: none is sent."),
    )
    mails = forms.ChoiceField(label=_("What is due"), choices=Mails.choices, widget=forms.RadioSelect)


class LanguageForm(forms.Form):
    """The language of one's pages, as far as they are translated."""

    language = forms.ChoiceField(
        label=_("Language"),
        choices=settings.LANGUAGES,
        widget=forms.RadioSelect,
        help_text=_("Logging in, your account, visits, and what leads to them. The rest is in English."),
    )
