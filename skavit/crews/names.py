"""Names that people can tell apart: no letters that cannot be seen, none that look like another's.

What looks alike comes from Unicode's table of confusables (Unicode Technical Standard 39), by the package
confusable-homoglyphs; on top of it the digits 0 and 1, and a large i, which many typefaces draw as the letters o and l.
"""

import unicodedata
from functools import lru_cache

from confusable_homoglyphs import categories, confusables
from django.core.exceptions import ValidationError

ASCII_ALIKE = str.maketrans({"0": "o", "1": "l", "i": "l"})
UNSEEN = ("Cf", "Cc", "Co", "Cn", "Cs", "Zl", "Zp")
ACCEPTED = "Accepted: letters of one alphabet, digits, spaces and . - _ @ +"


@lru_cache(maxsize=4096)
def _letter(letter: str) -> str:
    """The plain Latin letter that a letter looks like, or itself."""
    if letter.isascii():
        return letter
    for found in confusables.confusables_data.get(letter, ()):
        if found["c"].isascii() and found["c"].isalnum():
            return str(found["c"])
    return letter


def looks_of(name: str) -> str:
    """What a name looks like: equal for two names that the eye takes for one."""
    plain = unicodedata.normalize("NFKC", name)
    seen = "".join(_letter(letter) for letter in plain if unicodedata.category(letter) not in UNSEEN)
    return "".join(_letter(letter) for letter in seen.casefold()).translate(ASCII_ALIKE)[:400]


def check_name(name: str) -> None:
    """Raise :class:`ValidationError` for a name with letters that cannot be seen or of several alphabets."""
    if any(unicodedata.category(letter) in UNSEEN for letter in name) or unicodedata.normalize("NFKC", name) != name:
        raise ValidationError(
            f"A letter of it cannot be seen, or is written in a way that looks like another. {ACCEPTED}."
        )
    if len(categories.unique_aliases(name) - {"COMMON", "INHERITED"}) > 1:
        raise ValidationError(f"Its letters are of more than one alphabet. {ACCEPTED}.")


def check_login_name(name: str) -> None:
    """The same for a user name, which has signs that can be typed."""
    check_name(name)
    if not all(letter.isalnum() or unicodedata.combining(letter) or letter in " .-_@+'" for letter in name):
        raise ValidationError(f"It has a sign that a user name cannot have. {ACCEPTED}.")
