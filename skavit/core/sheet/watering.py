"""The steps of a watering unit: its stations, each program in the kind's own order, what must show and what must not, the next start."""

from collections.abc import Callable, Iterable
from dataclasses import replace
from itertools import groupby
from typing import assert_never

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds.fields import DARK, NO_HOUR, OWN_SHORT, USUAL_STARTS, fields_of, hour_text, program_words
from skavit.core.plan.days import WEEKDAYS, Dates, Days, EveryNth, Narrowed, Parity, Weekdays
from skavit.core.plan.times import ClockTime
from skavit.core.plan.water import HUNDRED, Program, Water
from skavit.core.sheet.holidays import holiday_text
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.setting_up import by_rows
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed
from skavit.core.sheet.water_seasons import controller_of, water_of
from skavit.core.text.wording import MONTHS, days_text, minutes_text, weekday_date
from skavit.core.water.need import month_shares
from skavit.core.water.seasons import standing

SPRAY = "Stand clear of heads that come up, and of paths that they wet."
_ANCHOR_TEXT = {
    "asked": "Tell it how many days are left until the next watering: {first}.",
    "keyed": "It counts from the day on which it is keyed: key the interval on {first}, or on a date that many days on.",
    "reset": "It counts from its last reset: reset it on {first}, or on a date that many days on.",
    "watered": "It counts from the last watering: let it water on {first}, or on a date that many days on.",
}


def stations(occasion: Occasion) -> list[Step]:
    """The stations as they are wired, the master valve, and a run time for all where the unit asks for one first."""
    water, has = water_of(occasion), controller_of(occasion)
    wired = tuple(f"{n}: {s.name}" for n, s in enumerate(water.stations, start=1))
    found = [
        keyed(
            Step(kind="channels", title="The stations", watch=wired,
                 say="Wire each valve to its own terminal, then check which one opens.",
                 caution=SPRAY),
            [s.name for s in water.stations],
        )
    ]  # fmt: skip
    master = water.master_valve
    if has.master or master.lead_s or master.lag_s:
        lead = f"opens {master.lead_s} s before" if master.lead_s else "opens with"
        lag = f", shuts {master.lag_s} s after the last" if master.lag_s else ""
        say = f"A master valve or a pump, where there is one: it {lead} the first station{lag}."
        found.append(keyed(Step(kind="channels", title="Master valve or pump", say=say), master.to_json()))
    if has.default_run and water.programs:
        minutes = _default_run(water)
        say = "It asks for one run time for all stations first. Those that differ are set after it, one by one."
        shown = Display(rows=(DisplayRow(word="all stations", value=minutes_text(minutes)),))
        found.append(keyed(Step(kind="channels", title="Run time for all", say=say, display=shown), minutes))
    return found


def _default_run(water: Water) -> float:
    """The run time of the most stations."""
    times = sorted(run.run_min for program in water.programs for run in program.runs)
    counted = [(len(list(group)), -minutes) for minutes, group in groupby(times)]
    return -max(counted)[1] if counted else 0.0


