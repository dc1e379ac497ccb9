"""The cursor's day of a zone: each change with what causes it, and the day's steps as a picture."""

from dataclasses import dataclass

import numpy as np

from skavit.charts.warmth_sheet import DayCurves, day_steps
from skavit.core.ground.arrays import DAY_S
from skavit.core.heat.targets import Targets, Warmed
from skavit.core.heat.warming import STAND_IN, outside_of, room_path
from skavit.core.plan.heat import HeatAuto
from skavit.core.plan.times import day_of
from skavit.core.text.wording import MONTHS, SHORT_DAYS, Words
from skavit.heating.pages.unit.by_hand import setting_words
from skavit.server.now import local_digits
from skavit.units.pages.view import View
from skavit.units.years import UnitYear

ROOM_STEP_S = 900
RUN_IN_DAYS = 3  # before the day, so that the room has forgotten how it began


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeLine:
    """A change of the day."""

    time: str
    what: str
    detail: str
    alarm: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatDay:
    """The day that the cursor is on, from midnight to midnight."""

    title: str
    strip: str
    narrow: str
    lines: list[ChangeLine]
    rooms: str
    column: int
    count: int
    today: int
    before: int
    after: int


def heat_day(found: UnitYear, view: View, words: Words, now: int) -> HeatDay:
    """The view's day of its zone."""
    warmed = found.heat_picture
    assert warmed is not None
    zone, run = warmed.zones[view.channel - 1], found.picture
    bounds = run.site_clock.first(np.array([view.day, view.day + 1]) * DAY_S)
    low, high = (int(i) for i in bounds)
    outside = outside_of(run.plan)
    room = zone.zone.room or STAND_IN
    rooms = []
    before = max(low - RUN_IN_DAYS * DAY_S, run.start)
    for name, c in (("coldest", outside.coldest_c), ("usual", outside.usual_c)):
        path = room_path(room, zone.actual.cut(before, high), c, ROOM_STEP_S)[(low - before) // ROOM_STEP_S :]
        rooms.append((name, [(n * ROOM_STEP_S, float(c)) for n, c in enumerate(path)]))
    curves = DayCurves(
        wanted=[(at, c) for at, c in _steps(zone.wanted, warmed, low, high) if c is not None],
        actual=_steps(zone.actual, warmed, low, high),
        rooms=rooms,
    )
    day = day_of(view.day)
    first = found.replay.first
    return HeatDay(
        title=f"{SHORT_DAYS[day.weekday()]} {day.day} {MONTHS[day.month - 1]}",
        strip=day_steps(curves, words),
        narrow=day_steps(curves, words, narrow=True),
        lines=_lines(warmed, view.channel, low, high, words),
        rooms=f"{'a stand-in room' if zone.zone.room is None else 'the room'} with {words.warmth(outside.coldest_c)} and {words.warmth(outside.usual_c)} outside",
        column=view.day - first,
        count=found.replay.last - first + 1,
        today=local_digits(found.replay.plan, now) // DAY_S,
        before=max(view.day - 1, first),
        after=min(view.day + 1, found.replay.last),
    )


def _steps(targets: Targets, warmed: Warmed, low: int, high: int) -> list[tuple[int, float | None]]:
    """Changes of the day, by the seconds of the site's clock."""
    cut = targets.cut(low, high)
    midnight = int(warmed.run.site_clock.digits(np.array([low]))[0]) // DAY_S * DAY_S
    seconds = (warmed.run.site_clock.digits(cut.at) - midnight).tolist()
    return [(at, None if np.isnan(c) else float(c)) for at, c in zip(seconds, cut.c.tolist(), strict=True)]


def _lines(warmed: Warmed, number: int, low: int, high: int, words: Words) -> list[ChangeLine]:
    """What holds at midnight, and each change with its cause."""
    zone, clock = warmed.zones[number - 1], warmed.run.site_clock
    cut = zone.actual.cut(low, high)
    wanted = zone.wanted.value_at(cut.at)
    done = {d.begin: d.override for d in warmed.done if d.override.zone == number}
    ends = {d.end for d in warmed.done if d.override.zone == number}
    ended = {
        int(clock.first(np.array([o.at]))[0])
        for o in warmed.heat.of_zone(number - 1)
        if isinstance(o.setting, HeatAuto)
    }
    found = []
    for at, c, want in zip(cut.at.tolist(), cut.c.tolist(), wanted.tolist(), strict=True):
        if at in done:
            detail = setting_words(done[at].setting, words)
        elif at in ended or (at in ends and at not in zone.keyed_at):
            detail = "back to the program"
        elif at in zone.keyed_at:
            detail = "set point"
        else:
            detail = "from the day before"
        off = bool(np.isnan(c))
        wrong = off or abs(c - want) > 1e-9
        found.append(
            ChangeLine(
                time=words.minute(int(clock.digits(np.array([at]))[0]) % DAY_S),
                what="off" if off else words.warmth(c),
                detail=f"{detail}; wanted {words.warmth(want)}" if wrong else detail,
                alarm=wrong,
            )
        )
    return found
