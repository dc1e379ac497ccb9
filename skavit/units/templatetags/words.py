"""Template words: markup that the charts made, and the shapes of severities."""

from functools import lru_cache

from django import template
from django.utils.safestring import SafeString, mark_safe

from skavit.charts.svg import element
from skavit.charts.year_sheet import mark
from skavit.core.kinds.fields import field_text
from skavit.core.kinds.parts import Press
from skavit.core.sheet import press_rows

register = template.Library()


@register.filter
def svg(markup: str) -> SafeString:
    """SVG from :mod:`skavit.charts`, which escapes all text that it is given."""
    return mark_safe(markup)  # noqa: S308


@register.simple_tag
@lru_cache(maxsize=256)
def severity_mark(severity: str, number: int | str = "") -> SafeString:
    """A finding's sign, the same as on the year sheet."""
    inner = mark(number, severity, 10, 10)  # type: ignore[arg-type]
    return mark_safe(element("svg", inner, class_="sign", viewBox="0 0 20 20", aria_hidden="true"))  # noqa: S308


@register.filter
def field_word(field: str) -> str:
    """A field of a display in words."""
    return field_text(field)


@register.filter
def in_rows(presses: tuple[Press, ...]) -> tuple[tuple[Press, ...], ...]:
    """Presses as lines to read."""
    return press_rows(presses)
