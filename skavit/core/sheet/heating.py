"""The steps of a unit that holds temperatures: its zones, each period of each day group, what is held now and next."""

from collections.abc import Iterator

import numpy as np

from skavit.core.ground.arrays import DAY_S, Ints
from skavit.core.heat.fitting import in_groups
from skavit.core.heat.targets import Warmed, targets
from skavit.core.heat.week import Day
from skavit.core.kinds.fields import NO_HOUR, OWN_SHORT, days_word, hour_text
from skavit.core.kinds.heating import Heating, temperature_word
from skavit.core.plan.days import Weekdays
from skavit.core.plan.heat import Heat, Zone
from skavit.core.plan.times import ClockTime
from skavit.core.sheet.carried import Builder, carried_by
from skavit.core.sheet.handing_over import to_mode
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.setting_up import by_rows
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed, unknown
from skavit.core.text.wording import capital, days_text, weekday_date

_UNIT = Heating()  # where no kind is known
UNUSED_TEXT = {
    "dashes": "set the hour to {dashes}",
    "equal-times": "give it the time and the degrees of the one before",
    "skipped": "leave it out",
}
HOLIDAY_TEXT = {
    "until": "Its holiday is told by the date and time of coming back: key the hour at which it must be warm again, less the warming up.",
    "today": "Its holiday is told by days, and today counts: for seven nights away key 8. It ends at midnight.",
    "tomorrow": "Its holiday is told by days, and today does not count: for seven nights away key 7. It ends at midnight.",
}


def _has(occasion: Occasion) -> Heating:
    return (occasion.kind.heating if occasion.kind else None) or _UNIT


def _heat(occasion: Occasion) -> Heat:
    assert occasion.plan.heat is not None
    return occasion.plan.heat


def zones(occasion: Occasion) -> list[Step]:
    """The zones as they are wired, and frost protection."""
    heat, has = _heat(occasion), _has(occasion)
    wired = tuple(f"{n}: {zone.name}" for n, zone in enumerate(heat.zones, start=1))
    frost = occasion.words.warmth(heat.frost_c)
    off = "Off protects from frost too." if has.off_protects else "Off is off: nothing protects from frost then."
    say = f"Frost protection at {frost}. {off}"
    found = [keyed(Step(kind="channels", title="Frost protection", say=say), heat.frost_c)]
    if len(heat.zones) > 1:
        step = Step(kind="channels", title="The zones", say="Each zone's sensor in its own room, each valve on its own terminal.", watch=wired)  # fmt: skip
        found.insert(0, keyed(step, [zone.name for zone in heat.zones]))
    return found


def set_points(occasion: Occasion) -> list[Step]:
    """Each day group of each zone, period by period; those that are unused as the unit says it."""
    return [
        step for number, zone in enumerate(_heat(occasion).zones, start=1) for step in _of_zone(occasion, number, zone)
    ]


def _of_zone(occasion: Occasion, number: int, zone: Zone) -> Iterator[Step]:
    several = len(_heat(occasion).zones) > 1
    name = f"{zone.name}: " if several else ""
    if not zone.keyed:
        say = f"No set point is keyed: it stays at {occasion.words.warmth(_heat(occasion).frost_c)}, frost protection."
        step = Step(kind="empty", title=capital(f"{name}set points"), say=say)
        if occasion.kind and occasion.kind.keys and occasion.kind.reset is None:
            step = unknown(step, "they do not empty all of its periods")
        yield keyed(step, zone.name)
        return
    groups = in_groups(zone.keyed, occasion.plan)
    if groups is None:
        refused = (
            "This unit cannot hold these set points: its day groups, periods or steps are others. See the findings."
        )
        yield Step(kind="slot", title=capital(f"{name}set points"), say="", refused=refused)
        return
    for mask, day in groups:
        yield _of_group(occasion, number, zone, mask, day)


def _of_group(occasion: Occasion, number: int, zone: Zone, mask: int, day: Day) -> Step:
    has, words = _has(occasion), occasion.words
    rows, values = [], []
    used = len(day)
    for place in range(max(has.periods if occasion.kind else used, used)):
        word = has.period(place)
        if place < used:
            seconds, c = day[place]
            rows.append(DisplayRow(word=word, value=words.time(ClockTime(seconds)), detail=words.warmth(c)))
            values.append(_period(occasion, number, mask, word, seconds, c))
        elif has.unused == "dashes":
            rows.append(DisplayRow(word=word, value=f"{NO_HOUR}:--", detail="not used"))
            values.append(_base(occasion, number, mask, word) | {"hour": NO_HOUR})
        elif has.unused == "equal-times":
            seconds, c = day[-1] if day else (0, _heat(occasion).frost_c)
            rows.append(
                DisplayRow(word=word, value=words.time(ClockTime(seconds)), detail=f"{words.warmth(c)}, not used")
            )
            values.append(_period(occasion, number, mask, word, seconds, c))
    group = days_text(Weekdays(mask))
    say = f"On {group}." if group != "every day" else "On every day."
    if used < has.periods and occasion.kind and has.unused != "skipped":
        say += f" A period that is not used: {UNUSED_TEXT[has.unused].format(dashes=NO_HOUR)}."
    several = len(_heat(occasion).zones) > 1
    week = tuple((name, bool(mask >> bit & 1)) for bit, name in enumerate(OWN_SHORT))
    step = Step(
        kind="slot",
        title=f"{zone.name}: {group}" if several else capital(group),
        say=say,
        display=Display(rows=tuple(rows), weekdays=week, days=group),
        watch=(_so_far(occasion, zone, mask),),
    )
    return keyed(by_rows(step, occasion.kind, "points", values), zone.name, mask, [list(point) for point in day])


