"""Dates to know for a site and a unit: clock changes, longest and shortest night, empty windows, fastest sun."""

from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S, YEAR_DAYS, Ints
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.simulation.wanted import window_spans
from skavit.core.site.almanac import Almanac, almanac
from skavit.core.site.clock import WallClock, unit_clock, zone_clock
from skavit.core.site.clock_check import Change, clock_changes
from skavit.core.sun import SunEvent
from skavit.core.text.wording import Words, date_text, duration_text, stretches


@dataclass(frozen=True, slots=True, kw_only=True)
class DateToKnow:
    """One of them: a day number of the site's calendar, what it is, and what happens."""

    day: int
    name: str
    what: str


def dates_to_know(plan: Plan, instant: int, words: Words, *, by_hand: bool = False) -> tuple[DateToKnow, ...]:
    """The dates of the year that begins at ``instant``, in order; ``by_hand``: somebody must move the unit's clock."""
    year = day_of(instant // DAY_S).year
    site = zone_clock(plan.site.timezone, year - 1, year + 2)
    today = int(site.digits(np.array([instant]))[0]) // DAY_S
    book = almanac(plan.site, today, today + YEAR_DAYS + 1)
    rows = np.arange(*book.rows(today, today + YEAR_DAYS - 1).indices(book.calendar.days.size))
    unit = unit_clock(plan.unit.clock, plan.site.timezone, year - 1, year + 2).right
    found = _changes(site, unit, instant, words, by_hand=by_hand) + _nights(book, rows) + _fastest(book, rows)
    return tuple(sorted(found + _empty_windows(plan, book, rows, site, words), key=lambda date: date.day))


def _changes(site: WallClock, unit: WallClock, instant: int, words: Words, *, by_hand: bool) -> list[DateToKnow]:
    until = instant + YEAR_DAYS * DAY_S
    by_law, by_unit = clock_changes(site, instant, until), clock_changes(unit, instant, until)
    both = set(by_law) & set(by_unit)
    who = {change: "the law's clock and the unit's" if change in both else "the law's clock" for change in by_law}
    who |= {change: "the unit's clock alone" for change in by_unit if change not in both}
    return [
        DateToKnow(
            day=change.digits // DAY_S,
            name="clock change",
            what=_change_text(change, whose, words)
            + (" Move the unit's by hand." if by_hand and change in both else ""),
        )
        for change, whose in who.items()
    ]


def _change_text(change: Change, whose: str, words: Words) -> str:
    way = "on" if change.by_s > 0 else "back"
    return f"At {words.minute(change.digits % DAY_S)} {whose} goes {way} by {duration_text(change.by_s)}."


def _nights(book: Almanac, rows: Ints) -> list[DateToKnow]:
    night_s = book.sun.times[SunEvent.SUNRISE, rows + 1] - book.sun.times[SunEvent.SUNSET, rows]
    longest, shortest = int(np.argmax(night_s)), int(np.argmin(night_s))
    return [
        DateToKnow(
            day=int(book.calendar.days[rows[at]]),
            name=f"{name} night",
            what=f"{duration_text(int(night_s[at]))} from sunset to sunrise.",
        )
        for name, at in (("longest", longest), ("shortest", shortest))
    ]


def _fastest(book: Almanac, rows: Ints) -> list[DateToKnow]:
    """Around the equinoxes, by one and a half to two minutes a day at middle latitudes (common practice, no source)."""
    found = []
    for event in (SunEvent.SUNRISE, SunEvent.SUNSET):
        step = np.diff(book.sun.times[event, np.append(rows, rows[-1] + 1)]) - DAY_S
        known = book.sun.crosses[event, rows] & book.sun.crosses[event, rows + 1]
        if not known.any():
            continue
        at = int(np.argmax(np.where(known, np.abs(step), -1)))
        way = "later" if step[at] > 0 else "earlier"
        found.append(
            DateToKnow(
                day=int(book.calendar.days[rows[at]]),
                name=f"fastest {event.name.lower()}",
                what=f"It comes {abs(step[at]) / 60:.1f} min {way} each day.",
            )
        )
    return found


def _empty_windows(plan: Plan, book: Almanac, rows: Ints, site: WallClock, words: Words) -> list[DateToKnow]:
    """The first and the last date of each stretch on which a window holds and is empty.

    A stretch that today or the year's end cuts has no first or no last date here.
    """
    found = []
    first, last = int(book.calendar.days[rows[0]]), int(book.calendar.days[rows[-1]])
    for channel in plan.channels:
        for window in channel.windows:
            start, end = window_spans(window, book, rows, site)
            days = book.calendar.days[rows[window.days.matches(book.calendar)[rows]]]
            to = words.time(window.to) if window.to else ""
            sentence = f"{channel.name}: {words.time(window.start)} until {to} is empty"
            for begins, ends in stretches(days[end <= start]):
                if begins > first:
                    what = f"{sentence} from here to {date_text(ends)}."
                    found.append(DateToKnow(day=begins, name="window first empty", what=what))
                if ends < last:
                    found.append(DateToKnow(day=ends, name="window last empty", what=f"{sentence} until here."))
    return found