def programs(occasion: Occasion) -> list[Step]:
    """Each program in the unit now, part by part, in the kind's own order; then those that must hold nothing."""
    has = controller_of(occasion)
    held = standing(water_of(occasion), occasion.digits // DAY_S)
    found: list[Step] = []
    for program in held:
        for place, part in enumerate(has.parts):
            so_far = _so_far(occasion, program, has.parts[: place + 1])
            found += [replace(step, watch=(so_far,)) for step in _PARTS[part](occasion, program)]
    return [*found, *_unused(occasion, len(held))]


def _so_far(occasion: Occasion, program: Program, done: tuple[str, ...]) -> str:
    """What a program does once some of its parts are keyed."""
    has = controller_of(occasion)
    if "starts" not in done:
        return "So far it waters nothing: it has no start."
    starts = ", ".join(occasion.words.time(at) for at in program.starts) or "no time"
    if "runs" not in done:
        return f"So far it starts at {starts} and " + (
            "runs each station for its default." if has.default_run else "runs nothing."
        )
    total = minutes_text(sum(run.run_min for run in program.runs))
    if "days" not in done:
        return f"So far it waters at {starts} on every day, {total} each time."
    season = f", at {program.adjust_pct:g} %" if "season" in done and program.adjust_pct != 100 else ""
    return f"It waters at {starts} on {days_text(program.days)}, {total} each time{season}."


def _named(program: Program) -> str:
    return f"Program {program.name}"


def _by_keys(step: Step, occasion: Occasion, program: Program, name: str, rows: list[dict[str, str]]) -> Step:
    """The step with the keys of one of the kind's dialogues, gone through once for each of ``rows``."""
    held = standing(water_of(occasion), occasion.digits // DAY_S)
    place = next(n for n, each in enumerate(held) if each.name == program.name)
    shown = {"program": _word(occasion, place, program)}
    return by_rows(step, occasion.kind, name, [shown | row for row in rows])


def _word(occasion: Occasion, place: int, program: Program) -> str:
    """What the display calls a program (from 0): its station where each has starts of its own."""
    names = program_words(occasion.kind) if occasion.kind else ()
    if controller_of(occasion).starts_for == "station" and program.runs:
        return str(program.runs[0].station)
    return names[place] if place < len(names) else program.name


def _before(occasion: Occasion, program: Program) -> Program | None:
    """The program that the unit holds in its place, where that is known."""
    if occasion.was is None or occasion.was.water is None:
        return None
    day = occasion.digits // DAY_S
    held, there = standing(water_of(occasion), day), standing(occasion.was.water, day)
    place = next(n for n, each in enumerate(held) if each.name == program.name)
    return there[place] if place < len(there) else None


def _start_values(occasion: Occasion, number: int, seconds: int) -> dict[str, str]:
    """The fields of a start (from 1) at so many seconds after midnight."""
    hour = hour_text(occasion.kind, seconds // 3600) if occasion.kind else ""
    return {"start": str(number), "hour": hour, "minute": f"{seconds // 60 % 60:02d}"}


def _days_values(days: Days) -> dict[str, str] | None:
    """The fields of a rule for days; None where no dialogue has it."""
    match days:
        case Weekdays():
            lit = {name: OWN_SHORT[bit] if days.mask >> bit & 1 else DARK for bit, name in enumerate(WEEKDAYS)}
            return {"day_rule": "WEEK", **lit}
        case Parity():
            return {"day_rule": "ODD" if days.odd else "EVEN"}
        case EveryNth():
            return {"day_rule": "EVERY", "every": str(days.interval)}
        case _:
            return None


def _starts(occasion: Occasion, program: Program) -> list[Step]:
    """Each start once for the whole program: the commonest mistake of all is a start a station."""
    has = controller_of(occasion)
    rows = tuple(
        DisplayRow(word=f"start {n}", value=occasion.words.time(at)) for n, at in enumerate(program.starts, start=1)
    )
    say = "All other starts of it show nothing."
    if len(program.runs) > 1:
        say = f"One start runs all {len(program.runs)} stations, one after another. {say}"
    if has.starts_for == "station":
        say = f"These are the starts of {_stations_of(occasion, program)}. {say}"
    step = Step(kind="slot", title=f"{_named(program)}: starts", say=say, display=Display(rows=rows))
    if all(isinstance(at, ClockTime) for at in program.starts):
        times = [at.seconds for at in program.starts if isinstance(at, ClockTime)]
        values = [_start_values(occasion, n, at) for n, at in enumerate(times, 1)]
        before = _before(occasion, program)
        freed = occasion.left_over(len(times), len(before.starts) if before else 0, _most_starts(occasion))
        values += [{"start": str(n), "hour": NO_HOUR} for n in freed]
        step = _by_keys(step, occasion, program, "starts", values)
    return [keyed(step, program.name, [str(at) for at in program.starts])]


def _most_starts(occasion: Occasion) -> int:
    return controller_of(occasion).limits.starts or USUAL_STARTS


def _stations_of(occasion: Occasion, program: Program) -> str:
    water = water_of(occasion)
    return ", ".join(f"station {run.station}, {water.stations[run.station - 1].name}" for run in program.runs)


def _runs(occasion: Occasion, program: Program) -> list[Step]:
    """Each run time, and what they come to."""
    water, has = water_of(occasion), controller_of(occasion)
    rows = tuple(
        DisplayRow(
            word=str(run.station), value=minutes_text(run.run_min), detail=water.stations[run.station - 1].name
        )
        for run in program.runs
    )  # fmt: skip
    total = sum(run.run_min for run in program.runs)
    say = f"{minutes_text(total)} in all. Every other station shows 0."
    if has.runs_for == "each start" and len(program.starts) > 1:
        say += " The same at each of its starts."
    if has.curves:
        say += " The display then shows its own curve's share of it, and not what you keyed."
    step = Step(kind="slot", title=f"{_named(program)}: run times", say=say, display=Display(rows=rows))
    step = _by_keys(step, occasion, program, "runs", _run_values(occasion, program))
    each = len(program.starts) if has.runs_for == "each start" else 0
    return [keyed(step, program.name, [run.to_json() for run in program.runs], *([each] if each else []))]


def _run_values(occasion: Occasion, program: Program) -> list[dict[str, str]]:
    """The fields of each run time; 0 for the stations that something may be left for."""
    found = [{"station": str(run.station), "minutes": f"{run.run_min:g}"} for run in program.runs]
    if occasion.kind and "station" in fields_of(occasion.kind, "runs"):
        before = _before(occasion, program)
        most = len(water_of(occasion).stations)
        left = _left_stations(occasion, [program], [before] if before else [], most)
        found += [{"station": str(station), "minutes": "0"} for station in left]
    if controller_of(occasion).runs_for == "each start":
        return [row | {"start": str(n)} for n in range(1, len(program.starts) + 1) for row in found]
    return found


def _left_stations(occasion: Occasion, held: Iterable[Program], before: Iterable[Program], most: int) -> list[int]:
    """The stations (from 1) that programs do not use and for which something may be left in the unit."""
    used, there = ({run.station for program in each for run in program.runs} for each in (held, before))
    return sorted((there if occasion.was is not None else set(occasion.left_over(0, 0, most))) - used)


def _days(occasion: Occasion, program: Program) -> list[Step]:
    """The days, and from when an interval counts."""
    has, days = controller_of(occasion), program.days
    shown: Display
    if isinstance(days, Weekdays):
        week = tuple((name, bool(days.mask >> bit & 1)) for bit, name in enumerate(OWN_SHORT))
        shown, say = Display(rows=(), weekdays=week, days=days_text(days)), f"Water on {days_text(days)}."
    else:
        shown = Display(rows=(DisplayRow(word="days", value=_days_value(days)),))
        say = f"Water on {days_text(days)}."
        if has.weekdays_first:
            say = f"Take every weekday out first: while one stands there, neither dates nor an interval act. {say}"
    if isinstance(days, EveryNth) and days.interval > 1:
        say += " " + _ANCHOR_TEXT[has.anchor].format(first=_anchor(occasion, days))
    if isinstance(days, Parity) and days.odd:
        say += " The 31st and the 1st follow each other: two waterings in a row."
    step = Step(kind="slot", title=f"{_named(program)}: days", say=say, display=shown)
    if (values := _days_values(days)) is not None:
        step = _by_keys(step, occasion, program, "days", [values])
    return [keyed(step, program.name, days.to_json())]


def _days_value(days: Days) -> str:
    """What a display shows of a day rule in one word or two."""
    match days:
        case Weekdays():
            return days_text(days)
        case EveryNth():
            return f"every {days.interval}"
        case Parity():
            return "odd" if days.odd else "even"
        case Dates():
            return "dates"
        case Narrowed():
            return _days_value(days.days)
        case _:
            assert_never(days)


def _anchor(occasion: Occasion, days: EveryNth) -> str:
    """The first of its days on or after the date of keying."""
    today = occasion.digits // DAY_S
    return weekday_date(today + (days.start - today) % days.interval)


def _season(occasion: Occasion, program: Program) -> list[Step]:
    """The season percentage, with what becomes of each run."""
    water, has = water_of(occasion), controller_of(occasion)
    if water.limits.adjust_max_pct is None and program.adjust_pct == 100:
        return []
    pct = program.adjust_pct
    total = sum(run.run_min for run in program.runs)
    as_run = sum(has.shown(run.run_min, pct, 100)[1] for run in program.runs)
    rows = [DisplayRow(word="season", value=f"{pct:g} %")]
    if pct == 100:
        say = f"At 100 the {has.season_mark} sign is off. If it shows, someone changed the season setting."
    else:
        say = (
            f"{minutes_text(total)} become {minutes_text(total * pct / 100)}; this unit runs them as "
            f"{minutes_text(as_run)}. {has.season_mark} shows."
        )
    step = Step(kind="slot", title=f"{_named(program)}: season", say=say, display=Display(rows=tuple(rows)))
    step = _by_keys(step, occasion, program, "season", [{"pct": f"{pct:g}"}])
    if told := _by_hand_each_month(water, program):
        step = replace(step, say=f"{say} {told}")
    return [keyed(step, program.name, pct)]


def _by_hand_each_month(water: Water, program: Program) -> str:
    """What to turn the season to as the months go on, where the unit has no percentage for each; empty where it has."""
    stations = [water.stations[run.station - 1] for run in program.runs]
    if water.limits.monthly or water.climate is None or any(s.crop is None or s.soil is None for s in stations):
        return ""
    shares = month_shares(stations, water.climate, water.limits.adjust_step_pct or 10)
    if len(set(shares)) == 1:
        return ""
    told = ", ".join(f"{name} {share:g}" for name, share in zip(MONTHS, shares, strict=True))
    return f"It knows no months: turn it by hand as they go, {told}."


def _months(occasion: Occasion, program: Program) -> list[Step]:
    """The percentage of each month, with what it makes of the longest run."""
    water, has = water_of(occasion), controller_of(occasion)
    before = _before(occasion, program)
    wiped = before is None or before.monthly_pct == HUNDRED
    if occasion.was is None and occasion.kind and occasion.kind.months_dialogue and occasion.kind.reset is None:
        wiped = False  # what somebody left there is not known
    if not water.limits.monthly or (program.monthly_pct == HUNDRED and not has.curves and wiped):
        return []
    longest = max((run.run_min for run in program.runs), default=0.0)
    rows = []
    for name, pct in zip(MONTHS, program.monthly_pct, strict=True):
        exact, runs = has.shown(longest, program.adjust_pct, pct)
        detail = "off" if not pct else minutes_text(runs) + (f" ({exact:g})" if abs(exact - runs) > 1e-6 else "")
        rows.append(DisplayRow(word=name, value=f"{pct:g} %", detail=detail))
    say = f"Beside each month what it makes of {minutes_text(longest)}."
    if has.curves:
        say += " Its own curve comes on top: choose the flat one, or none, where it has one."
    step = Step(kind="slot", title=f"{_named(program)}: months", say=say, display=Display(rows=tuple(rows)))
    values = [{"month": str(n), "pct": f"{pct:g}"} for n, pct in enumerate(program.monthly_pct, start=1)]
    step = _by_keys(step, occasion, program, "months", values)
    return [keyed(step, program.name, list(program.monthly_pct), program.adjust_pct)]


_PARTS: dict[str, Callable[[Occasion, Program], list[Step]]] = {
    "starts": _starts,
    "runs": _runs,
    "days": _days,
    "season": _season,
    "months": _months,
}


def _unused(occasion: Occasion, used: int) -> list[Step]:
    """Programs that must hold nothing."""
    water, has, kind = water_of(occasion), controller_of(occasion), occasion.kind
    most = water.limits.programs
    if has.starts_for == "station":
        most = has.stations
    if most is not None and used >= most:
        return []
    others = "Every other program"
    if most is not None:
        others = "The other program" if most - used == 1 else f"The other {most - used} programs"
    if has.starts_for == "station":
        others = "The other outlet" if most == used + 1 else "The other outlets"
    say = f"{others}: no start time. A start left over waters all the same."
    step = Step(kind="empty", title="The empty programs", say=say)
    before = standing(occasion.was.water, occasion.digits // DAY_S) if occasion.was and occasion.was.water else ()
    if kind is None:
        words = []
    elif has.starts_for == "station":
        held = standing(water, occasion.digits // DAY_S)
        words = [str(station) for station in _left_stations(occasion, held, before, has.stations)]
    else:
        names = program_words(kind)
        words = [names[n - 1] for n in occasion.left_over(used, len(before), most or 0) if n <= len(names)]
    rows = [
        {"program": word, "start": str(start), "hour": NO_HOUR}
        for word in words
        for start in range(1, _most_starts(occasion) + 1)
    ]
    return [keyed(by_rows(step, kind, "starts", rows), used, most, *([words] if occasion.was else []))]


def off_dates(occasion: Occasion) -> list[Step]:
    """Days without water."""
    held = water_of(occasion).off_dates
    if not held:
        return []
    told = "; ".join(holiday_text(each) for each in held)
    step = Step(kind="holidays", title=f"Days off, {len(held)}", say=f"On these dates nothing waters: {told}.")
    return [keyed(step, [each.to_json() for each in held])]
