"""Is the unit's clock right: date, weekday, AM and PM, its daylight-saving rule, and how fast it drifts.

Most units work out the weekday from the date and the year, so a weekday that is wrong tells of a wrong year.
"""

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from skavit.core.ground.arrays import DAY_S, HALF_DAY_S, HOUR_S
from skavit.core.plan.clock_settings import ChangeDay, ClockSettings, DstRule, OwnRule
from skavit.core.plan.times import ClockTime, day_number, day_of
from skavit.core.site.clock import WallClock, unit_clock, zone_clock
from skavit.core.text.wording import FULL_DAYS, Words, ahead_text, date_text

# A clock shows whole minutes and is read within one.
READ_S = 60
# A clock may be out besides: by so much, and a slip of twelve hours or of one is still the likelier reason.
BESIDE_HALF_DAY_S, BESIDE_HOUR_S = 1800, 600
YEARS_AROUND = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockShown:
    """What a unit's clock shows; what it does not have is None. A date without a year is given the right one."""

    seconds: int | None = None  # after midnight
    day: date | None = None
    weekday: int | None = None  # 0 for Monday


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockSlip:
    """One thing that is wrong with a clock, and what to key in."""

    code: str  # am-pm, hour, minutes, year, day-month, date, weekday, hidden-year
    wrong: str
    key_in: str


def years_showing(day: date, weekday: int, around: int = YEARS_AROUND) -> tuple[int, ...]:
    """The years nearest to a date's own in which its day and month fall on a weekday, nearest first."""
    found = []
    for year in range(day.year - around, day.year + around + 1):
        leap_day = (day.month, day.day) == (2, 29)
        if leap_day and (year % 4 or (year % 100 == 0 and year % 400)):
            continue
        if year != day.year and day.replace(year=year).weekday() == weekday:
            found.append(year)
    return tuple(sorted(found, key=lambda year: abs(year - day.year)))


