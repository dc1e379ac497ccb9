"""The steps before the entries: what is set before mounting, the unit as found, reset, clock, rule, place and sun."""

from dataclasses import replace
from datetime import date

import numpy as np

from skavit.core.ground.arrays import DAY_S, YEAR_DAYS
from skavit.core.ground.errors import UserError
from skavit.core.kinds.daylight import law_of, lawful_name
from skavit.core.kinds.fields import OWN_SHORT, hour_text, keying, unsaid_fields
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.parts import Dialogue, Press
from skavit.core.plan.clock_settings import ByHand, NamedRule
from skavit.core.plan.document import CHANNEL_MODES, OPERATING
from skavit.core.plan.times import day_of, sun_time_of
from skavit.core.sheet.occasion import Occasion, is_foreign
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed, unknown
from skavit.core.site.clock import standard_offset_s
from skavit.core.site.clock_check import Change, clock_changes
from skavit.core.site.lawful import YEARS_AHEAD
from skavit.core.text.wording import (
    FULL_DAYS,
    MONTHS,
    SHORT_DAYS,
    ahead_text,
    capital,
    count,
    duration_text,
    rule_text,
    unit_rule_text,
)

CHANNEL_TEXT = {"independent": "each by its own entries", "together": "all together", "pulse": "in pulses"}


def before(occasion: Occasion) -> list[Step]:
    """What is set before the unit is mounted."""
    settings = occasion.kind.before if occasion.kind else ()
    return [
        keyed(
            Step(kind="before", title="Before mounting", say=setting.what, caution=setting.caution),
            setting.what,
        )
        for setting in settings
    ]


def found(occasion: Occasion) -> list[Step]:
    """The unit as found, written down before anything is wiped."""
    held = occasion.plan.trade.held
    say = (
        f"Before anything is reset, write down or photograph the clock, the mode and every {held} that the unit holds."
    )
    wiped = occasion.kind is not None and occasion.kind.reset is not None
    step = Step(
        kind="found",
        title="As found",
        say=say if wiped else f"{say} Then clear all {held}s.",
        caution="Mains inside the box: opening it is for licensed people, by the local code."
        if _mains(occasion)
        else "",
    )
    return [keyed(step, wiped)]


def _mains(occasion: Occasion) -> bool:
    """Whether there may be mains in the box: a kind of its own cells says so by naming none."""
    settings = occasion.kind.before if occasion.kind else ()
    return occasion.kind is None or any("mains" in f"{s.what} {s.caution}".lower() for s in settings)


def power(occasion: Occasion) -> list[Step]:
    """What keeps the clock, and how long it takes to be believed."""
    if occasion.kind is None:
        return []
    has = occasion.kind.power
    parts = [f"Clock kept by: {has.battery}."] if has.battery else []
    parts += [f"Charge it {duration_text(has.charge_h * 3600)} before its reserve counts."] if has.charge_h else []
    parts += [f"Keeps the clock {duration_text(has.reserve_h * 3600)}."] if has.reserve_h else []
    parts += [f"Believe its indicator after {has.settle_min} min."] if has.settle_min else []
    if not parts:
        return []
    return [keyed(Step(kind="power", title="Battery and reserve", say=" ".join(parts)), parts)]


def reset(occasion: Occasion) -> list[Step]:
    """Wiping everything, and what the display shows after it."""
    if occasion.kind is None or occasion.kind.reset is None:
        return []
    wipe = occasion.kind.reset
    held = f" {count(wipe.held_slots, 'slot')} then hold something already." if wipe.held_slots else ""
    step = Step(
        kind="reset",
        title="Reset",
        say=f"This wipes everything that it holds: only once that is written down.{held}",
        presses=wipe.press,
        display=Display(rows=(DisplayRow(word="", value=wipe.shows),)),
    )
    return [keyed(step, wipe.shows)]


