"""Rows that people change by a form: each counts its changes, and a form of an older one is refused."""

from typing import Any

from django import forms

from skavit.web.errors import Stale


class StaleRow(Stale):
    """Somebody else has changed the row since the form was made; ``now`` says what it is by now."""

    def __init__(self, version: int, now: str) -> None:
        super().__init__(
            f"Somebody changed this meanwhile. It is now: {now}. What you typed still stands here: "
            "send it again to put it in place of that, or leave.",
            version,
        )


class VersionField(forms.IntegerField):
    """The version that a form was made from; -1, older than any, where none was sent."""

    def __init__(self) -> None:
        super().__init__(required=False, widget=forms.HiddenInput)

    def clean(self, value: Any) -> int:
        """A number."""
        found = super().clean(value)
        return -1 if found is None else int(found)