def _base(occasion: Occasion, number: int, mask: int, word: str) -> dict[str, str]:
    several = {"zone": str(number)} if _has(occasion).zones > 1 else {}
    return several | {"days": days_word(mask), "period": word}


def _period(occasion: Occasion, number: int, mask: int, word: str, seconds: int, c: float) -> dict[str, str]:
    """The fields of one period."""
    hour = hour_text(occasion.kind, seconds // 3600) if occasion.kind else ""
    values = {"hour": hour, "minute": f"{seconds // 60 % 60:02d}", "degrees": temperature_word(c)}
    return _base(occasion, number, mask, word) | values


def _so_far(occasion: Occasion, zone: Zone, mask: int) -> str:
    """What a zone does on one of the group's days once this is keyed."""
    groups = dict(in_groups(zone.keyed, occasion.plan) or ())
    told = "; ".join(
        f"{occasion.words.warmth(c)} from {occasion.words.time(ClockTime(seconds))}"
        for seconds, c in groups.get(mask, ())
    )
    return f"On {days_text(Weekdays(mask))}: {told or 'what the day before ended with'}."


def readback(occasion: Occasion) -> list[Step]:
    """Every group stepped through once more, and what a holiday means to it."""
    heat, has = _heat(occasion), _has(occasion)
    watch = []
    for zone in heat.zones:
        for mask, day in in_groups(zone.keyed, occasion.plan) or ():
            told = ", ".join(f"{occasion.words.time(ClockTime(s))} {occasion.words.warmth(c)}" for s, c in day)
            watch.append(f"{zone.name}, {days_text(Weekdays(mask))}: {told or 'nothing'}.")
    found = []
    if watch:
        say = "Go through each day group once more and read every period aloud."
        step = Step(kind="readback", title="All read back", say=say, watch=tuple(watch))
        found.append(keyed(step, [[point.to_json() for point in zone.keyed] for zone in heat.zones]))
    if occasion.kind:
        say = HOLIDAY_TEXT[has.holiday] + (" Any key ends it." if has.any_key_ends else "")
        found.append(keyed(Step(kind="readback", title="How its holiday counts", say=say), say))
    return found


def mode(occasion: Occasion) -> list[Step]:
    """The mode in which the program runs."""
    kind = occasion.kind
    word = kind.modes.word("auto") if kind and kind.modes else "automatic"
    say = f"Leave the unit in {word}, with no hold, no holiday and no hand on the display."
    shown = Display(rows=(DisplayRow(word="mode", value=word),))
    step = Step(kind="mode", title="The mode", say=say, display=shown, brief=word, presses=to_mode(kind, word))
    return [keyed(step)]


def _warmed(occasion: Occasion) -> Warmed:
    found = targets(occasion.ahead or occasion.year)
    assert found is not None
    return found


def cover(occasion: Occasion) -> list[Step]:
    """What is held at this moment and next, and the relay heard."""
    heat, warmed = _heat(occasion), _warmed(occasion)
    now = [zone.program.value_at(np.array([occasion.instant]))[0] for zone in warmed.zones]
    brief = ", ".join(occasion.words.warmth(float(c)) for c in now)
    step = Step(
        kind="output",
        title="Held now, relay heard",
        say="Turn each zone a few degrees above the room: its relay closes and the heat comes. Turn it back, and it opens.",
        watch=tuple(_coming(occasion, warmed, place) for place in range(len(heat.zones))),
        brief=f"{brief} held",
    )
    return [keyed(step, [[point.to_json() for point in zone.keyed] for zone in heat.zones])]


def _coming(occasion: Occasion, warmed: Warmed, place: int) -> str:
    """What a zone is held at now and next, by the site's time."""
    zone, clock = warmed.zones[place], warmed.run.site_clock
    now = float(zone.program.value_at(np.array([occasion.instant]))[0])
    after = int(np.searchsorted(zone.program.at, occasion.instant, "right"))
    told = []
    for at, c in zip(
        zone.program.at[after : after + 3].tolist(), zone.program.c[after : after + 3].tolist(), strict=True
    ):
        day, seconds = divmod(int(clock.digits(np.array([at]))[0]), DAY_S)
        told.append(f"{occasion.words.warmth(c)} from {occasion.words.minute(seconds)}, {weekday_date(day)}")
    return f"{zone.zone.name}: {occasion.words.warmth(now)} now. Then {'; '.join(told) or 'nothing changes'}."


def by_set_points(build: Builder) -> Builder:
    """The steps of a builder as they stand now, and as they will after each set point until tomorrow's end."""

    def cuts(occasion: Occasion) -> Ints:
        turns = np.unique(np.concatenate([zone.program.at for zone in _warmed(occasion).zones]))
        found: Ints = turns[(turns > occasion.instant) & (turns < occasion.midnights[-1])]
        return found

    return carried_by(build, cuts)
