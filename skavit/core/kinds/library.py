"""The kinds that ship: general, in the trade's words. A crew copies one and adjusts it to the manual in hand.

All keys, counts and reserves here are common practice with no source: what units of such a kind usually have.
"""

from functools import lru_cache

from skavit.core.days import NAMED, Weekdays
from skavit.core.kinds.kind import (
    ClockSetting,
    Dialogue,
    FieldKey,
    Kind,
    Mode,
    Modes,
    Power,
    Preset,
    Press,
    Region,
    Reset,
    Setting,
    SlotShape,
    SunKnowledge,
)
from skavit.core.limits import Limits

MAINS = "Mains inside: isolate, and leave wiring to licensed people, by the local code."
WEEK_FIELDS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
DAILY, WORKDAYS, WEEKENDS = (Weekdays(NAMED[name]) for name in ("daily", "weekdays", "weekends"))
USUAL_GROUPS = (DAILY, WORKDAYS, WEEKENDS, "single-days")
MANY_GROUPS = (
    *(DAILY, "single-days", WORKDAYS, WEEKENDS, Weekdays(0b0111111), Weekdays(0b0010101)),
    *(Weekdays(0b0101010), Weekdays(0b0000111), Weekdays(0b0111000)),
)
ON_AUTO_OFF = (Mode(word="ON", means="on"), Mode(word="AUTO", means="auto"), Mode(word="OFF", means="off"))
WAITING_CYCLE = (*ON_AUTO_OFF, Mode(word="AUTO", means="auto"))
# The regions that a unit sold here might list: letters, so that no town is wrong.
REGIONS = (
    Region(name="A", latitude=-36.8, longitude=174.7),
    Region(name="B", latitude=-39.5, longitude=176.5),
    Region(name="C", latitude=-41.3, longitude=174.8),
    Region(name="D", latitude=-43.5, longitude=172.6),
    Region(name="E", latitude=-45.9, longitude=170.5),
    Region(name="F", latitude=-33.9, longitude=151.2),
    Region(name="G", latitude=52.0, longitude=5.0),
    Region(name="H", latitude=69.0, longitude=19.0),
)


def _press(*keys: str, times: int = 1, hold_s: int = 0) -> Press:
    return Press(keys=keys, times=times, hold_s=hold_s)


def _turned(key: str, *fields: str) -> tuple[FieldKey, ...]:
    return tuple(FieldKey(field=field, key=key) for field in fields)


def _menu(place: int, *fields: str, leave: str = "back", sign: str = "the line shows the new value") -> Dialogue:
    """A line of a menu: down to it, then + until it reads, OK value by value."""
    down = (_press("down", times=place),) if place else ()
    return Dialogue(
        enter=(_press("menu"), *down, _press("ok")),
        fields=_turned("plus", *fields),
        accept="ok",
        each=True,
        leave=leave,
        sign=sign,
    )


def _keyed(enter: Press, accept: str, sign: str, leave: str = "", **fields: str) -> Dialogue:
    """A unit with a key a value: all accepted at once."""
    turned = tuple(FieldKey(field=field, key=key) for field, key in fields.items())
    return Dialogue(enter=(enter,), fields=turned, accept=accept, sign=sign, leave=leave)


MENU_KEYS = ("menu", "ok", "back", "plus", "down", "mode", "next", "clear", "reset")
MENU_RESET = Reset(press=(_press("menu", "ok", hold_s=5),), shows="every segment, then 00:00")
CELL = Power(reserve_h=26_000, battery="lithium cell, soldered in", settle_min=1)


def _menu_unit(name: str, says: str, **more: object) -> Kind:
    """A panel switch with a menu: what most of them have, and what this one has beside it or instead."""
    usual: dict[str, object] = {
        "name": name,
        "says": says,
        "keys": MENU_KEYS,
        "clock": ClockSetting(rules=("none", "eu", "us", "own")),
        "limits": Limits(entries=28, day_groups=MANY_GROUPS, clock_step_s=60, sun_offset_max_min=120),
        "slot": SlotShape(next="next", clear=(_press("clear", hold_s=2),)),
        "before": (Setting(what="Set the supply voltage selector to the supply.", caution=MAINS),),
        "power": CELL,
        "reset": MENU_RESET,
        "modes": Modes(key="mode", cycle=ON_AUTO_OFF),
        "clock_dialogue": _menu(0, "hour", "minute"),
        "date_dialogue": _menu(1, "year", "month", "day"),
        "rule_dialogue": _menu(2, "rule", "from_month", "from_week", "to_month", "to_week"),
        "slot_dialogue": _menu(5, "action", "event", "hour", "minute", "offset", "days"),
        "lock": (_press("back", "ok", hold_s=3),),
    }
    return Kind(**{**usual, **more})  # type: ignore[arg-type]


