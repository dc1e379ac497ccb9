"""The clock and the sun of a unit: what it must show now, and how far it runs from true time."""

import json
from dataclasses import dataclass, field, replace

import numpy as np

from skavit.charts.curve import Line, curves
from skavit.core.ground.arrays import DAY_S, YEAR_DAYS, Floats, Ints
from skavit.core.kinds import Kind
from skavit.core.kinds.place import sun_pair, sun_shown
from skavit.core.plan.clock_settings import ChangeDay, OwnRule
from skavit.core.plan.document import Plan
from skavit.core.plan.sun_settings import NO_ADJUST
from skavit.core.plan.times import ClockTime, day_number, day_of
from skavit.core.sheet import clock_runs
from skavit.core.simulation.dates_to_know import dates_to_know
from skavit.core.site.almanac import sun_on
from skavit.core.site.clock import UnitClock, WallClock, standard_offset_s, unit_clock, zone_clock
from skavit.core.site.clock_check import (
    ClockSlip,
    RuleApart,
    clock_changes,
    dates_against_law,
    law_as_rule,
    rule_against_law,
)
from skavit.core.text.wording import (
    FULL_DAYS,
    SHORT_DAYS,
    Words,
    ahead_text,
    capital,
    date_text,
    dates_text,
    duration_text,
    unit_rule_text,
)
from skavit.units.models import Unit
from skavit.units.pages.clock.forms import ClockForm
from skavit.units.pages.clock.reading import TableAnswer, read_display, sun_answer

SOURCE_TEXT = {
    "site": "the site's own coordinates",
    "coordinates": "coordinates or a region keyed in",
    "table": "a table of latitudes at the zone's meridian",
    "photocell": "a photocell",
    "none": "none: it holds no sun entries",
}


LEAST_SHOWN_S = 10


SUNDAY = 6


USUAL_RULE = OwnRule(ChangeDay(3, 5, SUNDAY, ClockTime(7200)), ChangeDay(10, 5, SUNDAY, ClockTime(10800)), 60)


YEARS_TOLD = 3


