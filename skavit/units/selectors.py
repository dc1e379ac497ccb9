"""What the pages of units show, read from models and computed by the core; nothing here changes anything."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from skavit.charts.night_strip import Label, lying_strip, night_strip
from skavit.charts.year_sheet import Mark, year_sheet
from skavit.core.almanac import almanac
from skavit.core.findings import Finding
from skavit.core.handover import ChannelHandover, handover
from skavit.core.plan import Plan, Window
from skavit.core.purpose import Purpose, purposes
from skavit.core.sheet import Step, steps
from skavit.core.sun import DAY_S
from skavit.core.unit import Cause
from skavit.core.values import LimitedTime, day_number, day_of, sun_time_of
from skavit.core.wanted import window_spans
from skavit.core.wording import MONTHS, SHORT_DAYS, Words, count, date_text, dates_text, days_text, duration_text
from skavit.crews.models import Crew
from skavit.units.forms import BehaviourForm, ChannelForm, EntryForm, ImportForm, WindowForm
from skavit.units.models import Unit
from skavit.units.results import UnitYear, local_digits, now_instant, this_year, unit_year

MAX_YEARS_ON = 10
WHY_LETTERS = 27


def units_of(crew: Crew) -> QuerySet[Unit]:
    """The crew's units with what their pages need."""
    return Unit.objects.filter(site__crew=crew).select_related("site", "head", "head__author", "head__parent")


def unit_of(crew: Crew, pk: int) -> Unit:
    """One of the crew's units; 404 for any other."""
    return get_object_or_404(units_of(crew), pk=pk)


@dataclass(frozen=True, slots=True, kw_only=True)
class View:
    """What of a unit is looked at: the year, the channel (from 1), and the cursor's night."""

    year: int
    channel: int
    day: int


def chosen_view(plan: Plan, query: Any) -> View:
    """The view that a query string asks for, with the nearest that exists in place of what does not."""
    today = local_digits(plan, now_instant()) // DAY_S
    year = _number(query.get("year"), this_year(plan), this_year(plan) - MAX_YEARS_ON, this_year(plan) + MAX_YEARS_ON)
    first = day_number(day_of(today).replace(year=year, month=1, day=1))
    last = day_number(day_of(today).replace(year=year, month=12, day=31))
    return View(
        year=year,
        channel=_number(query.get("channel"), 1, 1, len(plan.channels)),
        day=_number(query.get("day"), min(max(today, first), last), first, last),
    )


def _number(text: str | None, default: int, low: int, high: int) -> int:
    try:
        return min(max(int(text or default), low), high)
    except ValueError:
        return default


@dataclass(frozen=True, slots=True, kw_only=True)
class Numbered:
    """A finding as it stands in the list."""

    number: int
    finding: Finding
    dates: str
    hours: str
    column: int


@dataclass(frozen=True, slots=True, kw_only=True)
class EntryRow:
    """A slot of the memory."""

    number: int
    action: str
    time: str
    days: str
    channels: str
    purpose: Purpose
    changes: str
    findings: list[Numbered]
    form: EntryForm


@dataclass(frozen=True, slots=True, kw_only=True)
class WindowRow:
    """A window as a sentence."""

    index: int
    channel: int
    hours: str
    form: WindowForm


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelRow:
    """A channel with its windows."""

    number: int
    name: str
    hours: str
    windows: list[WindowRow]
    new: WindowForm
    rename: ChannelForm


@dataclass(frozen=True, slots=True, kw_only=True)
class PageStep:
    """One of the steps that show how far a unit is."""

    name: str
    done: bool
    here: bool