def clock(occasion: Occasion) -> list[Step]:
    """Time, and the weekday where the unit knows no date."""
    day, kind = occasion.day, occasion.kind
    rule = unit_rule_text(occasion.plan.unit.clock.dst, occasion.words, by_hand=kind is not None and kind.moved_by_hand)
    if kind is None:
        say = (
            f"Set the year {day.year}, then the date, then the time. {_weekday_says(day)} Look at AM and PM. "
            f"{capital(occasion.words.summer)}: {rule}."
        )
    elif kind.clock.has_date:
        say = "Look at AM and PM." if kind.clock.hours == 12 else "24 hours: 12:00 is noon, 00:00 midnight."
    else:
        say = f"It knows no date: set {FULL_DAYS[day.weekday()]} by hand. {capital(occasion.words.summer)}: {rule}."
    if kind is not None and kind.clock.hours_switch:
        say += f" 12 or 24 hours: {kind.clock.hours_switch}."
    say += _true_time(occasion)
    seconds = occasion.digits % DAY_S
    values = {
        "hour": hour_text(kind, seconds // 3600) if kind else "",
        "minute": f"{seconds // 60 % 60:02d}",
        "second": "00",
        "weekday": OWN_SHORT[day.weekday()],
    }
    step = Step(
        kind="clock",
        title="Clock and date" if kind is None else "Clock",
        say=say,
        display=Display(
            rows=(DisplayRow(word=date_words(occasion.digits), value=occasion.words.minute(seconds // 60 * 60)),),
            weekdays=tuple((name, i == day.weekday()) for i, name in enumerate(OWN_SHORT)),
        ),
    )
    step = pressed(step, kind, "clock", values)
    return [keyed(step, occasion.plan.unit.clock.to_json(), day.isoformat())]


def _true_time(occasion: Occasion) -> str:
    """What the law's clock shows, where the unit's is to show another time."""
    true = int(occasion.year.site_clock.digits(np.array([occasion.instant]))[0])
    if abs(true - occasion.digits) < 60:
        return ""
    way = ahead_text(occasion.digits - true)
    return f" By its own rule it is {way} now: the true time here is another."


def date_(occasion: Occasion) -> list[Step]:
    """The date, and the weekday that the unit must then show."""
    kind, day = occasion.kind, occasion.day
    if kind is None or not kind.clock.has_date:
        return []
    values = {"year": str(day.year), "month": str(day.month), "day": str(day.day)}
    step = Step(
        kind="date",
        title="Date",
        say=f"Year first, then month and day. {_weekday_says(day)}",
        display=Display(
            rows=(DisplayRow(word=str(day.year), value=f"{day.day} {MONTHS[day.month - 1]}"),),
            weekdays=tuple((name, i == day.weekday()) for i, name in enumerate(OWN_SHORT)),
        ),
    )
    step = pressed(step, kind, "date", values)
    return [keyed(step, day.isoformat())]


def _weekday_says(day: date) -> str:
    return f"The unit must then show {FULL_DAYS[day.weekday()]}: another weekday means a wrong date or year."


def date_words(digits: int) -> str:
    """Digits as weekday and date: what the unit must show for it."""
    day = day_of(digits // DAY_S)
    return f"{SHORT_DAYS[day.weekday()]} {day.day} {MONTHS[day.month - 1]} {day.year}"


def rule(occasion: Occasion) -> list[Step]:
    """The daylight-saving rule as this kind takes it."""
    kind = occasion.kind
    if kind is None or (kind.rule_dialogue is None and (len(kind.clock.rules) < 2 or not kind.keys)):
        return []
    values, say = _rule_values(occasion, kind)
    name = values["rule"]
    rows = [DisplayRow(word="rule", value=name)]
    if name == "own":
        rows += [
            DisplayRow(
                word=word, value=MONTHS[int(values[f"{word}_month"]) - 1], detail=f"week {values[f'{word}_week']}"
            )
            for word in ("from", "to")
        ]
    step = Step(
        kind="rule",
        title=capital(occasion.words.summer),
        say=say,
        display=Display(rows=tuple(rows)),
    )
    step = pressed(step, kind, "rule", values)
    return [keyed(step, values, say)]


def _rule_values(occasion: Occasion, kind: Kind) -> tuple[dict[str, str], str]:
    """What is keyed as the rule, and what to say of it."""
    wanted, zone, year = occasion.plan.unit.clock.dst, occasion.plan.site.timezone, occasion.day.year
    foreign = is_foreign(occasion.plan, occasion.instant)
    if isinstance(wanted, ByHand):
        return {"rule": _nothing(kind)}, "Moved by hand: leave its own rule off."
    if isinstance(wanted, NamedRule) and wanted.name in kind.clock.rules and not foreign:
        return {"rule": wanted.name}, f"{capital(rule_text(wanted, occasion.words))}."
    name = lawful_name(kind, zone, year) if wanted != NamedRule("none") else None
    if name == "own" and (own := law_of(zone, year)):
        values = {"rule": "own"}
        for word, change in (("from", own.start), ("to", own.end)):
            values |= {
                f"{word}_month": str(change.month),
                f"{word}_week": "last" if change.week == 5 else str(change.week),
            }
        return values, "A rule of its own, on Sundays: the law here has no name in this unit."
    if name:
        until = year + YEARS_AHEAD - 1
        return {"rule": name}, f"The law here is {rule_text(NamedRule(name), occasion.words)}, until at least {until}."
    when = "; ".join(_law_changes(occasion)) or "the law here changes no clock"
    return {"rule": _nothing(kind)}, f"This unit knows no rule that is the law here. Move it by hand: {when}."


def _law_changes(occasion: Occasion) -> list[str]:
    """The next two clock changes at the site, in words; none where the law has none within a year."""
    clock = occasion.year.site_clock
    coming = clock_changes(clock, occasion.instant, occasion.instant + YEAR_DAYS * DAY_S)[:2]
    return [_change_words(occasion, change) for change in coming]


def _change_words(occasion: Occasion, change: Change) -> str:
    """Such as on Sun 4 Apr 2027 at 03:00 back by 1 h."""
    at = f"on {date_words(change.digits)} at {occasion.words.minute(change.digits % DAY_S)}"
    return f"{at} {'on' if change.by_s > 0 else 'back'} by {duration_text(abs(change.by_s))}"


def summer(occasion: Occasion) -> list[Step]:
    """Summer time moved by hand: whether it is on now, and the dates on which somebody must come."""
    kind, dst = occasion.kind, occasion.plan.unit.clock.dst
    if kind is None or not (kind.moved_by_hand or isinstance(dst, ByHand)):
        return []
    if dst == NamedRule("zone") or is_foreign(occasion.plan, occasion.instant):
        coming = _law_changes(occasion)
    else:
        until = occasion.instant + YEAR_DAYS * DAY_S
        own = clock_changes(occasion.unit_clock.right, occasion.instant, until)[:2]
        coming = [_change_words(occasion, change) for change in own]
    standard = standard_offset_s(occasion.plan.site.timezone, occasion.day.year)
    is_on = occasion.digits - occasion.instant > standard
    say = f"{capital(occasion.words.summer)} is {'on' if is_on else 'off'} now{': the display must show so' if kind.summer else ''}. "
    say += f"It knows no rule. Move it {', and '.join(coming)}." if coming else "Nobody moves it within a year."
    step = Step(kind="summer", title=f"{capital(occasion.words.summer)} by hand", say=say, presses=kind.summer)
    return [keyed(step, is_on, coming)]


def channels(occasion: Occasion) -> list[Step]:
    """How its channels switch, where it asks for that when it is first powered."""
    kind, mode = occasion.kind, occasion.plan.unit.channel_mode
    if kind is None or kind.channels_dialogue is None:
        return []
    place = CHANNEL_MODES.index(mode)
    step = Step(
        kind="channels",
        title="Channels",
        say="It asks for this when it is first powered, and after a reset.",
        caution="Changing it later may wipe the entries.",
    )
    if place >= len(kind.channel_modes):
        return [replace(step, refused=f"{kind.name}: it has no way to switch its channels {CHANNEL_TEXT[mode]}")]
    word = kind.channel_modes[place]
    step = replace(step, display=Display(rows=(DisplayRow(word="channels", value=word),)))
    return [keyed(pressed(step, kind, "channels", {"channel_mode": word}), word)]


def _nothing(kind: Kind) -> str:
    return "none" if "none" in kind.clock.rules else kind.clock.rules[0]


def operating(occasion: Occasion) -> list[Step]:
    """The operating mode, where a unit has some that exclude one another."""
    kind = occasion.kind
    if kind is None or kind.operating_dialogue is None:
        return []
    by_light = {on: [bool(sun_time_of(e.at)) for e in occasion.plan.unit.entries if e.on is on] for on in (True, False)}
    chosen = OPERATING.index(occasion.plan.unit.operating) - 1
    if 0 <= chosen < len(kind.operating):
        mode = kind.operating[chosen]
    elif not occasion.plan.unit.entries:
        mode = kind.operating[0]
    elif all(by_light[True]) and all(by_light[False]):
        mode = kind.operating[1]
    else:
        mode = kind.operating[2 if any(by_light[True]) else 3]
    step = Step(
        kind="operating",
        title="Operating mode",
        say="Before the entries: a change of this mode may wipe them.",
        display=Display(rows=(DisplayRow(word="mode", value=mode),)),
    )
    step = pressed(step, kind, "operating", {"operating": mode})
    return [keyed(step, mode)]


def pressed(step: Step, kind: Kind | None, name: str, values: dict[str, str]) -> Step:
    """The step with the presses and the sign of a dialogue; as it is where the kind has none."""
    dialogue: Dialogue | None = dict(kind.dialogues()).get(name) if kind else None
    if kind is None or not kind.keys:
        return step
    if dialogue is None:
        return unknown(step, "this kind names none for it")
    step = replace(step, sets=(name, (tuple(values.items()),)))
    if unsaid := unsaid_fields(kind, name, values):
        return unknown(step, f"they do not say the {unsaid[0]}")
    leave = (Press(keys=(dialogue.leave,)),) if dialogue.leave else ()
    try:
        presses = keying(kind, name, values)
    except UserError as error:
        return replace(step, refused=str(error))
    return replace(step, presses=(*dialogue.enter, *presses, *leave), sign=dialogue.sign)


def by_rows(step: Step, kind: Kind | None, name: str, rows: list[dict[str, str]]) -> Step:
    """The step with the presses of a dialogue that is gone through once for each of ``rows``."""
    if kind is None or not rows:
        return step
    found = [pressed(step, kind, name, row) for row in rows]
    without = next((each for each in found if each.refused or each.unknown), None)
    if without is not None:
        return without
    texts = tuple(tuple(row.items()) for row in rows)
    return replace(found[0], presses=tuple(press for each in found for press in each.presses), sets=(name, texts))
