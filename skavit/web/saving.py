"""Saving what a form says, and showing the form again with what was typed where it cannot be saved."""

from collections.abc import Callable
from http import HTTPStatus
from typing import TypeVar

from django import forms
from django.http import HttpResponse

from skavit.core.ground.errors import UserError
from skavit.core.text.error_text import error_text
from skavit.web.errors import Stale, status_of
from skavit.web.typed_fields import with_hidden

Saved = TypeVar("Saved")


def show_error(form: forms.Form, error: UserError) -> HTTPStatus:
    """Say on a form why it was refused, and return the status of the answer.

    A form of something that has been changed since is from now on one of the newest.
    """
    form.add_error(error.field if error.field in form.fields else None, error_text(error))
    if isinstance(error, Stale):
        with_hidden(form, error.made_from, error.newest)
    return status_of(error)


def save_form(
    form: forms.Form,
    save: Callable[[], Saved],
    then: Callable[[Saved], HttpResponse],
    page: Callable[[HTTPStatus], HttpResponse],
) -> HttpResponse:
    """Save a form and go on, or show its page with what was typed.

    ``save`` is called where the form is valid and may raise :class:`UserError`; ``then`` answers with what it
    gave. ``page`` shows the form with a status: 200 where nothing was sent, 422 where it was refused, 409 where what it was made from
    has been changed since.
    """
    if not form.is_bound:
        return page(HTTPStatus.OK)
    if not form.is_valid():
        return page(HTTPStatus.UNPROCESSABLE_ENTITY)
    try:
        saved = save()
    except UserError as error:
        return page(show_error(form, error))
    return then(saved)