def clocks(plan: Plan, year: int) -> tuple[WallClock, UnitClock]:
    """The site's clock and the unit's, for some years around one."""
    return (
        zone_clock(plan.site.timezone, year - 2, year + 3),
        unit_clock(plan.unit.clock, plan.site.timezone, year - 2, year + 3),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class SunShown:
    """One of its sun words: what it shows today, beside what is true of the same event."""

    name: str
    shows: str
    true: str
    event: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockChanges:
    """When the law's clock, or the unit's, changes next."""

    whose: str
    when: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MustShow:
    """What the unit must show now by its own rule, table and correction, beside what is true."""

    runs: str  # what it must show from which instant on, as JSON
    twelve: bool
    clock: str
    true_clock: str
    date: str
    true_date: str
    weekday: str
    sun: list[SunShown]
    rule: str
    sun_source: str
    changes: list[ClockChanges]


def must_show(plan: Plan, kind: Kind | None, instant: int, words: Words) -> MustShow:
    """What the unit must show now by its own rule, table and correction, beside what is true."""
    if kind:
        words = replace(words, twelve_hour=kind.clock.hours == 12)
    site, unit = clocks(plan, day_of(instant // DAY_S).year)
    now = np.array([instant])
    own, true = int(unit.right.digits(now)[0]), int(site.digits(now)[0])
    sun = plan.unit.sun
    return MustShow(
        runs=json.dumps(clock_runs(plan, instant)),
        twelve=words.twelve_hour,
        clock=words.minute(own % DAY_S // 60 * 60),
        true_clock=words.minute(true % DAY_S // 60 * 60),
        date=_date(own),
        true_date=_date(true),
        weekday=FULL_DAYS[day_of(own // DAY_S).weekday()],
        sun=[] if sun.source in ("none", "photocell") else _suns(plan, kind, unit, site, own, words),
        rule=rule_words(plan, words, kind),
        sun_source=SOURCE_TEXT[sun.source],
        changes=_changes(site, unit.right, instant, words),
    )


def _date(digits: int) -> str:
    day = day_of(digits // DAY_S)
    return f"{day.day} {date_text(digits // DAY_S).split()[1]} {day.year}"


def _suns(plan: Plan, kind: Kind | None, unit: UnitClock, site: WallClock, own: int, words: Words) -> list[SunShown]:
    """For either of its sun words what it shows today, correction included, beside what is true of the same event."""
    today = own // DAY_S
    true, adjust = sun_on(plan.site, today), plan.unit.sun.adjust or NO_ADJUST
    names = (kind.sun.morning_word, kind.sun.evening_word) if kind else ("sunrise", "sunset")
    shown = sun_shown(kind, plan.site, plan.unit.sun, unit, today)
    found = []
    for name, event, digits in zip(names, sun_pair(kind), shown, strict=True):
        at = true[event.name.lower()]
        # Where it takes a correction, that takes its margin off again.
        margin_min = kind.margin_min if kind and kind.correction_dialogue else 0
        minutes = adjust.of(event) + (margin_min if event.morning else -margin_min)
        late = _zone_error_s(plan, today) + minutes * 60
        found.append(
            SunShown(
                name=name,
                shows="none" if digits is None else words.minute((digits + late) % DAY_S),
                true="none" if at is None else words.minute(int(site.digits(np.array([at]))[0]) % DAY_S),
                event=event.name.lower(),
            )
        )
    return found


def _zone_error_s(plan: Plan, day: int) -> int:
    """How late a unit's sun is that was told another zone."""
    told = plan.unit.sun.utc_offset_min
    return 0 if told is None else told * 60 - standard_offset_s(plan.site.timezone, day_of(day).year)


def rule_words(plan: Plan, words: Words, kind: Kind | None = None) -> str:
    """The unit's daylight-saving rule in plain words, with its error."""
    clock = plan.unit.clock
    parts = [capital(unit_rule_text(clock.dst, words, by_hand=kind is not None and kind.moved_by_hand)) + "."]
    if clock.error_s:
        parts.append(f"{ahead_text(clock.error_s)}.")
    if clock.fast_s_per_day:
        way = "gains" if clock.fast_s_per_day > 0 else "loses"
        parts.append(f"It {way} {abs(clock.fast_s_per_day):g} s a day.")
    return " ".join(parts)


def _changes(site: WallClock, unit: WallClock, instant: int, words: Words) -> list[ClockChanges]:
    found = []
    for whose, clock in (("the law's", site), ("the unit's", unit)):
        later = clock_changes(clock, instant, instant + YEAR_DAYS * DAY_S)[:2]
        told = [
            f"{SHORT_DAYS[day_of(c.digits // DAY_S).weekday()]} {_date(c.digits)} at {words.minute(c.digits % DAY_S)}, "
            f"{'on' if c.by_s > 0 else 'back'} {duration_text(c.by_s)}"
            for c in later
        ]
        found.append(ClockChanges(whose=whose, when="; ".join(told) or "never"))
    return found


def apart_words(plan: Plan, year: int) -> str:
    """The dates of a year on which the unit shows another time than the law; empty where there are none."""
    if plan.unit.clock.is_set_apart:
        _, days, ahead = _ahead_by_day(plan, year)
        return "; ".join(f"{ahead_text(way)} {dates_text(days[ahead == way])}" for way in np.unique(ahead) if way)
    by_way: dict[int, list[str]] = {}
    for apart in rule_against_law(plan.unit.clock.dst, plan.site.timezone, range(year, year + 1)):
        span = f"{date_text(day_number(apart.first))} to {date_text(day_number(apart.last))}"
        by_way.setdefault(apart.ahead_s, []).append(span)
    return "; ".join(f"{ahead_text(ahead)} {', '.join(spans)}" for ahead, spans in by_way.items())


def _ahead_by_day(plan: Plan, year: int) -> tuple[int, Ints, Floats]:
    """(1 January, the days of a year, by how many seconds the unit's clock is ahead of true time at noon of each)."""
    site, unit = clocks(plan, year)
    first = day_number(day_of(0).replace(year=year, month=1, day=1))
    days = np.arange(first, day_number(day_of(0).replace(year=year, month=12, day=31)) + 1)
    noons = site.first(days * DAY_S + DAY_S // 2)
    return first, days, unit.right.digits(noons) + unit.ahead_s(noons) - site.digits(noons)


def clock_curve(plan: Plan, year: int, today: int | None) -> str:
    """By how many minutes the unit's clock is ahead of true time at noon of each day; empty where it is right."""
    first, _, ahead = _ahead_by_day(plan, year)
    if np.abs(ahead).max() < LEAST_SHOWN_S:
        return ""
    label = f"Minutes by which the unit's clock is ahead of true time, {year}"
    return curves(first, [Line(minutes=ahead / 60, class_="curve-one")], label, today)


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockAnswers:
    """What is wrong with what the unit shows, and what to key in."""

    anything: bool = False  # something was typed
    slips: tuple[ClockSlip, ...] = ()
    clock_fine: bool = False
    error_s: int | None = None
    rule_fine: bool = False
    rule_apart: list[str] = field(default_factory=list)
    table_error: str = ""
    sun: TableAnswer | None = None


def clock_answers(plan: Plan, kind: Kind | None, form: ClockForm, digits: int, words: Words) -> ClockAnswers:
    """The answers to a form that is valid."""
    data = form.cleaned_data
    sun = (data["sunrise"], data["sunset"])
    read = read_display(plan, digits, words, time=data["time"], day=data["date"], weekday=data["weekday"], sun=sun)
    today = day_of(digits // DAY_S)
    seen_clock = any(data[name] not in (None, "") for name in ("time", "date", "weekday"))
    apart = _rule_apart(plan, form, today.year)
    return ClockAnswers(
        anything=any(value not in (None, "") for value in data.values()),
        slips=read.slips,
        clock_fine=seen_clock and not read.slips,
        error_s=read.error_s,
        rule_fine=apart == [],
        rule_apart=apart or [],
        table_error=read.table_error,
        sun=sun_answer(plan, kind, read, data["date"] or today, sun),
    )


def _rule_apart(plan: Plan, form: ClockForm, year: int) -> list[str] | None:
    """When the summer-time rule that a unit displays, or its two dates, are not the law's; None where it shows none."""
    zone = plan.site.timezone
    days, starts, ends = form.change_days(), form.cleaned_data["starts"], form.cleaned_data["ends"]
    if not days and not (starts and ends):
        return None
    told: list[RuleApart] = []
    if days:
        told += rule_against_law(displayed_rule(days, zone, year), zone, range(year, year + YEARS_TOLD))
    if starts and ends:
        told += dates_against_law(starts, ends, zone)
    return [_apart_text(apart) for apart in told]


def displayed_rule(days: tuple[int, int, int, int], zone: str, year: int) -> OwnRule:
    """A month and a week of either change as a rule; the hour, which units do not show, is the law's or the usual."""
    law = law_as_rule(zone, range(year, year + YEARS_TOLD)) or USUAL_RULE
    start = replace(law.start, month=days[0], week=days[1], weekday=SUNDAY)
    return OwnRule(start, replace(law.end, month=days[2], week=days[3], weekday=SUNDAY), law.shift_min)


def _apart_text(apart: RuleApart) -> str:
    first, last = (date_text(day_number(day)) for day in (apart.first, apart.last))
    return f"{ahead_text(apart.ahead_s)} from {first} to {last} {apart.last.year}"


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownDate:
    """A date to know."""

    date: str
    name: str
    what: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockPage:
    """The clock and the sun of a unit."""

    unit: Unit
    revision: int
    form: ClockForm
    answers: ClockAnswers
    must: MustShow
    clock_curve: str
    apart: list[tuple[int, str]]
    year: int
    know: list[KnownDate]


def clock_page(unit: Unit, form: ClockForm, answers: ClockAnswers, instant: int, words: Words) -> ClockPage:
    """The whole page."""
    plan = unit.plan
    site, _ = clocks(plan, day_of(instant // DAY_S).year)
    today = int(site.digits(np.array([instant]))[0]) // DAY_S
    year = day_of(today).year
    first = day_number(day_of(today).replace(month=1, day=1))
    by_hand = unit.core_kind is not None and unit.core_kind.moved_by_hand
    return ClockPage(
        unit=unit,
        revision=unit.head_revision.number,
        form=form,
        answers=answers,
        must=must_show(plan, unit.core_kind, instant, words),
        clock_curve=clock_curve(plan, year, today - first),
        apart=[(y, text) for y in range(year, year + YEARS_TOLD) if (text := apart_words(plan, y))],
        year=year,
        know=[
            KnownDate(date=f"{SHORT_DAYS[day_of(d.day).weekday()]} {date_text(d.day)}", name=d.name, what=d.what)
            for d in dates_to_know(plan, instant, words, by_hand=by_hand)
        ],
    )