def unit_page(unit: Unit, view: View, words: Words, bound: dict[str, Any] | None = None) -> dict[str, Any]:
    """All that the unit's page shows; ``bound`` holds refused forms by their place, so that nothing typed is lost."""
    bound = bound or {}
    plan, revision = unit.plan, unit.head.number
    found = unit_year(plan, view.year, words)
    numbered = _numbered(found)
    leaving = handover(plan, now_instant())
    sheet_marks = [
        Mark(number=n.number, severity=n.finding.severity.value, dates=n.finding.dates)
        for n in numbered
        if n.finding.channel in (None, view.channel)
    ]
    today = local_digits(plan, now_instant()) // DAY_S
    year = found.year_of(view.channel - 1)
    cursor = {"cursor": view.day - year.first, "marks": sheet_marks, "words": words}
    in_year = today - year.first if year.first <= today < year.first + year.count else None
    channel = found.replay.channels[view.channel - 1]
    return {
        "unit": unit,
        "plan": plan,
        "revision": revision,
        "view": view,
        "findings": numbered,
        "worst": numbered[0] if numbered and numbered[0].finding.severity != "note" else None,
        "serious": [n for n in numbered if n.finding.severity != "note"],
        "notes": [n for n in numbered if n.finding.severity == "note"],
        "sheet": year_sheet(year, today=in_year, **cursor),
        "sheet_turned": year_sheet(year, today=in_year, turned=True, **cursor),
        "legend": {
            "lamp": f"{(channel.actual.total_s / 3600 - channel.extra_h):.0f} h",
            "alarm": f"{channel.extra_h:.0f} h",
            "gap": f"{channel.missing_h:.0f} h",
        },
        "strip": strip(plan, leaving, view.channel, words),
        "channels": _channel_rows(plan, found, revision, words, bound),
        "entries": _entry_rows(plan, found, numbered, revision, words, bound),
        "entry_new": bound.get("entry-new")
        or EntryForm(
            initial={"revision": revision, "action": "on", "channels": [1], "days_kind": "daily", "at_kind": "clock"},
            place="entry-new",
            words=words,
            plan=plan,
        ),
        "slots_used": _slots_used(plan),
        "steps": _page_steps(unit, plan, numbered, leaving, words, found),
        "undo": unit.head.parent is not None,
        "redo": unit.head.children.exists(),
        "import_form": bound.get("import") or ImportForm(initial={"revision": revision}),
        "channel_new": bound.get("channel-new") or ChannelForm(initial={"revision": revision}),
        "behaviour": bound.get("behaviour"),
        **night(found, view, words),
    }


def _numbered(found: UnitYear) -> list[Numbered]:
    return [
        Numbered(
            number=number,
            finding=finding,
            dates=dates_text(finding.dates),
            hours=f"{finding.hours:.0f} h" if finding.hours >= 1 else "",
            column=max(int(finding.dates[0]) - found.replay.first, 0) if finding.days else 0,
        )
        for number, finding in enumerate(found.findings, start=1)
    ]


def _slots_used(plan: Plan) -> str:
    used, most = len(plan.unit.entries), plan.unit.limits.entries
    return f"{used} of {count(most, 'slot')}" if most is not None else count(used, "slot")


def _year_hours(window: Window, plan: Plan, found: UnitYear) -> float:
    book = almanac(plan.site, found.replay.first, found.replay.last + 2)
    span = book.rows(found.replay.first, found.replay.last)
    start, end = window_spans(window, book, np.arange(span.start, span.stop), found.replay.site_clock)
    return float(np.maximum(end - start, 0).sum()) / 3600


def _channel_rows(plan: Plan, found: UnitYear, revision: int, words: Words, bound: dict[str, Any]) -> list[ChannelRow]:
    rows = []
    for number, channel in enumerate(plan.channels, start=1):
        windows = []
        for index, window in enumerate(channel.windows):
            place = f"window-{number}-{index}"
            form = bound.get(place) or WindowForm.showing(window, revision, place, words)
            if form.is_bound:
                form.label_with(window)
            hours = f"{_year_hours(window, plan, found):.0f} h a year"
            windows.append(WindowRow(index=index, channel=number, hours=hours, form=form))
        place = f"window-{number}-new"
        initial = {"revision": revision, "from_kind": "sunset", "to_kind": "clock", "days_kind": "daily"}
        rows.append(
            ChannelRow(
                number=number,
                name=channel.name,
                hours=f"{found.replay.channels[number - 1].wanted.total_s / 3600:.0f} h a year",
                windows=windows,
                new=bound.get(place) or WindowForm(initial=initial, place=place, words=words),
                rename=bound.get(f"channel-{number}")
                or ChannelForm(initial={"revision": revision, "name": channel.name}, auto_id=f"channel-{number}-%s"),
            )
        )
    return rows