def _panel_switches() -> tuple[Kind, ...]:
    coordinates = _menu_unit(
        "Panel switch, one channel, by coordinates",
        "On the rail of a switchboard; takes latitude and longitude, an offset with each entry.",
        sun=SunKnowledge(place="coordinates", step_deg=1.0, offset="entry"),
        place_dialogue=_menu(3, "latitude", "longitude", "utc"),
    )
    regions = _menu_unit(
        "Panel switch, two channels, by region",
        "On the rail of a switchboard; picks a region from a list, a correction in minutes for both channels.",
        channels=2,
        sun=SunKnowledge(place="region", regions=REGIONS, offset="minutes"),
        limits=Limits(
            entries=56,
            day_groups=MANY_GROUPS,
            clock_step_s=60,
            sun_offset_max_min=120,
            offset_by="correction",
        ),
        place_dialogue=_menu(3, "region"),
        correction_dialogue=_menu(4, "rise_min", "set_min"),
        slot_dialogue=_menu(5, "channel", "action", "event", "hour", "minute", "days"),
    )
    table = _menu_unit(
        "Panel switch, two channels, by zone table",
        "On the rail of a switchboard; a table of latitudes, an offset only as today's corrected clock time.",
        channels=2,
        sun=SunKnowledge(
            place="table",
            latitudes=tuple(float(latitude) for latitude in (*range(-48, -27, 4), *range(28, 69, 4))),
            offset="clock-time",
            per_channel=True,
        ),
        limits=Limits(
            entries=42,
            day_groups=USUAL_GROUPS,
            clock_step_s=60,
            sun_offset_max_min=120,
            offset_by="correction",
        ),
        modes=Modes(key="mode", cycle=WAITING_CYCLE, returns="waits"),
        place_dialogue=_menu(3, "table"),
        correction_dialogue=_menu(4, "channel", "rise_hour", "rise_minute", "set_hour", "set_minute"),
        slot_dialogue=_menu(5, "channel", "action", "event", "hour", "minute", "days"),
        cover_switches=True,
    )
    yearly = _menu_unit(
        "Yearly relay timer",
        "On a rail, for bells, gates and plant: entries with a season, seconds, a pair of day keys for each weekday.",
        channels=2,
        limits=Limits(entries=200, clock_step_s=1, sun_events=()),
        slot=SlotShape(next="next", clear=(_press("clear", hold_s=2),)),
        slot_dialogue=_menu(
            3,
            "channel",
            "action",
            "hour",
            "minute",
            "second",
            *WEEK_FIELDS,
            "from_month",
            "from_day",
            "to_month",
            "to_day",
        ),
        before=(
            Setting(what="Set the relay jumpers before the cover goes on.", caution=MAINS),
            Setting(what="Gates and escape doors: power cuts must leave them free. Ask who is licensed for them."),
        ),
    )
    return coordinates, regions, table, yearly


