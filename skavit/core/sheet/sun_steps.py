"""Steps that set the sun: the place, the check of today's sun times, the correction."""

from itertools import pairwise

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds.fields import hour_text
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.place import place_values, sun_shown
from skavit.core.plan.sun_settings import Adjust
from skavit.core.sheet.occasion import Occasion
from skavit.core.sheet.setting_up import date_words, pressed
from skavit.core.sheet.step import Display, DisplayRow, Step, keyed


def place(occasion: Occasion) -> list[Step]:
    """Where the unit is told to be; left out where no entry takes the sun."""
    kind = occasion.kind
    if kind is None or kind.sun.place == "none" or not occasion.uses_sun:
        return []
    values, say = place_values(kind, occasion.plan.site, occasion.plan.unit.sun, occasion.day.year)
    step = Step(
        kind="place",
        title="Place",
        say=say,
        display=Display(rows=tuple(DisplayRow(word=name, value=value) for name, value in values.items())),
    )
    step = pressed(step, kind, "place", values)
    return [keyed(step, values)]


def suncheck(occasion: Occasion) -> list[Step]:
    """What the unit must show for today's sun by its own table."""
    if occasion.kind is None or occasion.kind.place_dialogue is None or not occasion.uses_sun:
        return []
    times = own_sun(occasion, occasion.kind)
    if times is None:
        return []
    sun, words = occasion.kind.sun, occasion.words
    rows = tuple(
        DisplayRow(word=word, value=words.minute(digits % DAY_S))
        for word, digits in zip((sun.morning_word, sun.evening_word), times, strict=True)
    )
    step = Step(
        kind="suncheck",
        title="Sun check",
        say="Ask it for today's sun times. More than two minutes off: look at place, date and zone again.",
        display=Display(rows=rows),
    )
    return [keyed(step, occasion.day.isoformat(), [row.value for row in rows])]


def own_sun(occasion: Occasion, kind: Kind) -> tuple[int, int] | None:
    """The digits of the unit's own morning and evening event today, without correction; None in polar times."""
    plan = occasion.plan
    first, last = sun_shown(kind, plan.site, plan.unit.sun, occasion.unit_clock, occasion.digits // DAY_S)
    return None if first is None or last is None else (first, last)


def correction(occasion: Occasion) -> list[Step]:
    """The correction, as plus or minus minutes or as today's corrected clock time, for the unit or each channel."""
    kind = occasion.kind
    if kind is None or kind.correction_dialogue is None or not occasion.uses_sun:
        return []
    adjusts = [occasion.plan.adjust_of(number) for number in range(1, len(occasion.plan.channels) + 1)]
    if kind.sun.per_channel:
        return [_correction(occasion, kind, adjust, number) for number, adjust in enumerate(adjusts, start=1)]
    if any(one != other for one, other in pairwise(adjusts)):
        wrong = f"{kind.name}: one correction for all channels, and the plan has several"
        return [Step(kind="correction", title="Correction", say="The channels' corrections differ.", refused=wrong)]
    return [_correction(occasion, kind, adjusts[0], None)]


def _correction(occasion: Occasion, kind: Kind, adjust: Adjust, channel: int | None) -> Step:
    values = {"channel": str(channel)} if channel else {}
    sun, margin = kind.sun, kind.margin_min
    # What is keyed takes its margin off, so that its words stand for sunrise and sunset as the plan has them.
    keyed_min = (adjust.sunrise_min + margin, adjust.sunset_min - margin)
    if sun.offset == "clock-time":
        times = own_sun(occasion, kind)
        if times is None:
            wrong = f"{kind.name}: no sun time today that a correction could be keyed by"
            return Step(kind="correction", title="Correction", say="The sun does not rise or set today.", refused=wrong)
        shown = []
        for digits, minutes, name in zip(times, keyed_min, ("rise", "set"), strict=True):
            seconds = (round(digits / 60) + minutes) * 60 % DAY_S
            values |= {f"{name}_hour": hour_text(kind, seconds // 3600), f"{name}_minute": f"{seconds // 60 % 60:02d}"}
            shown.append(occasion.words.clock(seconds))
        say = f"Key today's corrected times: they hold for {date_words(occasion.digits)} only. Another day, print anew."
    else:
        for name, minutes in zip(("rise_min", "set_min"), keyed_min, strict=True):
            values[name] = f"{minutes:+d}" if minutes else "0"
        shown = [f"{values['rise_min']} min", f"{values['set_min']} min"]
        say = "Plus is later, minus is earlier." if any(keyed_min) else "No correction: both must read 0."
        if margin:
            say += f" {sun.morning_word} and {sun.evening_word} lie {margin} min outside the day by themselves: this takes that off."
    name = f"{occasion.plan.channels[channel - 1].name}, " if channel else ""
    step = Step(
        kind="correction",
        title=f"{name}correction" if name else "Correction",
        say=say,
        display=Display(
            rows=tuple(
                DisplayRow(word=word, value=value)
                for word, value in zip((sun.morning_word, sun.evening_word), shown, strict=True)
            )
        ),
    )
    step = pressed(step, kind, "correction", values)
    return keyed(step, values)