def _entry_rows(
    plan: Plan, found: UnitYear, numbered: list[Numbered], revision: int, words: Words, bound: dict[str, Any]
) -> list[EntryRow]:
    rows = []
    serving = purposes(found.replay)
    for index, (entry, purpose) in enumerate(zip(plan.unit.entries, serving, strict=True)):
        place = f"entry-{index}"
        blamed = [n for n in numbered if index + 1 in n.finding.slots and n.finding.severity != "note"]
        shown = bound.get(place) or EntryForm.showing(entry, plan, revision, place, words)
        rows.append(
            EntryRow(
                number=index + 1,
                action=entry.action.upper(),
                time=words.time(entry.at),
                days=days_text(entry.days),
                channels=", ".join(plan.channels[n - 1].name for n in entry.channels) if len(plan.channels) > 1 else "",
                purpose=purpose,
                changes=f"{count(blamed[0].finding.days, 'day')}" if blamed else count(purpose.switches_days, "day"),
                findings=blamed,
                form=shown,
            )
        )
    return rows


def _page_steps(
    unit: Unit, plan: Plan, numbered: Iterable[Numbered], leaving: Any, words: Words, found: UnitYear
) -> list[PageStep]:
    ticked = set(unit.ticks.values_list("key", flat=True))
    sheet = steps(plan, found.replay, leaving, local_digits(plan, now_instant()), words)
    keyed = [step for step in sheet if step.kind in ("clock", "slot", "empty")]
    serious = sum(n.finding.severity != "note" for n in numbered)
    wanted = any(channel.windows for channel in plan.channels)
    states = [
        ("wanted", wanted),
        ("fitted", bool(plan.unit.entries)),
        (f"checked: {count(serious, 'finding')}" if serious else "checked", bool(plan.unit.entries) and not serious),
        ("keyed", bool(plan.unit.entries) and all(step.key in ticked for step in keyed)),
        ("left in automatic", any(step.kind == "mode" and step.key in ticked for step in sheet)),
    ]
    here = next((index for index, (_, done) in enumerate(states) if not done), len(states))
    return [PageStep(name=name, done=done, here=index == here) for index, (name, done) in enumerate(states)]


def strip(plan: Plan, leaving: tuple[ChannelHandover, ...], channel: int, words: Words) -> dict[str, Any]:
    """State now and next switching of a channel, for the label strip."""
    now = leaving[channel - 1]
    instant = now_instant()
    digits = local_digits(plan, instant)
    state = {
        (True, True): ("lamp", "On, as wanted"),
        (True, False): ("alarm", "On, not wanted"),
        (False, True): ("gap", "Off, though wanted"),
        (False, False): ("off", "Off, as wanted"),
    }[now.program, now.wanted]
    following = now.next[0] if now.next else None
    next_digits = local_digits(plan, following.instant) if following else 0
    return {
        "tone": state[0],
        "state": state[1],
        "since": f"since {words.minute(local_digits(plan, now.since) % DAY_S)}"
        + ("" if local_digits(plan, now.since) // DAY_S == digits // DAY_S
           else f", {date_text(local_digits(plan, now.since) // DAY_S)}")
        if now.since else "",
        "now": f"{words.minute(digits % DAY_S)}, {weekday_date(digits // DAY_S)}",
        "next_time": words.minute(next_digits % DAY_S) if following else "",
        "next_action": ("on" if following.on else "off") if following else "",
        "next_in": f"in {duration_text((following.instant - instant) // 60 * 60)}" if following else "",
    }  # fmt: skip


def weekday_date(day: int) -> str:
    """A day number as Mon 6 Dec."""
    return f"{SHORT_DAYS[day_of(day).weekday()]} {date_text(day)}"


def night(found: UnitYear, view: View, words: Words) -> dict[str, Any]:
    """The cursor's night: its heading, its switchings, and its pictures."""
    year = found.year_of(view.channel - 1)
    column = view.day - year.first
    labels = _night_labels(found, view, words)
    a, b = day_of(view.day), day_of(view.day + 1)
    same = a.month == b.month
    return {
        "night": {
            "title": f"{SHORT_DAYS[a.weekday()]} {a.day}{'' if same else ' ' + MONTHS[a.month - 1]} to "
            f"{SHORT_DAYS[b.weekday()]} {b.day} {MONTHS[b.month - 1]}",
            "strip": night_strip(year, column, labels),
            "lying": lying_strip(year, column),
            "labels": labels,
            "sun": _sun_text(found, view, words),
            "column": column,
            "count": year.count,
            "today": local_digits(found.replay.plan, now_instant()) // DAY_S,
            "before": max(view.day - 1, year.first),
            "after": min(view.day + 1, year.first + year.count - 1),
        }
    }


