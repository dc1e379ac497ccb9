"""What differs between two plans, line by line: entries by their slots, settings, windows; each as it was and as it is."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from itertools import zip_longest

from skavit.core.memory import slot_names
from skavit.core.plan.days import Holiday
from skavit.core.plan.document import Channel, Plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.heat import SetPoint
from skavit.core.plan.sun_settings import Adjust, SunSettings
from skavit.core.plan.water import Station
from skavit.core.plan.window import Window
from skavit.core.sheet.holidays import holiday_text
from skavit.core.sheet.rekeying import entry_text
from skavit.core.sheet.water_seasons import program_text
from skavit.core.text.coordinates import degrees_text
from skavit.core.text.wording import Words, capital, cycle_text, days_text, duration_text, minutes_text, rule_text


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """One line that differs; empty where there was nothing, or is nothing now."""

    what: str
    before: str
    after: str


def keyed_differences(old: Plan, new: Plan, words: Words) -> tuple[Difference, ...]:
    """What is keyed in the one and not in the other."""
    return tuple(line for line in _keyed(old, new, words) if line.before != line.after)


def wanted_differences(old: Plan, new: Plan, words: Words) -> tuple[Difference, ...]:
    """What is wanted in the one and not in the other: windows by channel, temperatures by zone."""
    return tuple(line for line in _wanted(old, new, words) if line.before != line.after)


def _keyed(old: Plan, new: Plan, words: Words) -> Iterator[Difference]:
    for keying, (before, after) in enumerate(zip_longest(old.unit.sets, new.unit.sets, fillvalue=())):
        name = f"Keying {keying + 1}, " if keying else ""
        yield from _entries(before, after, old, new, words, name)
    for index, (a, b) in enumerate(zip_longest(old.channels, new.channels), start=1):
        name = (b or a).name if (b or a) else ""
        yield Difference(what=f"Correction of channel {index}, {name}", before=_own_adjust(a), after=_own_adjust(b))
    for what, told in _SETTINGS.items():
        yield Difference(what=words.said(what), before=told(old, words), after=told(new, words))
    yield from _holidays("Holiday", old.unit.holidays, new.unit.holidays)
    if old.water and new.water:
        names = dict.fromkeys(p.name for p in (*old.water.programs, *new.water.programs))
        a, b = ({p.name: program_text(p, words).split(": ", 1)[1] for p in w.programs} for w in (old.water, new.water))
        yield from (Difference(what=f"Program {n}", before=a.get(n, ""), after=b.get(n, "")) for n in names)
        yield from _holidays("No watering", old.water.off_dates, new.water.off_dates)
    if old.heat and new.heat:
        for zone, each in enumerate(zip_longest(old.heat.zones, new.heat.zones)):
            x, y = (one.keyed if one else () for one in each)
            yield from _points(f"Zone {zone + 1}", x, y, words)


def _entries(
    before: tuple[Entry, ...], after: tuple[Entry, ...], old: Plan, new: Plan, words: Words, name: str
) -> Iterator[Difference]:
    """Slot by slot, named as the memory has them now."""
    several = max(len(old.channels), len(new.channels)) > 1
    more, plan = (after, new) if len(after) >= len(before) else (before, old)
    named = words.of_slots(slot_names(more, plan.unit.limits))
    for slot, (a, b) in enumerate(zip_longest(before, after), start=1):
        what = f"{name}{named.slot(slot)}"
        yield Difference(
            what=capital(what), before=_entry(a, words, several=several), after=_entry(b, words, several=several)
        )


def _entry(entry: Entry | None, words: Words, *, several: bool) -> str:
    if entry is None:
        return ""
    channels = f", channel {' + '.join(map(str, entry.channels))}" if several else ""
    return f"{entry_text(entry, words)}{channels}{', disabled' if entry.disabled else ''}"


def _holidays(what: str, old: Iterable[Holiday], new: Iterable[Holiday]) -> Iterator[Difference]:
    a, b = ([holiday_text(one) for one in held] for held in (old, new))
    for text in dict.fromkeys([*a, *b]):
        yield Difference(what=what, before=text if text in a else "", after=text if text in b else "")


def _points(zone: str, old: Iterable[SetPoint], new: Iterable[SetPoint], words: Words) -> Iterator[Difference]:
    a, b = ({(days_text(p.days), p.at.seconds): words.warmth(p.c) for p in points} for points in (old, new))
    for days, at in sorted({*a, *b}):
        what = f"{zone}, {days}, {words.clock(at)}"
        yield Difference(what=what, before=a.get((days, at), ""), after=b.get((days, at), ""))


def _own_adjust(channel: Channel | None) -> str:
    return _adjust(channel.adjust) if channel and channel.adjust else ""


def _adjust(adjust: Adjust | None) -> str:
    return f"sunrise {adjust.sunrise_min:+d}, sunset {adjust.sunset_min:+d} min" if adjust else ""


def _place(sun: SunSettings) -> str:
    if sun.source == "coordinates":
        return degrees_text(sun.latitude or 0, sun.longitude or 0)
    if sun.source == "table":
        return f"zone table, {sun.latitude:g} degrees"
    return {"site": "the site's", "photocell": "photocell", "none": "no sun times"}[sun.source]


_SETTINGS: dict[str, Callable[[Plan, Words], str]] = {
    "Daylight saving": lambda plan, words: rule_text(plan.unit.clock.dst, words),
    "Correction": lambda plan, _: _adjust(plan.unit.sun.adjust),
    "Place": lambda plan, _: _place(plan.unit.sun),
    "Channels": lambda plan, _: {"independent": "each by itself"}.get(plan.unit.channel_mode, plan.unit.channel_mode),
    "Runs": lambda plan, _: plan.unit.operating.replace("-", " "),
    "Pulse": lambda plan, _: duration_text(plan.unit.pulse_s),
    "Frost protection": lambda plan, words: words.warmth(plan.heat.frost_c) if plan.heat else "",
}


def _wanted(old: Plan, new: Plan, words: Words) -> Iterator[Difference]:
    for index, each in enumerate(zip_longest(old.channels, new.channels), start=1):
        a, b = ([_window(w, words) for w in one.windows] if one else [] for one in each)
        name = next((one.name for one in reversed(each) if one), "")
        for text in dict.fromkeys([*a, *b]):
            what = f"Channel {index}, {name}"
            yield Difference(what=what, before=text if text in a else "", after=text if text in b else "")
    if old.water and new.water:
        for number, stations in enumerate(zip_longest(old.water.stations, new.water.stations), start=1):
            before, after = (_station(one, words) if one else "" for one in stations)
            yield Difference(what=f"Station {number}", before=before, after=after)
    if old.heat and new.heat:
        for zone, pair in enumerate(zip_longest(old.heat.zones, new.heat.zones)):
            x, y = (one.wanted if one else () for one in pair)
            yield from _points(f"Zone {zone + 1}", x, y, words)


def _window(window: Window, words: Words) -> str:
    end = f"until {words.time(window.to)}" if window.to else f"for {minutes_text(window.for_min or 0)}"
    pulses = f", {cycle_text(window.repeat)}" if window.repeat else ""
    return f"on from {words.time(window.start)} {end}, {days_text(window.days)}{pulses}"


def _station(station: Station, words: Words) -> str:
    rate = f", {words.rate(station.rate)}" if station.rate is not None else ""
    crop = f", crop {station.crop_in(0):g}" if station.crop is not None else ""
    return f"{station.name}, {words.flow(station.flow_l_min)}{rate}{crop}"
