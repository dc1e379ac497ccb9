"""The sentences of the customer's sheet. They are translated: see CONTRIBUTING.md, "Languages"."""

from django.utils.translation import gettext as _
from django.utils.translation import pgettext


def labels() -> dict[str, str]:
    """The headings, in the language that is active."""
    return {
        "this_week": _("This week"),
        "june": _("Around 21 June"),
        "december": _("Around 21 December"),
        "year": _("The whole year"),
        "year_says": _(
            "Each column is a night, from noon at the top to noon at the bottom; the dark band is the night, yellow is on."
        ),
        "by_hand": _("By hand"),
        "back": _("Back to automatic"),
        "call": _("Who to call"),
        "mind": _("Mind"),
        "noon": _("noon"),
        "midnight": _("midnight"),
        "page_of": _("As of %(date)s. It changes with the sun, with the clocks, and whenever the program is changed."),
        "ended": _("This link has ended. Ask whoever gave it to you for another."),
    }


def period_text(start: str, end: str, *, later: bool) -> str:
    """From one clock time to another."""
    if later:
        return _("%(start)s to %(end)s the next day") % {"start": start, "end": end}
    return _("%(start)s to %(end)s") % {"start": start, "end": end}


def all_day() -> str:
    """On throughout."""
    return _("on all day")


def nothing(*, waters: bool = False) -> str:
    """Not on at all."""
    return pgettext("of watering, on a date", "no watering") if waters else pgettext("of a lamp, on a date", "off")


def by_hand(key: str, on: str, off: str) -> list[str]:
    """How to bring it on and off by hand, with the words on the unit itself."""
    found = []
    if key and on:
        found.append(_("To have it on: press %(key)s until the display reads %(word)s.") % {"key": key, "word": on})
    if key and off:
        found.append(_("To have it off: press %(key)s until the display reads %(word)s.") % {"key": key, "word": off})
    return found or [_("Ask whoever installed it which key switches it by hand.")]


def back(key: str, auto: str, *, waits: bool) -> list[str]:
    """How it goes back to its program."""
    if not key or not auto:
        return [_("Put it back to automatic, else its program does not run.")]
    found = [
        _("Press %(key)s until the display reads %(word)s: from then on the program runs again.")
        % {"key": key, "word": auto}
    ]
    if waits:
        found.append(_("It keeps its state until the program switches it next."))
    return found


def cautions(sorts: frozenset[str], *, light: bool) -> list[str]:
    """What to mind, by what hangs on it."""
    found = [_("Mains voltage inside: leave the cover of the switchboard to licensed people.")]
    if sorts & {"gate", "lock-holds", "lock-opens"}:
        found.append(_("Doors and gates may move or unlock by themselves: keep clear of them."))
    if sorts & {"valve", "pump"}:
        found.append(_("Water may start by itself, at night too: keep clear of sprinklers and pumps."))
    if "heater" in sorts:
        found.append(_("Heaters and taps can be hot: let children test water with a grown-up."))
    if light:
        found.append(_("A photocell switches it by the light: keep its eye clean and free."))
    found.append(_("After a power cut look at its clock: if it flashes, nothing switches until it is set."))
    return found