def _switches() -> tuple[Kind, ...]:
    plug_in = Kind(
        name="Plug-in weekly switch",
        says="Sits in a socket; an ON and an OFF in a slot, a key for each value, summer time by hand.",
        keys=("clock", "hour", "min", "day", "off hour", "off min", "prog", "next", "clear", "mode", "reset", "summer"),
        clock=ClockSetting(hours=12, hours_switch="clock held with summer for 3 s", has_date=False, rules=("by-hand",)),
        limits=Limits(entries=16, day_groups=USUAL_GROUPS, clock_step_s=60, sun_events=()),
        slot=SlotShape(shape="pair", next="next", cleared_by="key", clear=(_press("clear"),)),
        before=(Setting(what="Indoors only, and no more load than its label says."),),
        power=Power(reserve_h=100, battery="rechargeable, built in", charge_h=12, settle_min=5),
        reset=Reset(press=(_press("reset", hold_s=1),), shows="Mo 12:00 AM"),
        modes=Modes(key="mode", cycle=WAITING_CYCLE, returns="waits"),
        clock_dialogue=_keyed(
            _press("clock", hold_s=3), "clock", "the colon runs", weekday="day", hour="hour", minute="min"
        ),
        slot_dialogue=_keyed(
            _press("prog"),
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
    weekly = Kind(
        name="Wall switch, weekly",
        says="In place of a light switch; entries by the clock alone, cleared by taking every day away.",
        keys=("set", "plus", "next", "onoff", "mode"),
        clock=ClockSetting(hours=12, rules=("none", "us", "eu")),
        limits=Limits(entries=14, day_groups=USUAL_GROUPS, clock_step_s=60, sun_events=()),
        slot=SlotShape(next="next", cleared_by="no-days"),
        before=(Setting(what="It needs a neutral in the box.", caution=MAINS),),
        power=Power(reserve_h=48, battery="capacitor", charge_h=1, settle_min=10),
        modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="MAN", means="off"))),
        clock_dialogue=_wall(1, "hour", "minute"),
        date_dialogue=_wall(2, "year", "month", "day"),
        rule_dialogue=_wall(3, "rule"),
        slot_dialogue=_wall(4, "action", "hour", "minute", "days"),
        cover_switches=True,
    )
    astronomic = Kind(
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
        limits=Limits(
            entries=20, day_groups=USUAL_GROUPS, clock_step_s=60, sun_offset_max_min=60, offset_by="correction"
        ),
        slot=SlotShape(
            next="next",
            cleared_by="past-last-hour",
            begins=(Preset(field="event", reads="DUSK"), Preset(field="days", reads="Mo Tu We Th Fr Sa Su")),
        ),
        before=(Setting(what="It needs a neutral in the box.", caution=MAINS),),
        power=Power(reserve_h=72, battery="capacitor", charge_h=1, settle_min=10),
        reset=Reset(
            press=(_press("set", "onoff", hold_s=6),),
            shows="12:00 AM, entry 1 on at DUSK",
            held_slots=2,
            holds=(Preset(field="event", reads="DUSK"), Preset(field="days", reads="Mo Tu We Th Fr Sa Su")),
        ),
        modes=Modes(
            key="mode", cycle=(Mode(word="AUTO"), Mode(word="MAN", means="off"), Mode(word="RAND", means="random"))
        ),
        clock_dialogue=_wall(1, "hour", "minute"),
        date_dialogue=_wall(2, "year", "month", "day"),
        rule_dialogue=_wall(3, "rule", "from_month", "from_week", "to_month", "to_week"),
        place_dialogue=_wall(4, "latitude", "longitude", "utc"),
        correction_dialogue=_wall(5, "rise_min", "set_min"),
        slot_dialogue=_wall(6, "action", "event", "hour", "minute", "days"),
        dark_after_s=30,
    )
    return plug_in, weekly, astronomic


def _wall(place: int, *fields: str) -> Dialogue:
    """A wall switch: its set key held, then pressed to the place; plus turns, set accepts."""
    return Dialogue(
        enter=(_press("set", hold_s=3), _press("next", times=place), _press("set")),
        fields=_turned("plus", *fields),
        accept="set",
        each=True,
        leave="mode",
        sign="it goes on to the next value",
    )


