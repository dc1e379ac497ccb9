"""What the pages around a plan's programs show: other ways to fit, holidays, keyings, hand-over."""

from dataclasses import dataclass
from typing import Any

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan, read_plan
from skavit.core.plan.entry import Entry
from skavit.core.plan.holidays import Holiday
from skavit.core.plan.overrides import Away, Boost, Countdown, Mode, Setting
from skavit.core.plan.times import day_number, day_of
from skavit.core.sheet.handing_over import MODE_TEXT
from skavit.core.sheet.rekeying import changes, entry_text
from skavit.core.simulation.handover import Prospect, handover, prospects, test_sequence, warnings
from skavit.core.text.wording import Words, capital, count, date_text, dated_text, duration_text, start_words
from skavit.now import local_digits, now_instant
from skavit.units.long_work import ways_of
from skavit.units.models import Unit
from skavit.units.nights import weekday_date
from skavit.units.public_holidays import (
    PublicHoliday,
    countries,
    country_names,
    country_of,
    public_holidays,
    region_names,
)
from skavit.units.selectors import keying_tabs


def fits_page(unit: Unit, words: Words) -> dict[str, Any]:
    """The entries that fit makes and the ways beside them, each with what it loses, once they are worked out."""
    found = ways_of(unit)
    if found is None:
        return {"unit": unit, "ways": None}
    names = ["Just what is wanted" if found[0]["hours"] is None else "Nearest to what is wanted"]
    names += [f"Another way, {number}" for number in range(1, len(found))]
    ways = [
        {
            "number": number,
            "name": name,
            "hours": "nothing" if way["hours"] is None else f"{way['hours']:,.1f} h a year",
            "lost": way["lost"],
            "lines": _lines(unit.plan, read_plan(Node(way["plan"])).unit.entries, words),
        }
        for number, (name, way) in enumerate(zip(names, found, strict=True))
    ]
    return {"unit": unit, "ways": ways}


def _lines(plan: Plan, entries: tuple[Entry, ...], words: Words) -> list[str]:
    several = len(plan.channels) > 1
    return [
        entry_text(e, words) + (f" ({', '.join(plan.channels[n - 1].name for n in e.channels)})" if several else "")
        for e in entries
    ]


def way_of(unit: Unit, number: int) -> Plan | None:
    """The plan with one of the ways to fit keyed in; None where there is no such way, or none was worked out."""
    ways = ways_of(unit) or []
    return read_plan(Node(ways[number]["plan"])) if 0 <= number < len(ways) else None


# ------------------------------------------------------------------------------------------------------- holidays


@dataclass(frozen=True, slots=True, kw_only=True)
class HolidayRow:
    """A public holiday to choose, or one that stands in the unit."""

    key: str
    name: str
    dates: str
    moves: bool
    chosen: bool


def holidays_page(unit: Unit, country: str, region: str) -> dict[str, Any]:
    """The public holidays of a country and region, and those that the unit holds."""
    known = countries()
    country = country if country in known else country_of(unit.site.timezone)
    region = region if region in known.get(country, ()) else ""
    rows = _listed(unit, country, region)
    keyed = {row.name: row.keyed for row in rows}
    held = unit.plan.unit.holidays
    limits = unit.plan.unit.limits
    chosen = {key for key, own in keyed.items() if set(own) <= set(held)}
    own = [h for h in held if not any(h in keyed[key] for key in chosen)]
    return {
        "unit": unit,
        "country": country,
        "region": region,
        "countries": country_names(),
        "regions": region_names(country),
        "keyed": keyed,
        "rows": [_row(row, chosen) for row in rows],
        "own": "; ".join(_holiday_text(holiday) for holiday in own),
        "held": len(held),
        "most": limits.holidays,
        "longest": limits.holiday_days_max,
    }


