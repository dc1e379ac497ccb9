"""Typed readers for settings that come from the environment."""

import os

from django.core.exceptions import ImproperlyConfigured


def text(name: str, default: str) -> str:
    """A text, or the default where it is not set."""
    return os.environ.get(name, default)


def flag(name: str, *, default: bool) -> bool:
    """Yes or no as 1 or 0."""
    value = os.environ.get(name, "1" if default else "0")
    if value not in ("0", "1"):
        raise ImproperlyConfigured(f"{name} is {value!r}; accepted: 0 or 1")
    return value == "1"


def words(name: str, default: str) -> list[str]:
    """A list of words with commas between."""
    return [word.strip() for word in os.environ.get(name, default).split(",") if word.strip()]
