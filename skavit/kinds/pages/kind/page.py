"""What a kind can do, in words."""

from typing import Any

from skavit.core.kinds import Kind as CoreKind
from skavit.core.kinds.heating import Heating
from skavit.core.kinds.watering import Watering
from skavit.core.plan.days import Weekdays
from skavit.core.text.wording import RULE_TEXT, capital, count, days_text, duration_text
from skavit.kinds.words import (
    ANCHOR_TEXT,
    BUSY_TEXT,
    DAY_RULE_TEXT,
    HAND_TEXT,
    HOLIDAY_TEXT,
    OFFSET_TEXT,
    PLACE_TEXT,
    SECTION_TEXT,
    UNUSED_TEXT,
)


def kind_page(kind: CoreKind) -> dict[str, Any]:
    """What a kind can do, in words."""
    clock, sun, limits = kind.clock, kind.sun, kind.limits
    if kind.watering is not None:
        return _watering_page(kind, kind.watering)
    if kind.heating is not None:
        return _heating_page(kind, kind.heating)
    held = [] if kind.slots is None else [count(kind.slots, "slot")]
    held += [
        {"single": "one entry a slot", "pair": "an ON and an OFF a slot", "run": "a start and a run a slot"}[
            kind.slot.shape
        ]
    ]
    if limits.clock_step_s:
        held.append(f"to {duration_text(limits.clock_step_s)}")
    facts = [
        ("Outputs", str(kind.channels)),
        ("Memory", ", ".join(held)),
        ("Clock", f"{clock.hours} hours, {'with date' if clock.has_date else 'weekday only'}"),
        ("Daylight saving", capital(", ".join(RULE_TEXT[rule] for rule in clock.rules)) + "."),
        ("Place", "a photocell" if sun.meaning == "light" else PLACE_TEXT[sun.place]),
    ]
    if sun.place != "none":
        facts += [
            ("Its sun words", f"“{sun.morning_word}”, “{sun.evening_word}”: {_meaning(kind)}"),
            ("Offset", f"{OFFSET_TEXT[sun.offset]}{', each channel its own' if sun.per_channel else ''}"),
        ]
    facts += _common(kind)
    order = [SECTION_TEXT[section] for section in kind.order]
    return {"kind": kind, "facts": facts, "order": [capital(text) for text in order]}


def _common(kind: CoreKind) -> list[tuple[str, str]]:
    """What is told of every kind: power, modes, cover and screen."""
    facts: list[tuple[str, str]] = []
    power = kind.power
    facts += [("Clock kept by", power.battery)] if power.battery else []
    facts += [("Keeps the clock", duration_text(power.reserve_h * 3600))] if power.reserve_h else []
    if kind.modes:
        facts.append(("Mode key", " → ".join(mode.word for mode in kind.modes.cycle)))
        back = (
            "goes to what its program has"
            if kind.modes.returns == "computes"
            else "keeps its output until the next entry"
        )
        facts.append(("Back in automatic it", back))
    facts += [(capital(HAND_TEXT[hand.does]), hand.says) for hand in kind.hand_keys]
    facts += [("Shutting its cover", "can switch the output")] if kind.cover_switches else []
    facts += [("Screen", f"dark after {duration_text(kind.dark_after_s)}")] if kind.dark_after_s else []
    return facts


def _watering_page(kind: CoreKind, has: Watering) -> dict[str, Any]:
    """What a kind that waters can do, in words."""
    limits = has.plan_limits
    programs = "each station its own starts" if has.starts_for == "station" else "a program's stations share its starts"
    starts = "" if limits.starts is None else f", {count(limits.starts, 'start')} each"
    facts = [
        ("Stations", str(has.stations)),
        ("Programs", f"{'any number' if limits.programs is None else limits.programs}{starts}: {programs}"),
        (
            "Run time",
            f"up to {duration_text((limits.run_max_min or 0) * 60)}, {'one for each start' if has.runs_for == 'each start' else 'one for all starts'}",
        ),
        ("Days", ", ".join(DAY_RULE_TEXT[rule] for rule in limits.days or ("any",))),
        ("Interval days count", ANCHOR_TEXT[has.anchor]),
        ("A start that comes while it runs", BUSY_TEXT[has.when_busy]),
        (
            "Season",
            "none"
            if limits.adjust_max_pct is None
            else f"up to {limits.adjust_max_pct:g} %, {has.season_mark} then shows",
        ),
        ("Months", "a percentage each" if limits.monthly else "none"),
        ("While suspended", "stations run by hand" if has.manual_while_off else "nothing runs, not by hand either"),
        ("Clock", f"{kind.clock.hours} hours, {'with date' if kind.clock.has_date else 'weekday only'}"),
    ]
    facts += [("First asks", "one run time for all stations")] if has.default_run else []
    facts += [("Before dates or an interval", "every weekday must be taken out")] if has.weekdays_first else []
    facts += [("Master valve or pump", "asked for at set-up")] if has.master else []
    facts += [("Built-in years", ", ".join(curve.name for curve in has.curves))] if has.curves else []
    facts += _common(kind)
    order = [SECTION_TEXT[section] for section in kind.order]
    of_water = {
        SECTION_TEXT["channels"]: "stations",
        SECTION_TEXT["slots"]: "programs",
        SECTION_TEXT["holidays"]: "days off",
    }
    order = [of_water.get(text, text) for text in order]
    return {"kind": kind, "facts": facts, "order": [capital(text) for text in order]}


def _heating_page(kind: CoreKind, has: Heating) -> dict[str, Any]:
    """What a kind that holds temperatures can do, in words."""
    shown = has.degrees()
    facts = [
        ("Zones", str(has.zones)),
        ("Periods", f"{has.periods} a day" + (f": {', '.join(has.period_words)}" if has.period_words else "")),
        ("Days", ", ".join(days_text(Weekdays(mask)) for mask in sorted(kind.limits.masks(), reverse=True)[:10])),
        ("A period not used", UNUSED_TEXT[has.unused]),
        ("Degrees", f"{shown[0]:g} to {shown[-1]:g}, in steps of {has.limits.c_step or 0.5:g}"),
        ("Frost protection", f"{has.frost_c:g} °C" + (", also while off" if has.off_protects else ", not while off")),
        ("Holiday", HOLIDAY_TEXT[has.holiday] + ("; any key ends it" if has.any_key_ends else "")),
        ("Clock", f"{kind.clock.hours} hours, {'with date' if kind.clock.has_date else 'weekday only'}"),
        ("Daylight saving", capital(", ".join(RULE_TEXT[rule] for rule in kind.clock.rules)) + "."),
        *_common(kind),
    ]
    of_heat = {SECTION_TEXT["channels"]: "zones", SECTION_TEXT["slots"]: "set points"}
    order = [of_heat.get(SECTION_TEXT[section], SECTION_TEXT[section]) for section in kind.order]
    return {"kind": kind, "facts": facts, "order": [capital(text) for text in order]}


def _meaning(kind: CoreKind) -> str:
    words = {"dawn": "civil twilight", "sunrise": "the sun on the horizon"}
    return words.get(kind.sun.meaning, f"the sun with {kind.sun.margin_min} min of margin built in")