def _sun_text(found: UnitYear, view: View, words: Words) -> str:
    book = almanac(found.replay.plan.site, view.day, view.day + 1)
    row = book.rows(view.day, view.day).start
    clock = found.picture.site_clock

    def shown(event: int, at: int) -> str:
        if not book.sun.crosses[event, at]:
            return "none"
        return words.minute(int(clock.digits(book.sun.times[event, at : at + 1])[0]) % DAY_S)

    return f"sunset {shown(2, row)}, sunrise {shown(1, row + 1)}"


def _night_labels(found: UnitYear, view: View, words: Words) -> list[Label]:
    """What switches from noon to noon on the chosen channel, each with its slot and cause."""
    result, clock = found.picture, found.picture.site_clock
    noon, following = (int(i) for i in clock.first(np.array([view.day, view.day + 1]) * DAY_S + DAY_S // 2))
    events = result.events.of_channel(view.channel - 1)
    channel = result.channels[view.channel - 1]
    here = np.nonzero((events.instant >= noon) & (events.instant < following))[0]
    labels = []
    state = bool(channel.actual.at(np.array([noon]))[0])
    if state and not (here.size and events.instant[here[0]] == noon):
        burning = bool(channel.extra.at(np.array([noon]))[0])
        labels.append(Label(hour=0.0, time="noon", action="", why="on, not wanted" if burning else "on", alarm=burning))
    for row in here:
        at, on = int(events.instant[row]), bool(events.turns_on[row])
        digits = int(clock.digits(np.array([at]))[0])
        alarm = bool(channel.extra.at(np.array([at]))[0]) and on
        why = _cause_text(result.plan, int(events.slot[row]), int(events.cause[row]))
        if on == state:
            why = _already(why, on=on)
        elif alarm:
            why += ", not wanted"
        state = on
        labels.append(
            Label(
                hour=(digits - view.day * DAY_S - DAY_S // 2) / 3600,
                time=words.minute(digits % DAY_S),
                action="ON" if on else "OFF",
                why=why,
                alarm=alarm,
            )
        )
    return labels


def _already(why: str, *, on: bool) -> str:
    """That a switching changed nothing; the cause gives way where the line would be too long for its column."""
    tail = ", on already" if on else ", off already"
    return (why if len(why + tail) <= WHY_LETTERS else why.split(":", maxsplit=1)[0]) + tail


def _cause_text(plan: Plan, slot: int, cause: int) -> str:
    entry = plan.unit.entries[slot]
    sun = sun_time_of(entry.at)
    text = f"slot {slot + 1}"
    if sun is None:
        return text
    if cause == Cause.NO_SUN:
        return f"{text}: no {sun.event.name.lower()}"
    if cause == Cause.LIMIT and isinstance(entry.at, LimitedTime):
        return f"{text}: {sun.event.name.lower()}, held"
    return f"{text}: {str(sun).replace('+', ' + ').replace('-', ' − ')}"


def sheet_page(unit: Unit, words: Words) -> dict[str, Any]:
    """The entry sheet of a unit, now."""
    plan = unit.plan
    instant = now_instant()
    leaving = handover(plan, instant)
    year = this_year(plan)
    found = unit_year(plan, year, words)
    ticked = set(unit.ticks.values_list("key", flat=True))
    sheet: tuple[Step, ...] = steps(plan, found.replay, leaving, local_digits(plan, instant), words)
    rows = [{"number": number, "step": step, "done": step.key in ticked} for number, step in enumerate(sheet, start=1)]
    first_open = next((row["number"] for row in rows if not row["done"]), len(rows))
    return {
        "unit": unit,
        "plan": plan,
        "rows": rows,
        "total": len(rows),
        "first_open": first_open,
        "serious": [f for f in found.findings if f.severity != "note"],
        "leaving": [
            {
                "name": channel.name,
                "state": "ON" if channel.program else "OFF",
                "next": [
                    f"{words.minute(local_digits(plan, s.instant) % DAY_S)} {'ON' if s.on else 'OFF'}, "
                    f"{weekday_date(local_digits(plan, s.instant) // DAY_S)}"
                    for s in channel.next
                ],
            }
            for channel in leaving
        ],
        "printed": weekday_date(local_digits(plan, instant) // DAY_S),
        "sheet": year_sheet(found.year_of(0), marks=[], cursor=-1000, today=None, words=words),
    }


def behaviour_form(unit: Unit) -> BehaviourForm:
    """The form for the unit's clock and memory."""
    return BehaviourForm.showing(unit.plan, unit.head.number)
