"""Errors in the words of a page: no path of the plan file, which nobody sees there."""

import re

from skavit.core.ground.errors import PlanError
from skavit.core.text.wording import capital

# By the beginning of a path; numbers count from 1, as the page does.
_PLACES: tuple[tuple[re.Pattern[str], str], ...] = tuple(
    (re.compile(pattern), words)
    for pattern, words in (
        (r"channels\[(\d+)\]\.windows\[(\d+)\]", "channel {0}, window {1}"),
        (r"channels\[(\d+)\]", "channel {0}"),
        (r"unit\.entries\[(\d+)\]", "slot {0}"),
        (r"unit\.keyings\[(\d+)\]\.entries\[(\d+)\]", "keying {0}, slot {1}"),
        (r"unit\.keyings\[(\d+)\]", "keying {0}"),
        (r"unit\.holidays\[(\d+)\]", "holiday {0}"),
        (r"unit\.clock", "the clock"),
        (r"unit\.sun", "the sun times"),
        (r"unit\.limits", "the memory"),
        (r"overrides\[(\d+)\]", "what was done by hand, line {0}"),
        (r"site", "the place"),
    )
)


def place_words(path: str) -> str:
    """Where a path of a plan points, in words; empty where a page has none for it."""
    for pattern, words in _PLACES:
        if match := pattern.match(path):
            return words.format(*(int(number) + 1 for number in match.groups()))
    return ""


def error_text(error: Exception) -> str:
    """An error as a page tells it: where it is in the page's words, what is wrong, what is accepted."""
    if not isinstance(error, PlanError):
        return str(error)
    place = place_words(error.path) or (error.path if re.fullmatch(r"[\w ,]+", error.path) else "")
    text = f"{place}: {error.wrong}" if place else error.wrong
    return f"{capital(text)}. Accepted: {error.accepted}."