def _listed(unit: Unit, country: str, region: str) -> tuple[PublicHoliday, ...]:
    """The public holidays of a country and region in the coming years; none without a country."""
    if not country:
        return ()
    return public_holidays(country, region, day_of(local_digits(unit.plan, now_instant()) // DAY_S))


def _row(row: PublicHoliday, chosen: set[str]) -> HolidayRow:
    days = [day_number(day) for day in row.dates]
    dates = ", ".join(dated_text(day) for day in days) if row.moves else date_text(days[0])
    return HolidayRow(key=row.name, name=row.name, dates=dates, moves=row.moves, chosen=row.name in chosen)


def _holiday_text(holiday: Holiday) -> str:
    start = start_words(holiday.start)
    return f"{start} for {holiday.days}" if holiday.days > 1 else start


# -------------------------------------------------------------------------------------------------------- keyings


def keyings_page(unit: Unit, words: Words) -> dict[str, Any]:
    """The sets of entries that stand in the unit in turn, with what each changes."""
    plan = unit.plan
    rows = []
    for tab in keying_tabs(plan, 0):
        entries = plan.unit.sets[tab.number]
        before = plan.unit.sets[tab.number - 1] if tab.number else ()
        rows.append(
            {
                "tab": tab,
                "lines": _lines(plan, entries, words),
                "changes": changes(before, entries, words) if tab.number else (),
            }
        )
    return {"unit": unit, "rows": rows}


# ------------------------------------------------------------------------------------------------------- hand-over


def setting_text(setting: Setting) -> str:
    """A mode or an override in words."""
    match setting:
        case Mode():
            return {"auto": "automatic", "auto-on": "automatic, on now", "auto-off": "automatic, off now"}.get(
                setting.word, f"{setting.word} by hand"
            )
        case Boost():
            return f"boost {duration_text(setting.minutes * 60)}"
        case Countdown():
            return f"countdown {duration_text(setting.minutes * 60)}, then {'on' if setting.then_on else 'off'}"
        case Away():
            return f"away {count(setting.days, 'day')}"
    raise ValueError(setting)


def handover_page(unit: Unit, words: Words) -> dict[str, Any]:
    """The moment of leaving: state, mode, next switchings, what each mode would mean, test and warnings."""
    plan, instant = unit.plan, now_instant()
    leaving = handover(plan, instant)
    kind = unit.core_kind
    rows = [
        {
            "name": channel.name,
            "state": "ON" if channel.wanted else "OFF",
            "leave": MODE_TEXT[channel.leave_in],
            "next": [(_when(plan, s.instant, words), "ON" if s.on else "OFF", s.slot) for s in channel.next],
            "prospects": [_prospect(plan, prospect, words) for prospect in means],
        }
        for channel, means in zip(leaving, prospects(plan, instant), strict=True)
    ]
    return {
        "unit": unit,
        "now": _when(plan, instant, words),
        "rows": rows,
        "test": test_sequence(plan, leaving),
        "warnings": warnings(
            plan,
            leaving,
            cover_switches=kind is None or kind.cover_switches,
            has_random=kind is not None
            and kind.modes is not None
            and any(mode.means == "random" for mode in kind.modes.cycle),
        ),
    }


def _when(plan: Plan, instant: int, words: Words) -> str:
    digits = local_digits(plan, instant)
    pulsing = any(entry.ends_itself for entry in plan.unit.all_entries)
    shown = words.clock(digits % DAY_S) if pulsing else words.minute(digits % DAY_S)
    return f"{weekday_date(digits // DAY_S)} {shown}"


def _prospect(plan: Plan, prospect: Prospect, words: Words) -> dict[str, str]:
    now = "on" if prospect.on else "off"
    if prospect.until is None:
        text = f"stays {now}"
    else:
        by = f"slot {prospect.slot}" if prospect.slot else "the timer"
        text = f"{now} until {_when(plan, prospect.until, words)}, {by}"
    return {"mode": capital(setting_text(prospect.setting)), "text": text}
