"""Switches in a socket and in place of a light switch."""

from dataclasses import replace

from skavit.core.kinds.kind import Kind
from skavit.core.kinds.library.parts import (
    MAINS,
    ON_AUTO_OFF,
    REGIONS,
    USUAL_GROUPS,
    WAITING_CYCLE,
    in_a_row,
    keyed,
    press,
)
from skavit.core.kinds.parts import ClockSetting, Mode, Modes, Power, Preset, Reset, Setting, SlotShape, SunKnowledge
from skavit.core.plan.limits import Limits

PLUG_IN = Kind(
    name="Plug-in weekly switch",
    says="Sits in a socket; an ON and an OFF in a slot, a key for each value, daylight saving by hand.",
    keys=("clock", "hour", "min", "day", "off hour", "off min", "prog", "next", "clear", "mode", "reset", "summer"),
    clock=ClockSetting(hours=12, hours_switch="clock held with summer for 3 s", has_date=False, rules=("by-hand",)),
    limits=Limits(entries=16, day_groups=USUAL_GROUPS, clock_step_s=60, sun_events=()),
    slot=SlotShape(shape="pair", next="next", cleared_by="key", clear=(press("clear"),)),
    before=(Setting(what="Indoors only, and no more load than its label says."),),
    power=Power(reserve_h=100, battery="rechargeable, built in", charge_h=12, settle_min=5),
    reset=Reset(press=(press("reset", hold_s=1),), shows="Mo 12:00 AM"),
    summer=(press("summer"),),
    modes=Modes(key="mode", cycle=WAITING_CYCLE, returns="waits"),
    clock_dialogue=keyed(press("clock", hold_s=3), "clock", "the colon runs", weekday="day", hour="hour", minute="min"),
    slot_dialogue=keyed(
        press("prog"),
        "prog",
        "the slot number stands still",
        "mode",
        on_hour="hour",
        on_minute="min",
        days="day",
        off_hour="off hour",
        off_minute="off min",
    ),
)
WEEKLY = Kind(
    name="Wall switch, weekly",
    says="In place of a light switch; entries by the clock alone, cleared by taking every day away.",
    keys=("set", "plus", "next", "onoff", "mode"),
    clock=ClockSetting(hours=12, rules=("none", "us", "eu")),
    limits=Limits(entries=14, day_groups=USUAL_GROUPS, clock_step_s=60, sun_events=()),
    slot=SlotShape(next="next", cleared_by="no-days"),
    before=(Setting(what="It needs a neutral in the box.", caution=MAINS),),
    power=Power(reserve_h=48, battery="capacitor", charge_h=1, settle_min=10),
    modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="MAN", means="off"))),
    clock_dialogue=in_a_row(1, "hour", "minute"),
    date_dialogue=in_a_row(2, "year", "month", "day"),
    rule_dialogue=in_a_row(3, "rule"),
    slot_dialogue=in_a_row(4, "action", "hour", "minute", "days"),
    cover_switches=True,
)
ASTRONOMIC = Kind(
    name="Wall switch, astronomic",
    says="In place of a light switch; coordinates in whole degrees, a new entry begins as sunset.",
    keys=("set", "plus", "next", "onoff", "mode"),
    clock=ClockSetting(hours=12, hours_switch="plus held while it starts", rules=("none", "us", "eu", "own")),
    sun=SunKnowledge(
        meaning="margin",
        margin_min=15,
        morning_word="DAWN",
        evening_word="DUSK",
        place="coordinates",
        step_deg=1.0,
        offset="minutes",
    ),
    limits=Limits(entries=20, day_groups=USUAL_GROUPS, clock_step_s=60, sun_offset_max_min=60, offset_by="correction"),
    slot=SlotShape(
        next="next",
        cleared_by="past-last-hour",
        begins=(Preset(field="event", reads="DUSK"), Preset(field="days", reads="Mo Tu We Th Fr Sa Su")),
    ),
    before=(Setting(what="It needs a neutral in the box.", caution=MAINS),),
    power=Power(reserve_h=72, battery="capacitor", charge_h=1, settle_min=10),
    reset=Reset(
        press=(press("set", "onoff", hold_s=6),),
        shows="12:00 AM, entry 1 on at DUSK",
        held_slots=2,
        holds=(Preset(field="event", reads="DUSK"), Preset(field="days", reads="Mo Tu We Th Fr Sa Su")),
    ),
    modes=Modes(
        key="mode", cycle=(Mode(word="AUTO"), Mode(word="MAN", means="off"), Mode(word="RAND", means="random"))
    ),
    clock_dialogue=in_a_row(1, "hour", "minute"),
    date_dialogue=in_a_row(2, "year", "month", "day"),
    rule_dialogue=in_a_row(3, "rule", "from_month", "from_week", "to_month", "to_week"),
    place_dialogue=in_a_row(4, "latitude", "longitude", "utc"),
    correction_dialogue=in_a_row(5, "rise_min", "set_min"),
    slot_dialogue=in_a_row(6, "action", "event", "hour", "minute", "days"),
    dark_after_s=30,
)
WALL_BY_REGION = replace(
    WEEKLY,
    name="Wall switch, by region",
    says="In place of a light switch; picks a region from a list, and no offset.",
    sun=SunKnowledge(place="region", regions=REGIONS),
    limits=Limits(entries=14, day_groups=USUAL_GROUPS, clock_step_s=60, sun_offset_max_min=0),
    place_dialogue=in_a_row(4, "region"),
    slot_dialogue=in_a_row(5, "action", "event", "hour", "minute", "days"),
    cover_switches=False,
)
PLUG_IN_BY_ZONE = Kind(
    name="Plug-in switch, astronomic, by zone",
    says="Sits in a socket; a table of latitudes, a correction in minutes, an ON or an OFF in a slot.",
    keys=("set", "plus", "next", "clear", "mode"),
    clock=ClockSetting(rules=("none", "us", "eu", "own")),
    sun=SunKnowledge(
        place="table",
        latitudes=tuple(float(latitude) for latitude in (*range(-45, -29, 5), *range(30, 66, 5))),
        offset="minutes",
    ),
    limits=Limits(entries=20, day_groups=USUAL_GROUPS, clock_step_s=60, sun_offset_max_min=90, offset_by="correction"),
    slot=SlotShape(next="next", clear=(press("clear"),)),
    before=(Setting(what="Indoors only, and no more load than its label says."),),
    power=Power(reserve_h=100, battery="rechargeable, built in", charge_h=12, settle_min=5),
    modes=Modes(key="mode", cycle=ON_AUTO_OFF),
    clock_dialogue=in_a_row(1, "hour", "minute"),
    date_dialogue=in_a_row(2, "year", "month", "day"),
    rule_dialogue=in_a_row(3, "rule", "from_month", "from_week", "to_month", "to_week"),
    place_dialogue=in_a_row(4, "table"),
    correction_dialogue=in_a_row(5, "rise_min", "set_min"),
    slot_dialogue=in_a_row(6, "action", "event", "hour", "minute", "days"),
)
WALL_SWITCHES = (PLUG_IN, PLUG_IN_BY_ZONE, WEEKLY, ASTRONOMIC, WALL_BY_REGION)
