"""Switches on the rail of a switchboard, set by a menu."""

from skavit.core.kinds.kind import Kind
from skavit.core.kinds.library.parts import (
    MAINS,
    MANY_GROUPS,
    ON_AUTO_OFF,
    REGIONS,
    USUAL_GROUPS,
    WAITING_CYCLE,
    WEEK_FIELDS,
    press,
    turned,
)
from skavit.core.kinds.parts import (
    ClockSetting,
    Dialogue,
    Modes,
    Power,
    Reset,
    Setting,
    SlotShape,
    SunKnowledge,
)
from skavit.core.plan.contact import Contact
from skavit.core.plan.limits import Limits


def _menu(place: int, *fields: str, leave: str = "back", sign: str = "the line shows the new value") -> Dialogue:
    """A line of a menu: down to it, then + until it reads, OK value by value."""
    down = (press("down", times=place),) if place else ()
    return Dialogue(
        enter=(press("menu"), *down, press("ok")),
        fields=turned("plus", *fields),
        accept="ok",
        each=True,
        leave=leave,
        sign=sign,
    )


MENU_KEYS = ("menu", "ok", "back", "plus", "down", "mode", "next", "clear", "reset")
MENU_RESET = Reset(press=(press("menu", "ok", hold_s=5),), shows="every segment, then 00:00")
CELL = Power(reserve_h=26_000, battery="lithium cell, soldered in", settle_min=1)


def _menu_unit(name: str, says: str, **more: object) -> Kind:
    """A panel switch with a menu: what most of them have, and what this one has beside it or instead."""
    usual: dict[str, object] = {
        "name": name,
        "says": says,
        "keys": MENU_KEYS,
        "clock": ClockSetting(rules=("none", "eu", "us", "own")),
        "limits": Limits(entries=28, day_groups=MANY_GROUPS, clock_step_s=60, sun_offset_max_min=120),
        "slot": SlotShape(next="next", clear=(press("clear", hold_s=2),)),
        "before": (Setting(what="Set the supply voltage selector to the supply.", caution=MAINS),),
        "power": CELL,
        "contact": Contact(changes_over=True, resistive_a=16, inductive_a=8),
        "reset": MENU_RESET,
        "modes": Modes(key="mode", cycle=ON_AUTO_OFF),
        "clock_dialogue": _menu(0, "hour", "minute"),
        "date_dialogue": _menu(1, "year", "month", "day"),
        "rule_dialogue": _menu(2, "rule", "from_month", "from_week", "to_month", "to_week"),
        "slot_dialogue": _menu(5, "action", "event", "hour", "minute", "offset", "days"),
        "lock": (press("back", "ok", hold_s=3),),
    }
    return Kind(**{**usual, **more})  # type: ignore[arg-type]


BY_COORDINATES = _menu_unit(
    "Panel switch, one channel, by coordinates",
    "On the rail of a switchboard; takes latitude and longitude, an offset with each entry.",
    sun=SunKnowledge(place="coordinates", step_deg=1.0, offset="entry"),
    place_dialogue=_menu(3, "latitude", "longitude", "utc"),
)
BY_REGION = _menu_unit(
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
BY_TABLE = _menu_unit(
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
YEARLY = _menu_unit(
    "Yearly relay timer",
    "On a rail, for bells, gates and plant: entries with a season, seconds, a pair of day keys for each weekday.",
    channels=2,
    limits=Limits(
        entries=200,
        clock_step_s=1,
        sun_events=(),
        actions=("on", "off", "pulse"),
        pulse_max_s=99,
        holidays=30,
        holiday_days_max=31,
    ),
    channel_modes=("SINGLE", "BOTH", "PULSE"),
    channels_dialogue=_menu(4, "channel_mode"),
    holidays_dialogue=_menu(6, "holiday", "year", "from_month", "from_day", "to_month", "to_day"),
    pin=(press("menu", "back", hold_s=3),),
    slot=SlotShape(next="next", clear=(press("clear", hold_s=2),)),
    slot_dialogue=_menu(
        3,
        "channel",
        "action",
        "pulse",
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
        Setting(
            what="On the bench: set the relay jumpers, key all of it, and watch each relay switch before it is mounted.",
            caution=MAINS,
        ),
        Setting(what="Gates and escape doors: power cuts must leave them free. Ask who is licensed for them."),
    ),
)
TWO_BY_COORDINATES = _menu_unit(
    "Panel switch, two channels, by coordinates",
    "On the rail of a switchboard; takes latitude and longitude, an offset with each entry of either output.",
    channels=2,
    sun=SunKnowledge(place="coordinates", step_deg=1.0, offset="entry"),
    limits=Limits(entries=56, day_groups=MANY_GROUPS, clock_step_s=60, sun_offset_max_min=120),
    place_dialogue=_menu(3, "latitude", "longitude", "utc"),
    slot_dialogue=_menu(5, "channel", "action", "event", "hour", "minute", "offset", "days"),
)
PANEL_SWITCHES = (BY_COORDINATES, TWO_BY_COORDINATES, BY_REGION, BY_TABLE, YEARLY)
