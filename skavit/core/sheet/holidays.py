"""The steps for what is beside the entries: the unit's holidays, and what the kind's sheet has no step for."""

from dataclasses import replace
from datetime import date, timedelta

from skavit.core.kinds.fields import EVERY_YEAR, NO_HOLIDAY, fields_of
from skavit.core.kinds.kind import Kind
from skavit.core.plan.days import Holiday, Once, Yearly
from skavit.core.plan.sun_settings import NO_ADJUST
from skavit.core.plan.times import day_of
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.setting_up import CHANNEL_TEXT, pressed
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed, unknown
from skavit.core.text.wording import MONTHS, count, start_words

# A year without 29 February, by which days of every year are counted.
_ANY_YEAR = 2027


def holidays(occasion: Occasion) -> list[Step]:
    """A step for each holiday; one for all where no kind says how they are keyed."""
    held, kind = occasion.plan.unit.holidays, occasion.kind
    if kind is not None and kind.holidays_dialogue is not None:
        found = [_holiday(kind, number, holiday) for number, holiday in enumerate(held, start=1)]
        before = len(occasion.was.unit.holidays) if occasion.was else 0
        freed = occasion.left_over(len(held), before, kind.limits.holidays or 0)
        return [*found, *(_no_holiday(kind, number) for number in freed)]
    if not held or kind is not None:
        return []
    told = "; ".join(holiday_text(holiday) for holiday in held)
    step = Step(kind="holidays", title=f"Holidays, {len(held)}", say=f"On these dates no entry acts: {told}.")
    return [keyed(step, [holiday.to_json() for holiday in held])]


def holiday_text(holiday: Holiday) -> str:
    """Such as 25 Dec, 2 days."""
    return start_words(holiday.start) + (f", {count(holiday.days, 'day')}" if holiday.days > 1 else "")


def _holiday(kind: Kind, number: int, holiday: Holiday) -> Step:
    match holiday.start:
        case Once(day):
            first = day_of(day)
        case Yearly(month_day):
            leap = 2028 if month_day == 229 else _ANY_YEAR
            first = date(leap, month_day // 100, month_day % 100)
    last = first + timedelta(days=holiday.days - 1)
    asked = fields_of(kind, "holidays")
    once = isinstance(holiday.start, Once)
    by_year = "year" in asked
    values = {"holiday": str(number)} if "holiday" in asked else {}
    values |= {"year": str(first.year) if once else EVERY_YEAR} if by_year else {}
    values |= {"from_month": str(first.month), "from_day": str(first.day)}
    values |= {"to_month": str(last.month), "to_day": str(last.day)}
    say = f"No entry acts: {holiday_text(holiday)}."
    if once and not by_year:
        say += " It knows no year: it comes back each year, until it is removed."
    rows = [
        DisplayRow(word=word, value=f"{day.day} {MONTHS[day.month - 1]}")
        for word, day in (("from", first), ("to", last))
    ]
    if by_year:
        rows = [DisplayRow(word="year", value=values["year"]), *rows]
    step = Step(kind="holidays", title=f"Holiday {number}", say=say, display=Display(rows=tuple(rows)))
    return keyed(pressed(step, kind, "holidays", values), number, holiday.to_json())


def _no_holiday(kind: Kind, number: int) -> Step:
    """The step that takes a holiday out of the unit."""
    title = f"Holiday {number}: none"
    step = Step(kind="holidays", title=title, say="Take it out: the plan has no such holiday any more.")
    if not fields_of(kind, "holidays") >= {"holiday", "year"}:
        return keyed(unknown(step, "they only add holidays"), number, None)
    shown = Display(rows=(DisplayRow(word="year", value=NO_HOLIDAY),))
    step = pressed(step, kind, "holidays", {"holiday": str(number), "year": NO_HOLIDAY})
    return keyed(replace(step, display=shown), number, None)


def unheld(occasion: Occasion) -> list[Step]:
    """A step that is never done for each thing in the plan that the kind's sheet has no step for."""
    kind, unit = occasion.kind, occasion.plan.unit
    if kind is None:
        return []
    found = []
    if unit.holidays and kind.holidays_dialogue is None:
        found.append(f"{count(len(unit.holidays), 'holiday')}")
    if unit.channel_mode != "independent" and kind.channels_dialogue is None:
        found.append(f"channels that switch {CHANNEL_TEXT[unit.channel_mode]}")
    adjusts = [occasion.plan.adjust_of(number) for number in range(1, len(occasion.plan.channels) + 1)]
    margin_stays = kind.margin_min > 0 and kind.sun.offset != "entry"
    corrected = margin_stays or any(adjust != NO_ADJUST for adjust in adjusts)
    if occasion.uses_sun and kind.correction_dialogue is None and corrected:
        found.append("a correction of its sun times")
    return [
        Step(
            kind="unheld",
            title="Not on this sheet",
            say=f"The plan has {what}.",
            refused=f"{kind.name}: it has no keys for that. Take it out of the plan, or give a copy of the kind its keys",
        )
        for what in found
    ]