def check_clock(shown: ClockShown, digits: int, words: Words) -> tuple[ClockSlip, ...]:
    """What is wrong with a clock that must show ``digits`` now; empty where nothing is."""
    if shown.day is not None and shown.seconds is not None:
        away = day_number(shown.day) * DAY_S + shown.seconds - digits // 60 * 60
        if abs(away) <= READ_S and shown.weekday in (None, shown.day.weekday()):
            return ()  # right, perhaps on the other side of midnight
    right = day_of(digits // DAY_S)
    found = [_time_slip(shown.seconds, digits % DAY_S, words), _date_slip(shown.day, right)]
    found.append(_weekday_slip(shown, right))
    return tuple(slip for slip in found if slip)


def _time_slip(seconds: int | None, right: int, words: Words) -> ClockSlip | None:
    if seconds is None:
        return None
    away = (seconds - right // 60 * 60 + HALF_DAY_S) % DAY_S - HALF_DAY_S
    key_in = f"Set the time to {words.clock(right // 60 * 60)}."
    if abs(away) <= READ_S:
        return None
    if HALF_DAY_S - abs(away) <= BESIDE_HALF_DAY_S:
        half = "before noon: AM" if right < HALF_DAY_S else "after noon: PM"
        return ClockSlip(code="am-pm", wrong=f"Twelve hours out. It is {half}.", key_in=key_in)
    if abs(abs(away) - HOUR_S) <= BESIDE_HOUR_S:
        way = "ahead" if away > 0 else "behind"
        return ClockSlip(
            code="hour",
            wrong=f"An hour {way}: {words.summer}, or a neighbour's time zone. Look at the rule before the time.",
            key_in=key_in,
        )
    return ClockSlip(code="minutes", wrong=f"{ahead_text(away)}.", key_in=key_in)


def _date_slip(shown: date | None, right: date) -> ClockSlip | None:
    if shown is None or shown == right:
        return None
    day = day_number(right)
    key_in = f"Set {FULL_DAYS[right.weekday()]} {date_text(day)} {right.year}."
    if (shown.month, shown.day) == (right.month, right.day):
        wrong = (
            f"The year is {shown.year}, it must be {right.year}: weekday, clock changes and sun times follow the year."
        )
        return ClockSlip(code="year", wrong=wrong, key_in=key_in)
    if (shown.day, shown.month) == (right.month, right.day):
        return ClockSlip(code="day-month", wrong="Day and month stand the other way round.", key_in=key_in)
    away = day_number(shown) - day
    wrong = f"The date is {abs(away)} {'day' if abs(away) == 1 else 'days'} {'ahead' if away > 0 else 'behind'}."
    return ClockSlip(code="date", wrong=wrong, key_in=key_in)


def _weekday_slip(shown: ClockShown, right: date) -> ClockSlip | None:
    if shown.weekday is None:
        return None
    of = shown.day or right
    if shown.weekday == of.weekday():
        return None
    name, must = FULL_DAYS[shown.weekday], FULL_DAYS[right.weekday()]
    if shown.day is None:
        return ClockSlip(code="weekday", wrong=f"It shows {name}, it is {must}.", key_in=f"Set the day to {must}.")
    years = years_showing(of, shown.weekday)[:3]
    hint = f" {date_text(day_number(of))} is a {name} in {' and '.join(map(str, years))}." if years else ""
    return ClockSlip(
        code="hidden-year",
        wrong=f"It shows {name}, {date_text(day_number(of))} {of.year} is a {FULL_DAYS[of.weekday()]}.{hint}",
        key_in=f"Set the year to {right.year}; it must then show {must}.",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """A clock change: the digits shown just before it, and by how many seconds the clock then goes on."""

    instant: int
    digits: int
    by_s: int


def clock_changes(clock: WallClock, first: int, last: int) -> tuple[Change, ...]:
    """The changes of a clock between two instants."""
    found = []
    for index in np.nonzero((clock.starts > first) & (clock.starts <= last))[0]:
        before, after = int(clock.offsets[index - 1]), int(clock.offsets[index])
        instant = int(clock.starts[index])
        found.append(Change(instant=instant, digits=instant + before, by_s=after - before))
    return tuple(found)


@dataclass(frozen=True, slots=True, kw_only=True)
class RuleApart:
    """A stretch in which a displayed rule and the law show different times."""

    first: date
    last: date
    ahead_s: int


def rule_against_law(rule: DstRule, timezone: str, years: range) -> tuple[RuleApart, ...]:
    """When a unit's daylight-saving rule differs from the zone's law in some calendar years."""
    law = zone_clock(timezone, years[0] - 1, years[-1] + 1)
    unit = unit_clock(ClockSettings(dst=rule), timezone, years[0] - 1, years[-1] + 1)
    low, high = (int(law.first(np.array([day_number(date(y, 1, 1)) * DAY_S]))[0]) for y in (years[0], years[-1] + 1))
    found = []
    for ahead, spans in unit.right.apart(law, low, high).items():
        ends = law.digits(np.stack([spans.on, spans.off - 1])) // DAY_S
        found += [RuleApart(first=day_of(a), last=day_of(b), ahead_s=ahead) for a, b in ends.T]
    return tuple(sorted(found, key=lambda apart: apart.first))


@dataclass(frozen=True, slots=True, kw_only=True)
class Drift:
    """Seconds a day that a clock gains, and the bound that the resolution of its readings sets."""

    fast_s_per_day: float
    pm_s_per_day: float
    ahead_s: float  # at the later reading
    at: int  # the instant of the later reading

    def out_at(self, limit_s: float) -> int | None:
        """The instant at which it is out by ``limit_s`` and stays so, or None where it never is."""
        if abs(self.fast_s_per_day) * 366 * 50 < limit_s:  # not in fifty years
            return None if abs(self.ahead_s) < limit_s else self.at
        goal = limit_s if self.fast_s_per_day > 0 else -limit_s
        days = (goal - self.ahead_s) / self.fast_s_per_day
        return self.at + round(max(days, 0) * DAY_S)


def drift(first: tuple[int, float], second: tuple[int, float], resolution_s: float) -> Drift:
    """The drift between two readings, each (instant, seconds ahead), read to ``resolution_s``.

    Raises :class:`ValueError` where the readings are not a minute apart at least.
    """
    days = (second[0] - first[0]) / DAY_S
    if days < 60 / DAY_S:
        raise ValueError("the readings must be a minute apart, the later one second")
    return Drift(
        fast_s_per_day=(second[1] - first[1]) / days,
        pm_s_per_day=resolution_s / days,
        ahead_s=second[1],
        at=second[0],
    )


def dates_against_law(starts: date, ends: date, timezone: str) -> tuple[RuleApart, ...]:
    """The same for a unit that displays the two dates of its next changes, the start and the end of summer time.

    Dates alone are compared: on those of the law it agrees whatever the hour. The amount is the zone's own.
    """
    years = range(min(starts, ends).year - 1, max(starts, ends).year + 2)
    low, high = (day_number(date(y, 1, 1)) * DAY_S for y in (years[0], years[-1] + 1))
    changes = clock_changes(zone_clock(timezone, years[0] - 1, years[-1] + 1), low, high)
    found = []
    for shown, on in ((starts, True), (ends, False)):
        of_law = [(day_of(c.digits // DAY_S), abs(c.by_s)) for c in changes if (c.by_s > 0) is on]
        if not of_law:
            found.append(RuleApart(first=shown, last=shown, ahead_s=3600 if on else 0))
            continue
        law, by_s = min(of_law, key=lambda change: abs((change[0] - shown).days))
        if law != shown:
            early = shown < law
            found.append(
                RuleApart(
                    first=min(shown, law),
                    last=max(shown, law) - timedelta(days=1),
                    ahead_s=by_s if early is on else -by_s,
                )
            )
    return tuple(sorted(found, key=lambda apart: apart.first))


def law_as_rule(timezone: str, years: range) -> OwnRule | None:
    """The law of a zone as a month, a week and a weekday of either change; None where it is no such rule.

    Over all of the ``years`` the same: a unit that takes "its own rule" is keyed by it.
    """
    law = zone_clock(timezone, years[0] - 1, years[-1] + 1)
    start, end = (day_number(date(y, 1, 1)) * DAY_S for y in (years[0], years[-1] + 1))
    changes = clock_changes(law, start, end)
    days = [_change_days([c for c in changes if (c.by_s > 0) is on], len(years)) for on in (True, False)]
    shifts = {abs(change.by_s) for change in changes}
    if len(shifts) != 1 or days[0] is None or days[1] is None:
        return None
    return OwnRule(days[0], days[1], shifts.pop() // 60)


def _change_days(changes: list[Change], years: int) -> ChangeDay | None:
    """The one change day that suits all of them; the last week rather than the fourth."""
    weeks = {1, 2, 3, 4, 5}
    for change in changes:
        day = day_of(change.digits // DAY_S)
        last = (day + timedelta(days=7)).month != day.month
        weeks &= {(day.day - 1) // 7 + 1, *((5,) if last else ())}
    same = {(d.month, d.weekday(), c.digits % DAY_S) for c in changes for d in [day_of(c.digits // DAY_S)]}
    if len(changes) != years or len(same) != 1 or not weeks:
        return None
    month, weekday, seconds = same.pop()
    return ChangeDay(month, max(weeks), weekday, ClockTime(seconds))
