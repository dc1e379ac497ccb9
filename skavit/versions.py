"""Rows that people change by a form: each counts its changes, and a form of an older one is refused."""

from typing import Any

from django import forms

from skavit.typed_fields import with_hidden

CONFLICT = 409


class Stale(Exception):
    """The row has been changed since the form was made; what was typed is still with the caller."""

    def __init__(self, version: int, now: str) -> None:
        self.version = version
        super().__init__(
            f"Somebody changed this meanwhile. It is now: {now}. What you typed still stands here: "
            "send it again to put it in place of that, or leave."
        )


class VersionField(forms.IntegerField):
    """The version that a form was made from; -1, older than any, where none was sent."""

    def __init__(self) -> None:
        super().__init__(required=False, widget=forms.HiddenInput)

    def clean(self, value: Any) -> int:
        """A number."""
        found = super().clean(value)
        return -1 if found is None else int(found)


def show_stale(form: forms.Form, stale: Stale) -> None:
    """Say it on the form, which from now on is one of the newer version."""
    form.add_error(None, str(stale))
    with_hidden(form, "version", stale.version)
