"""What of a unit is looked at: the year, the channel and the cursor's night, as a query string says it."""

from dataclasses import dataclass
from typing import Any

from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.plan.seasonal import stretches
from skavit.core.plan.times import day_number, day_of
from skavit.server.now import local_digits
from skavit.units.trades import pages_of

MAX_YEARS_ON = 10
MOST_WITHIN_MIN = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class View:
    """What of a unit is looked at: the year, the channel, station or zone (from 1), the cursor's night, and by whose clock and sun."""

    year: int
    channel: int
    day: int
    believed: bool = False  # as the unit believes, not in true time
    keying: int = 0  # whose entries are shown: 0, or the n-th of the plan's keyings
    within: tuple[int, int] | None = None  # minutes of error of clock and sun that are allowed; None: strictly

    @property
    def channel_text(self) -> str:
        """The channel's number as text, for templates that make a place of it."""
        return str(self.channel)

    @property
    def query(self) -> str:
        """The view as a query string."""
        within = f"&clock_min={self.within[0]}&sun_min={self.within[1]}" if self.within else ""
        return f"year={self.year}&channel={self.channel}&day={self.day}&keying={self.keying}{within}"

    @property
    def fields(self) -> SafeString:
        """The view as hidden fields, which forms carry along."""
        numbers = {"year": self.year, "channel": self.channel, "keying": self.keying}
        if self.within:
            numbers |= {"clock_min": self.within[0], "sun_min": self.within[1]}
        hidden = format_html_join("", '<input type="hidden" name="{}" value="{}">', numbers.items())
        return hidden + format_html('<input type="hidden" name="day" value="{}" data-day-field>', self.day)


def chosen_view(plan: Plan, query: Any, now: int) -> View:
    """The view that a query string asks for, with the nearest that exists in place of what does not."""
    today = local_digits(plan, now) // DAY_S
    here = day_of(today).year
    year = _number(query.get("year"), here, here - MAX_YEARS_ON, here + MAX_YEARS_ON)
    first = day_number(day_of(today).replace(year=year, month=1, day=1))
    last = day_number(day_of(today).replace(year=year, month=12, day=31))
    return View(
        year=year,
        channel=_number(query.get("channel"), 1, 1, max(pages_of(plan).rows(plan), 1)),
        day=_number(query.get("day"), min(max(today, first), last), first, last),
        believed=query.get("by") == "unit",
        keying=_number(query.get("keying"), keying_on(plan, today), 0, len(plan.unit.keyings)),
        within=_within(query),
    )


def _within(query: Any) -> tuple[int, int] | None:
    """The minutes allowed, where any are."""
    clock, sun = (_number(query.get(name), 0, 0, MOST_WITHIN_MIN) for name in ("clock_min", "sun_min"))
    return (clock, sun) if clock or sun else None


def keying_on(plan: Plan, day: int) -> int:
    """The keying that is in the unit on a day."""
    return stretches(plan.unit.keyings, day, day)[0].keying if plan.unit.keyings else 0


def _number(text: str | None, default: int, low: int, high: int) -> int:
    try:
        return min(max(int(text or default), low), high)
    except ValueError:
        return default