def _garden() -> tuple[Kind, ...]:
    transformer = Kind(
        name="Low-voltage transformer with photocell and timer",
        says="Feeds garden lights; one pair, whose ON may be its photocell and whose OFF its timer.",
        keys=("set", "up", "next", "mode", "reset"),
        clock=ClockSetting(hours=12, has_date=False, rules=("by-hand",)),
        sun=SunKnowledge(meaning="light", morning_word="LIGHT", evening_word="DARK"),
        limits=Limits(entries=2, day_groups=(DAILY,), clock_step_s=900),
        slot=SlotShape(shape="pair", next="next", cleared_by="equal-times"),
        before=(
            Setting(what="Mount it upright, the photocell facing open sky, away from the lights it feeds."),
            Setting(what="Low-voltage side only; the mains side is for licensed people.", caution=MAINS),
        ),
        power=Power(reserve_h=24, battery="a cell behind a lid", settle_min=2),
        reset=Reset(
            press=(_press("reset", hold_s=3),),
            shows="12:00 AM and the eye: photocell only",
            held_slots=1,
            holds=(Preset(field="on_event", reads="DARK"), Preset(field="off_event", reads="LIGHT")),
        ),
        operating=("manual", "photocell only", "photocell on, timed off", "timed on and off"),
        modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="ON", means="on"), Mode(word="OFF", means="off"))),
        clock_dialogue=_tap("set", 1, "hour", "minute"),
        operating_dialogue=_tap("set", 2, "operating"),
        slot_dialogue=_tap("set", 3, "on_event", "on_hour", "on_minute", "off_event", "off_hour", "off_minute"),
        lock=(_press("set", "mode", hold_s=3),),
    )
    tap = Kind(
        name="Tap timer, four outlets",
        says="On a garden tap; a start and a run in minutes in a slot, an outlet each.",
        channels=4,
        keys=("set", "up", "next", "mode", "clear"),
        clock=ClockSetting(hours=12, has_date=False, rules=("by-hand",)),
        limits=Limits(entries=24, day_groups=USUAL_GROUPS, clock_step_s=60, sun_events=()),
        slot=SlotShape(shape="run", next="next", clear=(_press("clear"),)),
        before=(
            Setting(what="Fresh cells; the water shut off while it is screwed on."),
            Setting(what="Backflow protection as the local code asks."),
        ),
        power=Power(battery="two cells, a season"),
        modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="OFF", means="off"))),
        clock_dialogue=_tap("set", 1, "weekday", "hour", "minute"),
        slot_dialogue=_tap("set", 2, "channel", "hour", "minute", "run", "days"),
    )
    mist = Kind(
        name="Misting timer",
        says="For mist and drip lines; a pair a slot, with a pause in minutes: nought is on without a break.",
        keys=("set", "up", "next", "mode", "clear"),
        clock=ClockSetting(has_date=False, rules=("by-hand",)),
        limits=Limits(entries=8, day_groups=(DAILY,), clock_step_s=60, sun_events=()),
        slot=SlotShape(shape="pair", next="next", clear=(_press("clear"),)),
        before=(Setting(what="No spray towards sockets, switchgear or a path where people slip."),),
        power=Power(battery="four cells, a season"),
        modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="OFF", means="off"))),
        clock_dialogue=_tap("set", 1, "weekday", "hour", "minute"),
        slot_dialogue=_tap("set", 2, "on_hour", "on_minute", "off_hour", "off_minute", "pause", "days"),
    )
    valve = Kind(
        name="Valve controller, battery or light-powered",
        says="In a valve box; date and weekday sets, a start and a run in a slot, asleep until a key wakes it.",
        channels=2,
        keys=("wake", "set", "up", "next", "mode", "clear"),
        clock=ClockSetting(hours=12, rules=("none",)),
        limits=Limits(entries=16, day_groups=("any",), clock_step_s=300, sun_events=()),
        slot=SlotShape(shape="run", next="next", clear=(_press("clear", hold_s=2),)),
        before=(Setting(what="Close the box before it rains in; the light panel needs open sky for a day."),),
        power=Power(battery="light panel and store", charge_h=24, settle_min=30),
        modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="OFF", means="off"))),
        clock_dialogue=_tap("wake", 1, "hour", "minute"),
        date_dialogue=_tap("wake", 2, "year", "month", "day"),
        slot_dialogue=_tap("wake", 3, "channel", "hour", "minute", "run", *WEEK_FIELDS),
        dark_after_s=20,
    )
    stations = Kind(
        name="Multi-station controller",
        says="In a shed or on a wall; many stations, a start and a run each, weekdays or chosen days.",
        channels=12,
        keys=("set", "up", "next", "mode", "clear", "reset"),
        clock=ClockSetting(hours=12, hours_switch="up and next together", rules=("none",)),
        limits=Limits(entries=96, day_groups=("any",), clock_step_s=60, sun_events=()),
        slot=SlotShape(shape="run", next="next", clear=(_press("clear"),)),
        before=(
            Setting(what="Master valve or pump relay: set it before the first start.", caution=MAINS),
            Setting(what="A pump that runs against shut valves bursts pipes: look at the first start."),
        ),
        power=Power(reserve_h=24, battery="a cell behind a lid", settle_min=1),
        reset=Reset(press=(_press("reset", "set", hold_s=5),), shows="12:00 AM, 1 Jan"),
        modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="OFF", means="off"))),
        clock_dialogue=_tap("set", 1, "hour", "minute"),
        date_dialogue=_tap("set", 2, "year", "month", "day"),
        slot_dialogue=_tap("set", 3, "channel", "hour", "minute", "run", *WEEK_FIELDS),
        order=_with_power_last_before_clock(),
    )
    return transformer, tap, mist, valve, stations


