"""Garden lights, taps, mist and valves."""

from skavit.core.kinds.kind import Kind
from skavit.core.kinds.library.parts import DAILY, MAINS, USUAL_GROUPS, WEEK_FIELDS, in_a_row, press
from skavit.core.kinds.parts import ClockSetting, Mode, Modes, Power, Preset, Reset, Setting, SlotShape, SunKnowledge
from skavit.core.plan.limits import Bank, Limits


def _with_power_last_before_clock() -> tuple[str, ...]:
    """Stations and the master valve are set when the clock runs: as found first, what is set before mounting next."""
    order = list(Kind(name="-", says="-").order)
    order.remove("before")
    order.insert(order.index("clock"), "before")
    return tuple(order)


TRANSFORMER = Kind(
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
        press=(press("reset", hold_s=3),),
        shows="12:00 AM and the eye: photocell only",
        held_slots=1,
        holds=(Preset(field="on_event", reads="DARK"), Preset(field="off_event", reads="LIGHT")),
    ),
    operating=("manual", "photocell only", "photocell on, timed off", "timed on and off"),
    modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="ON", means="on"), Mode(word="OFF", means="off"))),
    clock_dialogue=in_a_row(1, "hour", "minute", turn="up"),
    operating_dialogue=in_a_row(2, "operating", turn="up"),
    slot_dialogue=in_a_row(3, "on_event", "on_hour", "on_minute", "off_event", "off_hour", "off_minute", turn="up"),
    lock=(press("set", "mode", hold_s=3),),
)
TAP = Kind(
    name="Tap timer, four outlets",
    says="On a garden tap; a start and a run in minutes in a slot, an outlet each.",
    channels=4,
    keys=("set", "up", "next", "mode", "clear"),
    clock=ClockSetting(hours=12, has_date=False, rules=("by-hand",)),
    limits=Limits(entries=24, day_groups=USUAL_GROUPS, clock_step_s=60, sun_events=()),
    slot=SlotShape(shape="run", next="next", clear=(press("clear"),)),
    before=(
        Setting(what="Fresh cells; the water shut off while it is screwed on."),
        Setting(what="Backflow protection as the local code asks."),
    ),
    power=Power(battery="two cells, a season", battery_months=12),
    modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="OFF", means="off"))),
    clock_dialogue=in_a_row(1, "weekday", "hour", "minute", turn="up"),
    slot_dialogue=in_a_row(2, "channel", "hour", "minute", "run", "days", turn="up"),
)
MIST = Kind(
    name="Misting timer",
    says="For mist and drip lines; a start, a stop, a spray and a pause in a slot: no pause is on without a break.",
    keys=("set", "up", "next", "mode", "clear"),
    clock=ClockSetting(has_date=False, rules=("by-hand",)),
    limits=Limits(
        entries=8,
        slots=(Bank(shape="pair", count=4, times=("clock",), off_days="same", over_midnight=False, repeats=True),),
        day_groups=USUAL_GROUPS,
        clock_step_s=60,
        sun_events=(),
        actions=("on", "off", "repeat"),
    ),
    slot=SlotShape(shape="pair", next="next", clear=(press("clear"),)),
    before=(Setting(what="No spray towards sockets, switchgear or a path where people slip."),),
    power=Power(battery="four cells, a season", battery_months=12),
    modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="OFF", means="off"))),
    clock_dialogue=in_a_row(1, "weekday", "hour", "minute", turn="up"),
    slot_dialogue=in_a_row(
        2,
        *("on_hour", "on_minute", "off_hour", "off_minute"),
        *("spray_min", "spray_s", "pause_min", "pause_s", "days"),
        turn="up",
    ),
)
VALVE = Kind(
    name="Valve controller, battery or light-powered",
    says="In a valve box; date and weekday sets, a start and a run in a slot, asleep until a key wakes it.",
    channels=2,
    keys=("wake", "set", "up", "next", "mode", "clear"),
    clock=ClockSetting(hours=12, rules=("none",)),
    limits=Limits(entries=16, day_groups=("any",), clock_step_s=300, sun_events=()),
    slot=SlotShape(shape="run", next="next", clear=(press("clear", hold_s=2),)),
    before=(Setting(what="Close the box before it rains in; the light panel needs open sky for a day."),),
    power=Power(battery="light panel and store", charge_h=24, settle_min=30),
    modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="OFF", means="off"))),
    clock_dialogue=in_a_row(1, "hour", "minute", first="wake", turn="up"),
    date_dialogue=in_a_row(2, "year", "month", "day", first="wake", turn="up"),
    slot_dialogue=in_a_row(3, "channel", "hour", "minute", "run", *WEEK_FIELDS, first="wake", turn="up"),
    dark_after_s=20,
)
STATIONS = Kind(
    name="Multi-station controller",
    says="In a shed or on a wall; many stations, a start and a run each, weekdays or chosen days.",
    channels=12,
    keys=("set", "up", "next", "mode", "clear", "reset"),
    clock=ClockSetting(hours=12, hours_switch="up and next together", rules=("none",)),
    limits=Limits(entries=96, day_groups=("any",), clock_step_s=60, sun_events=()),
    slot=SlotShape(shape="run", next="next", clear=(press("clear"),)),
    before=(
        Setting(what="Master valve or pump relay: set it before the first start.", caution=MAINS),
        Setting(what="A pump that runs against shut valves bursts pipes: look at the first start."),
    ),
    power=Power(reserve_h=24, battery="a cell behind a lid", settle_min=1),
    reset=Reset(press=(press("reset", "set", hold_s=5),), shows="12:00 AM, 1 Jan"),
    modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="OFF", means="off"))),
    clock_dialogue=in_a_row(1, "hour", "minute", turn="up"),
    date_dialogue=in_a_row(2, "year", "month", "day", turn="up"),
    slot_dialogue=in_a_row(3, "channel", "hour", "minute", "run", *WEEK_FIELDS, turn="up"),
    order=_with_power_last_before_clock(),
)
GARDEN_UNITS = (TRANSFORMER, TAP, MIST, VALVE, STATIONS)
