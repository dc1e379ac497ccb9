"""The cursor's night and the label strip: what the unit does on one night and at this minute."""

from dataclasses import dataclass, replace

import numpy as np

from skavit.charts.night_strip import Label, lying_strip, night_strip
from skavit.charts.week_strip import lane_of, week_strip
from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.plan.times import LimitedTime, day_of, sun_time_of
from skavit.core.simulation.events import Cause, Events
from skavit.core.simulation.handover import ChannelHandover
from skavit.core.site.almanac import almanac
from skavit.core.sun import SunEvent
from skavit.core.text.wording import MONTHS, SHORT_DAYS, Words, count, date_text, duration_text, weekday_date
from skavit.server.now import local_digits
from skavit.units.pages.numbered_findings import slot_words
from skavit.units.pages.unit.parts import Strip
from skavit.units.pages.view import View
from skavit.units.years import UnitYear

WHY_LETTERS = 27


STATES = {
    (True, True): ("lamp", "On, as wanted"),
    (True, False): ("alarm", "On, not wanted"),
    (False, True): ("gap", "Off, though wanted"),
    (False, False): ("off", "Off, as wanted"),
}


def strip(plan: Plan, leaving: tuple[ChannelHandover, ...], channel: int, words: Words, now: int) -> Strip:
    """The strip of a channel (from 1)."""
    here = leaving[channel - 1]
    digits = local_digits(plan, now)
    tone, state = STATES[here.actual, here.wanted]
    shown = Strip(
        tone=tone,
        state=state,
        since="by hand" if here.by_hand else _since(plan, here.since, digits // DAY_S, words) if here.since else "",
        now=f"{words.minute(digits % DAY_S)}, {weekday_date(digits // DAY_S)}",
        held=here.by_hand,
    )
    if not here.next or here.by_hand:
        return shown
    following = here.next[0]
    time, _, half = words.minute(local_digits(plan, following.instant) % DAY_S).partition(" ")
    return replace(
        shown,
        next_time=time,
        next_half=half,
        next_action="on" if following.on else "off",
        next_in=f"in {duration_text((following.instant - now) // 60 * 60)}",
    )


def _since(plan: Plan, instant: int, today: int, words: Words) -> str:
    digits = local_digits(plan, instant)
    date = "" if digits // DAY_S == today else f", {date_text(digits // DAY_S)}"
    return f"since {words.minute(digits % DAY_S)}{date}"


@dataclass(frozen=True, slots=True, kw_only=True)
class CursorNight:
    """The cursor's night: its heading, its switchings, and its pictures."""

    title: str
    strip: str
    lying: str
    week: str
    labels: list[Label]
    sun: str
    column: int
    count: int
    today: int
    before: int  # the day before, kept within the year
    after: int


def cursor_night(found: UnitYear, view: View, words: Words, now: int) -> CursorNight:
    """The night that the cursor is on."""
    year = found.year_of(view.channel - 1)
    column = view.day - year.first
    labels = _night_labels(found, view, words)
    a, b = day_of(view.day), day_of(view.day + 1)
    month = "" if a.month == b.month else f" {MONTHS[a.month - 1]}"
    evening, morning = SHORT_DAYS[a.weekday()], SHORT_DAYS[b.weekday()]
    return CursorNight(
        title=f"{evening} {a.day}{month} to {morning} {b.day} {MONTHS[b.month - 1]}",
        strip=night_strip(year, column, labels),
        lying=lying_strip(year, column),
        week=_week(found, view),
        labels=labels,
        sun=_sun_text(found, view, words),
        column=column,
        count=year.count,
        today=local_digits(found.replay.plan, now) // DAY_S,
        before=max(view.day - 1, year.first),
        after=min(view.day + 1, year.first + year.count - 1),
    )


def _week(found: UnitYear, view: View) -> str:
    """The week of the cursor's night, a lane for each channel."""
    lanes = [lane_of(channel.name, found.year_of(n)) for n, channel in enumerate(found.replay.channels)]
    monday = view.day - day_of(view.day).weekday()
    return week_strip(found.replay.plan.site, found.picture.site_clock, monday, lanes)


def _sun_text(found: UnitYear, view: View, words: Words) -> str:
    book = almanac(found.replay.plan.site, view.day, view.day + 1)
    row = book.rows(view.day, view.day).start
    clock = found.picture.site_clock

    def shown(event: int, at: int) -> str:
        if not book.sun.crosses[event, at]:
            return "none"
        return words.minute(int(clock.digits(book.sun.times[event, at : at + 1])[0]) % DAY_S)

    return f"sunset {shown(SunEvent.SUNSET, row)}, sunrise {shown(SunEvent.SUNRISE, row + 1)}"


def _night_labels(found: UnitYear, view: View, words: Words) -> list[Label]:
    """What switches from noon to noon on the chosen channel, each with its slot and cause."""
    result, clock = found.picture, found.picture.site_clock
    noon, following = (int(i) for i in clock.first(np.array([view.day, view.day + 1]) * DAY_S + DAY_S // 2))
    events = result.events.between(noon, following).of_channel(view.channel - 1)
    channel = result.channels[view.channel - 1]
    labels = []
    state = bool(channel.actual.at(np.array([noon]))[0])
    if state and not (len(events) and events.instant[0] == noon):
        burning = bool(channel.extra.at(np.array([noon]))[0])
        labels.append(Label(hour=0.0, time="noon", action="", why="on, not wanted" if burning else "on", alarm=burning))
    told = set()
    names = _slot_names(result.plan, words)
    for row in range(len(events)):
        train = (int(events.slot[row]), int(events.day[row]))
        if result.plan.unit.all_entries[train[0]].repeat is not None:
            if train not in told:
                told.add(train)
                # A train may have begun before this noon: it is told as a whole.
                around = result.events.between(noon - DAY_S, following + DAY_S).of_channel(view.channel - 1)
                labels.append(_train_label(found, view, around, train, names[train[0]], words))
            continue
        at, on = int(events.instant[row]), bool(events.turns_on[row])
        digits = int(clock.digits(np.array([at]))[0])
        alarm = bool(channel.extra.at(np.array([at]))[0]) and on
        why = _cause_text(result.plan, train[0], int(events.cause[row]), names[train[0]])
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


def _train_label(found: UnitYear, view: View, events: Events, train: tuple[int, int], name: str, words: Words) -> Label:
    """A train of pulses in one line: (its entry's place among all, the unit's own date)."""
    slot, day = train
    rows = np.nonzero((events.slot == slot) & (events.day == day))[0]
    digits = found.picture.site_clock.digits(events.instant[rows[[0, -1]]])
    pulses = int(events.turns_on[rows].sum())
    return Label(
        hour=max((int(digits[0]) - view.day * DAY_S - DAY_S // 2) / 3600, 0.0),
        time=words.minute(int(digits[0]) % DAY_S),
        action="ON",
        why=f"{name}: {count(pulses, 'pulse')} to {words.minute(int(digits[1]) % DAY_S)}",
        alarm=False,
    )


def _already(why: str, *, on: bool) -> str:
    """That a switching changed nothing; the cause gives way where the line would be too long for its column."""
    tail = ", on already" if on else ", off already"
    return (why if len(why + tail) <= WHY_LETTERS else why.split(":", maxsplit=1)[0]) + tail


def _slot_names(plan: Plan, words: Words) -> list[str]:
    """What the place of each entry among all is called; its action is beside it."""
    of_set = [slot_words(plan, words, keying) for keying in range(len(plan.unit.sets))]
    places = [plan.unit.slot_of(slot) for slot in range(len(plan.unit.all_entries))]
    return [of_set[keying].slot_of(index + 1) for keying, index in places]


def _cause_text(plan: Plan, slot: int, cause: int, name: str) -> str:
    entry = plan.unit.all_entries[slot]
    sun = sun_time_of(entry.at)
    if cause == Cause.PULSE_END:
        return f"{name}: pulse ends"
    if sun is None:
        return name
    if cause == Cause.NO_SUN:
        return f"{name}: no {sun.event.name.lower()}"
    if cause == Cause.LIMIT and isinstance(entry.at, LimitedTime):
        return f"{name}: {sun.event.name.lower()}, held"
    return f"{name}: {str(sun).replace('+', ' + ').replace('-', ' − ')}"
