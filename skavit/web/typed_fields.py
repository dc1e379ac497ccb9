"""Form fields for dates and clock times as people write them, read by the core."""

import datetime as dt
from typing import Any

from django import forms
from django.http import QueryDict
from django.utils.translation import gettext_lazy as _

from skavit.core.ground.errors import PlanError, UserError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.times import read_clock_time
from skavit.core.text.quantities import Measure
from skavit.core.text.typed import clock_word, date_typed
from skavit.core.text.wording import Words, capital
from skavit.server.bounds import FILE_BYTES


def _refused(error: PlanError) -> forms.ValidationError:
    return forms.ValidationError(f"{capital(error.wrong)}. Accepted: {error.accepted}.")


class DateField(forms.CharField):
    """A date; one without a year is of the year of ``today``, which :func:`tell_today` sets."""

    today: dt.date

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(max_length=20, **{"help_text": _("Such as 15 Feb 2027."), **kwargs})

    def clean(self, value: Any) -> dt.date | None:
        """The date, or None where it may be left empty."""
        text = super().clean(value)
        try:
            return date_typed(text, "date", self.today) if text.strip() else None
        except PlanError as error:
            raise _refused(error) from error


def tell_today(form: forms.Form, today: dt.date) -> None:
    """Say which date it is, so that a date may be typed without its year."""
    for field in form.fields.values():
        if isinstance(field, DateField):
            field.today = today


class TimeField(forms.CharField):
    """A clock time, in seconds after midnight."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(max_length=12, **kwargs)

    def clean(self, value: Any) -> int | None:
        """Seconds, or None where it may be left empty."""
        text = super().clean(value)
        try:
            return read_clock_time(Node(clock_word(text), "time")).seconds if text.strip() else None
        except PlanError as error:
            raise _refused(error) from error


def in_words(form: forms.Form, words: Words) -> None:
    """Let a form's labels, helps and choices say daylight saving as the crew does, and bare quantities mean its units."""
    for field in form.fields.values():
        if isinstance(field, QuantityField) and words.us_units:
            field.us = True
            field.help_text = f"In {field.measure.us}, or such as {field.measure.low_text}."
        field.label, field.help_text = words.said(str(field.label or "")), words.said(str(field.help_text))
        if isinstance(field, forms.ChoiceField):
            field.choices = [(value, words.said(str(name))) for value, name in field.widget.choices]


def with_hidden(form: forms.Form, name: str, value: int) -> None:
    """Let a form that was refused carry another value in one of its hidden fields; what was typed stays."""
    if isinstance(form.data, QueryDict):
        data = form.data.copy()
        data[name] = str(value)
        form.data = data


def check_size(file: Any) -> None:
    """Raise :class:`ValidationError` for a file that is too large to be one of ours."""
    if file.size > FILE_BYTES:
        raise forms.ValidationError(
            f"{file.size / 1e6:.1f} MB are too much. Accepted: at most {FILE_BYTES / 1e6:.0f} MB."
        )


class QuantityField(forms.CharField):
    """A quantity in the unit that it is kept in, typed in that or another."""

    us = False  # what a bare number means, which :func:`in_words` sets

    def __init__(self, measure: Measure, **kwargs: Any) -> None:
        self.measure = measure
        super().__init__(max_length=30, **{"help_text": f"In {measure.unit}.", **kwargs})

    def clean(self, value: Any) -> float | None:
        """The quantity, or None where it may be left empty."""
        typed = super().clean(value)
        if not typed:
            return None
        try:
            found = self.measure.read(typed, us=self.us)
        except UserError as error:
            raise forms.ValidationError(f"{capital(str(error))}.".replace("; accepted:", ". Accepted:")) from error
        # A field shows five figures of another unit: four of them come back as they were kept.
        return float(f"{found:.4g}") if self.us else found
