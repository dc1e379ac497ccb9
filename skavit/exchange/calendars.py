"""Calendars in iCalendar (RFC 5545), by the package icalendar: a unit's coming periods, and what is due in a crew."""

import datetime as dt

from icalendar import Calendar, Event, vText

from skavit.core.due import Sort, due_text
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.spans import Spans, closed
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_of
from skavit.core.simulation.day_table import TRAIN_GAP_S
from skavit.core.simulation.replay import replay
from skavit.core.water.stack import named_stations
from skavit.crews.models import Crew
from skavit.due.selectors import due_of_crew, today_of
from skavit.server.now import site_digits
from skavit.units.models import Unit

DAYS_AHEAD, MOST_EVENTS = 60, 600
PRODID = "-//Skavit//Skavit//EN"


def unit_calendar(unit: Unit, plan: Plan, now: int) -> bytes:
    """What the outputs, and the stations, of a unit do in the coming days: an event for each period that they are on."""
    found = _calendar(f"{unit.site.name}, {unit.name}")
    for on, off, name, number in coming(plan, now, DAYS_AHEAD)[:MOST_EVENTS]:
        event = Event()
        event.add("uid", f"unit-{unit.pk}-{number}-{on}@skavit")
        event.add("dtstamp", _utc(now))
        event.add("dtstart", _utc(on))
        event.add("dtend", _utc(off))
        event.add("summary", f"{name} on")
        event.add("location", f"{unit.site.name}{', ' + unit.whereabouts if unit.whereabouts else ''}")
        event.add("transp", "TRANSPARENT")  # it takes nobody's time
        found.add_component(event)
    return bytes(found.to_ical())


def coming(plan: Plan, now: int, days: int) -> list[tuple[int, int, str, int]]:
    """The periods of today and so many days on, by time: on and off in seconds of UTC, the output or station and its place."""
    today = day_of(site_digits(plan.site, now) // DAY_S)
    run = replay(plan, today, today + dt.timedelta(days=days))
    named = [*((channel.name, channel.actual) for channel in run.channels), *named_stations(run)]
    return sorted((on, off, name, place) for place, (name, spans) in enumerate(named) for on, off in _pairs(spans))


def _pairs(spans: Spans) -> list[tuple[int, int]]:
    """The periods as plain numbers, pulses of a train as one."""
    whole = closed(spans, TRAIN_GAP_S)
    return list(zip(whole.on.tolist(), whole.off.tolist(), strict=True))


def due_calendar(crew: Crew, now: int) -> bytes:
    """What is due in a crew on a date: an event of that day each; what is due now is on today's."""
    found = _calendar(f"{crew.name}: due")
    today = today_of(crew, now)
    for due in due_of_crew(crew)[:MOST_EVENTS]:
        day = due.date or today
        event = Event()
        event.add("uid", f"due-{due.unit_id}-{due.sort}@skavit")
        event.add("dtstamp", _utc(now))
        event.add("dtstart", day)
        event.add("dtend", day + dt.timedelta(days=1))
        event.add(
            "summary", f"{due.unit.name}, {due.unit.site.name}: {due_text(Sort(due.sort), due.count, crew.words)}"
        )
        event.add("transp", "TRANSPARENT")
        found.add_component(event)
    return bytes(found.to_ical())


def _calendar(name: str) -> Calendar:
    found = Calendar()
    found.add("prodid", PRODID)
    found.add("version", "2.0")
    found.add("method", "PUBLISH")
    found.add("x-wr-calname", vText(name))  # the package would not escape a comma in it
    return found


def _utc(instant: int) -> dt.datetime:
    return dt.datetime.fromtimestamp(instant, dt.UTC)
