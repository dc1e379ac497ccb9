"""Tables in CSV (RFC 4180), UTF-8: entries, a year's periods and hours, sun times, and what is due."""

from collections.abc import Iterator
from datetime import date

import numpy as np

from skavit.core.due import Sort, due_text
from skavit.core.formats import iso
from skavit.core.ground.arrays import DAY_S, HOUR_S
from skavit.core.ground.spans import Spans, closed
from skavit.core.plan.document import Plan, Site
from skavit.core.plan.times import day_number, day_of
from skavit.core.simulation.day_table import TRAIN_GAP_S
from skavit.core.simulation.replay import Replay
from skavit.core.site.almanac import almanac
from skavit.core.site.clock import zone_clock
from skavit.core.sun import SunEvent
from skavit.core.text.wording import Words, days_text
from skavit.core.water.stack import named_stations
from skavit.crews.models import Crew
from skavit.due.selectors import due_of_crew
from skavit.units.models import Unit
from skavit.web.tables import MOST_ROWS, table

SIDES = ("wanted", "actual", "extra", "missing")  # of a channel, by the names that a replay has for them


def entries_table(plan: Plan, words: Words) -> str:
    """What is keyed, slot by slot."""
    rows = [
        (
            keying or "",
            slot,
            " ".join(map(str, e.channels)),
            e.action,
            words.time(e.at),
            days_text(e.days),
            e.pulse_s or "",
        )
        for keying, entries in enumerate(plan.unit.sets)
        for slot, e in enumerate(entries, start=1)
    ]
    return table(("keying", "slot", "channels", "action", "at", "days", "seconds"), rows)


def periods_table(run: Replay) -> str:
    """Every period of a run: what is wanted, what is done, and what of it is not wanted or missing."""
    return table(("output", "what", "on", "off", "hours"), _periods(run))


def _periods(run: Replay) -> Iterator[tuple[object, ...]]:
    for channel in run.channels:
        for what in SIDES:
            yield from _rows(channel.name, what, getattr(channel, what), run)
    for name, spans in named_stations(run):
        yield from _rows(name, "run", spans, run)


def _rows(name: str, what: str, spans: Spans, run: Replay) -> Iterator[tuple[object, ...]]:
    whole = closed(spans, TRAIN_GAP_S)
    for on, off, long in zip(
        iso(whole.on, run.site_clock), iso(whole.off, run.site_clock), whole.lengths.tolist(), strict=True
    ):
        yield name, what, on, off, round(long / HOUR_S, 4)


def hours_table(run: Replay) -> str:
    """Hours by month, an output each: wanted, done, not wanted, missing."""
    year = day_of(run.first).year
    starts = [day_number(date(year + month // 12, month % 12 + 1, 1)) for month in range(13)]
    turns = run.site_clock.first(np.array(starts, dtype=np.int64) * DAY_S).tolist()
    rows = [
        (
            channel.name,
            f"{year}-{month + 1:02d}",
            *(_hours(getattr(channel, what), *turns[month : month + 2]) for what in SIDES),
        )
        for channel in run.channels
        for month in range(12)
    ]
    return table(("output", "month", *(f"{what}_h" for what in SIDES)), rows)


def _hours(spans: Spans, low: int, high: int) -> float:
    return round(spans.cut(low, high).total_s / HOUR_S, 4)


def sun_table(site: Site, year: int) -> str:
    """Dawn, sunrise, noon, sunset and dusk of each date of a year."""
    low, high = day_number(date(year, 1, 1)), day_number(date(year, 12, 31))
    book, clock = almanac(site, low, high), zone_clock(site.timezone, year - 1, year + 1)
    rows = []
    for row in range(*book.rows(low, high).indices(book.calendar.days.size)):
        at = [book.sun.times[event, row] for event in SunEvent]
        known = [bool(book.sun.crosses[event, row]) for event in SunEvent]
        told = iso(np.array([*at, book.sun.noon[row]]), clock)
        dawn, rise, fall, dusk = (text if there else "" for text, there in zip(told[:4], known, strict=True))
        rows.append((day_of(int(book.calendar.days[row])).isoformat(), dawn, rise, told[4], fall, dusk))
    return table(("date", "dawn", "sunrise", "noon", "sunset", "dusk"), rows)


def due_table(crew: Crew, words: Words) -> str:
    """What is due in a crew."""
    rows = [
        (
            due.date.isoformat() if due.date else "",
            due.unit.site.area,
            due.unit.site.name,
            due.unit.name,
            due.unit.whereabouts,
            due_text(Sort(due.sort), due.count, words),
            *_planned(due.unit),
        )
        for due in due_of_crew(crew)[:MOST_ROWS]
    ]
    return table(("date", "area", "site", "unit", "whereabouts", "what", "person", "planned"), rows)


def _planned(unit: Unit) -> tuple[str, str]:
    planned = getattr(unit, "planned", None)
    if planned is None:
        return "", ""
    return str(planned.person or ""), planned.date.isoformat() if planned.date else ""
