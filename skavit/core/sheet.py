"""The entry sheet: the steps of keying a plan into a unit, each with what the display must then read."""

import hashlib
import json
from dataclasses import dataclass

from skavit.core.days import WEEKDAYS, Weekdays
from skavit.core.handover import ChannelHandover
from skavit.core.plan import Entry, Plan
from skavit.core.purpose import purposes
from skavit.core.replay import Replay
from skavit.core.sun import DAY_S
from skavit.core.values import ClockTime, day_of, sun_time_of
from skavit.core.wording import FULL_DAYS, MONTHS, SHORT_DAYS, Words, capital, count, days_text

MODE_TEXT = {
    "auto": "automatic",
    "auto-on": "automatic, with the output switched on by hand now",
    "auto-off": "automatic, with the output switched off by hand now",
}
RULE_TEXT = {
    "zone": "as the law has it at the site",
    "none": "no summer time",
    "us": "the rule of the United States",
    "us-1987": "the rule of the United States before 2007",
    "eu": "the rule of the European Union",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Display:
    """What a slot must read."""

    slot: int
    slots: int | None  # of how many, where the unit's memory is known
    action: str
    time: str  # a clock time, or the sun event
    detail: str  # offset and limits
    weekdays: tuple[tuple[str, bool], ...]  # empty where the days are no set of weekdays
    days: str
    channels: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One thing to do and to see."""

    key: str
    kind: str  # found, clock, slot, empty, mode, output
    title: str
    say: str
    display: Display | None = None
    caution: str = ""


def date_words(digits: int) -> str:
    """Digits as weekday and date: Monday is what the unit must show for it."""
    day = day_of(digits // DAY_S)
    return f"{SHORT_DAYS[day.weekday()]} {day.day} {MONTHS[day.month - 1]} {day.year}"


def _key(kind: str, *content: object) -> str:
    text = json.dumps([kind, *content], sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()[:32]


def steps(
    plan: Plan, year: Replay, leaving: tuple[ChannelHandover, ...], digits: int, words: Words
) -> tuple[Step, ...]:
    """The sheet for keying ``plan`` now: ``digits`` is what the site's clock shows, ``year`` its replay."""
    return (
        _as_found(),
        _clock(plan, digits, words),
        *_slots(plan, year, words),
        _empty(plan),
        _mode(plan, leaving),
        _output(leaving, words),
    )


def _as_found() -> Step:
    return Step(
        key=_key("found"),
        kind="found",
        title="As found",
        say="Before anything is reset, write down or photograph the clock, the mode and every slot that the unit holds. "
        "Then clear all slots.",
        caution="Mains inside the box: opening it is for licensed people, by the local code.",
    )


def _clock(plan: Plan, digits: int, words: Words) -> Step:
    rule = plan.unit.clock.dst.to_json()
    name = RULE_TEXT.get(rule, "its own rule") if isinstance(rule, str) else "its own rule"
    day = day_of(digits // DAY_S)
    return Step(
        key=_key("clock", plan.unit.clock.to_json(), day.isoformat()),
        kind="clock",
        title="Clock and date",
        say=f"Set the year {day.year}, then the date, then the time. The unit must then show "
        f"{FULL_DAYS[day.weekday()]}: "
        f"another weekday means a wrong date or year. Look at AM and PM. Summer time: {name}.",
        display=Display(
            slot=0,
            slots=None,
            action=date_words(digits),
            time=words.minute(digits % DAY_S // 60 * 60),
            detail="",
            weekdays=tuple((n.capitalize()[:2], i == day.weekday()) for i, n in enumerate(WEEKDAYS)),
            days="",
            channels="",
        ),
    )


def _slots(plan: Plan, year: Replay, words: Words) -> tuple[Step, ...]:
    serving = purposes(year)
    found = []
    for index, (entry, purpose) in enumerate(zip(plan.unit.entries, serving, strict=True)):
        serves = f", {purpose.serves}" if purpose.serves else ""
        found.append(
            Step(
                key=_key("slot", index, entry.to_json()),
                kind="slot",
                title=f"Slot {index + 1}{serves}",
                say=f"{entry.action.upper()} at {words.time(entry.at)}, {days_text(entry.days)}",
                display=display_of(plan, index, entry, words),
            )
        )
    return tuple(found)


def display_of(plan: Plan, index: int, entry: Entry, words: Words) -> Display:
    """What a slot must read once its entry is keyed."""
    sun = sun_time_of(entry.at)
    if sun is not None:
        time = sun.event.name.lower()
        whole = words.time(entry.at)
        detail = whole.removeprefix(time).strip(", ")
    else:
        fixed = entry.at if isinstance(entry.at, ClockTime) else None
        time, detail = words.time(entry.at), ""
        if fixed is None:
            time, _, detail = time.partition(", ")
    week: tuple[tuple[str, bool], ...] = ()
    if isinstance(entry.days, Weekdays):
        week = tuple((n.capitalize()[:2], bool(entry.days.mask >> i & 1)) for i, n in enumerate(WEEKDAYS))
    several = len(plan.channels) > 1
    return Display(
        slot=index + 1,
        slots=plan.unit.limits.entries,
        action=entry.action.upper(),
        time=time,
        detail=detail,
        weekdays=week,
        days=days_text(entry.days),
        channels=" + ".join(plan.channels[n - 1].name for n in entry.channels) if several else "",
    )


def _empty(plan: Plan) -> Step:
    used, most = len(plan.unit.entries), plan.unit.limits.entries
    if most is None:
        say = f"Step on past slot {used}: every slot after it must show nothing."
    elif used >= most:
        say = f"All {most} slots are used: step through them once and see that none shows anything else."
    else:
        say = f"Step through slots {used + 1} to {most}: {count(most - used, 'slot')}, each must show nothing."
    return Step(
        key=_key("empty", used, most),
        kind="empty",
        title="The empty slots",
        say=f"{say} An entry left over switches the output all the same.",
    )


def _mode(plan: Plan, leaving: tuple[ChannelHandover, ...]) -> Step:
    modes = {channel.leave_in for channel in leaving}
    if len(modes) == 1:
        say = f"Leave the unit in {MODE_TEXT[modes.pop()]}."
    else:
        say = " ".join(f"{channel.name}: {MODE_TEXT[channel.leave_in]}." for channel in leaving)
    if plan.unit.on_return_to_auto == "waits":
        say += " This unit keeps its output until the next entry acts: bring it by hand to what it must be doing now."
    return Step(key=_key("mode", say), kind="mode", title="The mode", say=say)


def _output(leaving: tuple[ChannelHandover, ...], words: Words) -> Step:
    parts = [f"{channel.name} must be {'ON' if channel.program else 'OFF'}." for channel in leaving]
    return Step(
        key=_key("output", parts),
        kind="output",
        title="Cover shut, output seen",
        say="Shut the cover, then look at the output again. " + " ".join(parts),
        caution=capital("a cover can press a key: look after it is shut, not before."),
    )