def _tap(first: str, place: int, *fields: str) -> Dialogue:
    """A unit with a row of places: a key to go in, next to the place, up turns, set accepts value by value."""
    return Dialogue(
        enter=(_press(first, hold_s=2), _press("next", times=place), _press("set")),
        fields=_turned("up", *fields),
        accept="set",
        each=True,
        leave="mode",
        sign="the value stops blinking",
    )


def _with_power_last_before_clock() -> tuple[str, ...]:
    """Stations and the master valve are set when the clock runs: as found first, what is set before mounting next."""
    order = list(Kind(name="-", says="-").order)
    order.remove("before")
    order.insert(order.index("clock"), "before")
    return tuple(order)


def _heating() -> tuple[Kind, ...]:
    programmer = Kind(
        name="Heating programmer, two channels",
        says="Hot water and heating; pairs for workdays and weekends, equal times mean unused.",
        channels=2,
        keys=("set", "plus", "next", "select", "reset"),
        clock=ClockSetting(rules=("none", "eu")),
        limits=Limits(entries=24, day_groups=(WORKDAYS, WEEKENDS, DAILY), clock_step_s=600, sun_events=()),
        slot=SlotShape(shape="pair", next="next", cleared_by="equal-times"),
        before=(
            Setting(what="Set the link for heating with or without hot water first: changing it wipes everything."),
            Setting(
                what="Hot water scalds and boilers burn: cylinders and gas are for licensed people.", caution=MAINS
            ),
        ),
        power=Power(reserve_h=24, battery="rechargeable, built in", charge_h=48, settle_min=30),
        reset=Reset(
            press=(_press("reset"),), shows="00:00 and factory times in every slot", held_slots=12, holds=_SET_TIMES
        ),
        modes=Modes(
            key="select",
            cycle=(
                Mode(word="OFF", means="off"),
                Mode(word="TIMED"),
                Mode(word="ONCE", means="on"),
                Mode(word="ON", means="on"),
            ),
        ),
        clock_dialogue=_heat(1, "hour", "minute"),
        date_dialogue=_heat(2, "year", "month", "day"),
        rule_dialogue=_heat(3, "rule"),
        slot_dialogue=_heat(4, "channel", "on_hour", "on_minute", "off_hour", "off_minute", "days"),
    )
    thermostat = Kind(
        name="Room thermostat",
        says="On a wall; its day begins and ends with a period of comfort, a key for each value.",
        keys=("clock", "hour", "min", "day", "prog", "next", "clear", "mode", "off hour", "off min"),
        clock=ClockSetting(has_date=False, rules=("by-hand",)),
        limits=Limits(entries=12, day_groups=(WORKDAYS, WEEKENDS, DAILY), clock_step_s=600, sun_events=()),
        slot=SlotShape(shape="pair", next="next", clear=(_press("clear"),), on_word="DAY", off_word="NIGHT"),
        before=(Setting(what="Away from sun, draught and heater; it measures where it hangs."),),
        power=Power(battery="two cells, two years"),
        modes=Modes(
            key="mode", cycle=(Mode(word="AUTO"), Mode(word="DAY", means="on"), Mode(word="NIGHT", means="off"))
        ),
        clock_dialogue=_keyed(
            _press("clock", hold_s=3), "clock", "the colon runs", weekday="day", hour="hour", minute="min"
        ),
        slot_dialogue=_keyed(
            _press("prog"),
            "prog",
            "the slot number stands still",
            "mode",
            on_hour="hour",
            on_minute="min",
            off_hour="off hour",
            off_minute="off min",
            days="day",
        ),
    )
    return programmer, thermostat


_SET_TIMES = (
    Preset(field="on_hour", reads="06"),
    Preset(field="off_hour", reads="22"),
    Preset(field="days", reads="Mo Tu We Th Fr"),
)


def _heat(place: int, *fields: str) -> Dialogue:
    """A programmer: set held, next to the place, set; plus turns, set accepts."""
    return Dialogue(
        enter=(_press("set", hold_s=2), _press("next", times=place), _press("set")),
        fields=_turned("plus", *fields),
        accept="set",
        each=True,
        leave="select",
        sign="the next value blinks",
    )


@lru_cache(maxsize=1)
def shipped_kinds() -> tuple[Kind, ...]:
    """All of them, in the order in which a list shows them."""
    return _panel_switches() + _switches() + _garden() + _heating()
