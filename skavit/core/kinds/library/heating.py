"""Hot water and heating: programmers that switch, and units that hold temperatures."""

from dataclasses import replace

from skavit.core.kinds.heating import Heating
from skavit.core.kinds.kind import Kind
from skavit.core.kinds.library.parts import DAILY, MAINS, SATURDAY, SUNDAY, WEEKENDS, WORKDAYS, in_a_row, keyed, press
from skavit.core.kinds.parts import ClockSetting, HandKey, Mode, Modes, Power, Preset, Reset, Setting, SlotShape
from skavit.core.plan.contact import Contact
from skavit.core.plan.heat import HeatLimits
from skavit.core.plan.limits import Limits

_HOT = "Hot water scalds and boilers burn: cylinders and gas are for licensed people."
_BOOST = HandKey(
    does="boost",
    press=(press("boost"),),
    says="On for an hour with each press, three at most; then the program goes on.",
)
_ADVANCE = HandKey(
    does="advance",
    press=(press("advance"),),
    says="The next change of the program happens now; the one after it ends that.",
)
_AWAY = HandKey(
    does="holiday",
    press=(press("holiday", hold_s=3),),
    says="Off for so many days, until the same time; any key ends it, also one pressed by chance.",
)
_SENSE = Setting(
    what="Away from sun, draught, heater and outside wall, at the height of a chest: it measures where it hangs."
)

_SET_TIMES = (
    Preset(field="on_hour", reads="06"),
    Preset(field="off_hour", reads="22"),
    Preset(field="days", reads="Mo Tu We Th Fr"),
)

PROGRAMMER = Kind(
    name="Heating programmer, two channels",
    says="Hot water and heating; pairs for workdays and weekends, equal times mean unused.",
    channels=2,
    keys=("set", "plus", "next", "select", "reset"),
    clock=ClockSetting(rules=("none", "eu")),
    limits=Limits(entries=24, day_groups=(WORKDAYS, WEEKENDS, DAILY), clock_step_s=600, sun_events=()),
    slot=SlotShape(shape="pair", next="next", cleared_by="equal-times"),
    before=(
        Setting(what="Set the link for heating with or without hot water first: changing it wipes everything."),
        Setting(what=_HOT, caution=MAINS),
    ),
    contact=Contact(dry=False, common="L", opens="ON", closes="OFF", changes_over=True, resistive_a=3, inductive_a=1),
    power=Power(reserve_h=24, battery="rechargeable, built in", charge_h=48, settle_min=30),
    reset=Reset(
        press=(press("reset"),), shows="00:00 and factory times in every slot", held_slots=12, holds=_SET_TIMES
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
    clock_dialogue=in_a_row(1, "hour", "minute", leave="select"),
    date_dialogue=in_a_row(2, "year", "month", "day", leave="select"),
    rule_dialogue=in_a_row(3, "rule", leave="select"),
    slot_dialogue=in_a_row(4, "channel", "on_hour", "on_minute", "off_hour", "off_minute", "days", leave="select"),
)
THERMOSTAT = Kind(
    name="Room thermostat",
    says="On a wall; its day begins and ends with a period of comfort, a key for each value.",
    keys=("clock", "hour", "min", "day", "prog", "next", "clear", "mode", "off hour", "off min"),
    clock=ClockSetting(has_date=False, rules=("by-hand",)),
    limits=Limits(entries=12, day_groups=(WORKDAYS, WEEKENDS, DAILY), clock_step_s=600, sun_events=()),
    slot=SlotShape(shape="pair", next="next", clear=(press("clear"),), on_word="DAY", off_word="NIGHT"),
    before=(Setting(what="Away from sun, draught and heater; it measures where it hangs."),),
    power=Power(battery="two cells, two years"),
    modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="DAY", means="on"), Mode(word="NIGHT", means="off"))),
    clock_dialogue=keyed(press("clock", hold_s=3), "clock", "the colon runs", weekday="day", hour="hour", minute="min"),
    slot_dialogue=keyed(
        press("prog"),
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
THREE_PERIODS = Kind(
    name="Heating programmer, three periods",
    says="Hot water and heating; three periods a day for workdays and for weekends, ON equal to OFF means unused.",
    channels=2,
    keys=("set", "plus", "next", "select", "reset", "boost", "advance", "holiday"),
    clock=ClockSetting(rules=("none", "eu", "own")),
    limits=Limits(
        entries=24, day_groups=(WORKDAYS, WEEKENDS, DAILY), clock_step_s=600, sun_events=(), one_channel=True
    ),
    slot=SlotShape(shape="pair", next="next", cleared_by="equal-times"),
    before=(
        Setting(what="Set the link for heating with or without hot water first: changing it wipes everything."),
        Setting(what=_HOT, caution=MAINS),
    ),
    contact=Contact(dry=False, common="L", opens="ON", closes="OFF", changes_over=True, resistive_a=3, inductive_a=1),
    hand_keys=(_BOOST, _ADVANCE, _AWAY),
    power=Power(reserve_h=200, battery="rechargeable, built in", charge_h=48, settle_min=30),
    reset=Reset(press=(press("reset", hold_s=3),), shows="00:00 and empty slots"),
    modes=Modes(
        key="select",
        cycle=(
            Mode(word="OFF", means="off"),
            Mode(word="TIMED"),
            Mode(word="ALL DAY", means="on"),
            Mode(word="CONSTANT", means="on"),
        ),
    ),
    clock_dialogue=in_a_row(1, "hour", "minute", leave="select"),
    date_dialogue=in_a_row(2, "year", "month", "day", leave="select"),
    rule_dialogue=in_a_row(3, "rule", "from_month", "from_week", "to_month", "to_week", leave="select"),
    slot_dialogue=in_a_row(4, "channel", "on_hour", "on_minute", "off_hour", "off_minute", "days", leave="select"),
)
FOUR_PERIODS = Kind(
    name="Room thermostat, four periods",
    says="On a wall; four periods with a temperature each, for workdays and for weekends, dashes mean unused.",
    keys=("set", "plus", "next", "mode", "hold", "holiday"),
    clock=ClockSetting(rules=("by-hand",)),
    limits=Limits(entries=1, day_groups=(WORKDAYS, WEEKENDS), clock_step_s=600, sun_events=()),
    heating=Heating(
        limits=HeatLimits(periods=4, c_min=5, c_max=30, c_step=0.5),
        frost_c=7,
        period_words=("WAKE", "LEAVE", "BACK", "SLEEP"),
        holiday="until",
    ),
    before=(
        _SENSE,
        Setting(what="Two wires to the boiler's room-thermostat contact, or to a relay for mains.", caution=MAINS),
    ),
    contact=Contact(dry=True, changes_over=True, common="1", opens="2", closes="3", resistive_a=5, inductive_a=2),
    hand_keys=(
        HandKey(does="warmer", press=(press("plus"),), says="Another temperature until the next period begins."),
        HandKey(does="hold", press=(press("hold"),), says="A temperature for so many hours, then the program goes on."),
        HandKey(does="holiday", press=(press("holiday"),), says="Frost protection until a date and time."),
        HandKey(does="off", press=(press("mode", hold_s=5),), says="Off: nothing protects from frost either."),
    ),
    power=Power(battery="two cells, two years"),
    modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="FROST", means="off"))),
    clock_dialogue=in_a_row(1, "hour", "minute"),
    date_dialogue=in_a_row(2, "year", "month", "day"),
    points_dialogue=in_a_row(3, "days", "period", "hour", "minute", "degrees"),
)
ZONES = Kind(
    name="Zone programmer, four zones",
    says="In a cupboard; six periods on each day for each of four zones, equal times mean unused, a holiday by days.",
    channels=4,
    keys=("menu", "ok", "plus", "down", "back", "mode"),
    clock=ClockSetting(rules=("none", "eu", "us", "own")),
    limits=Limits(entries=1, day_groups=(DAILY, WORKDAYS, WEEKENDS, "single-days"), clock_step_s=900, sun_events=()),
    heating=Heating(
        zones=4,
        limits=HeatLimits(periods=6, c_min=5, c_max=35, c_step=0.5),
        frost_c=5,
        unused="equal-times",
        holiday="today",
        any_key_ends=True,
        off_protects=True,
    ),
    before=(_SENSE, Setting(what="A valve or an actuator on the terminals of each zone.", caution=MAINS)),
    contact=Contact(dry=False, common="L", opens="Z", resistive_a=3, inductive_a=1),
    hand_keys=(
        HandKey(does="warmer", press=(press("plus"),), says="Another temperature until the next period begins."),
        HandKey(
            does="holiday",
            press=(press("mode", hold_s=3),),
            says="Frost protection by days, today counted; any key ends it.",
        ),
    ),
    power=Power(reserve_h=48, battery="a coin cell"),
    modes=Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="STANDBY", means="off"))),
    clock_dialogue=in_a_row(1, "hour", "minute", first="menu", leave="back", accept="ok", step="down"),
    date_dialogue=in_a_row(2, "year", "month", "day", first="menu", leave="back", accept="ok", step="down"),
    rule_dialogue=in_a_row(
        3,
        "rule",
        "from_month",
        "from_week",
        "to_month",
        "to_week",
        first="menu",
        leave="back",
        accept="ok",
        step="down",
    ),
    points_dialogue=in_a_row(
        4, "zone", "days", "period", "hour", "minute", "degrees", first="menu", leave="back", accept="ok", step="down"
    ),
)
THREE_GROUPS = replace(
    FOUR_PERIODS,
    name="Room thermostat, Saturday and Sunday apart",
    says="On a wall; four periods for workdays, for Saturday and for Sunday each; its keys can be locked.",
    keys=(*FOUR_PERIODS.keys, "lock"),
    limits=replace(FOUR_PERIODS.limits, day_groups=(WORKDAYS, SATURDAY, SUNDAY)),
    lock=(press("lock", hold_s=5),),
)
SEVEN_DAYS = replace(
    FOUR_PERIODS,
    name="Room thermostat, seven separate days",
    says="On a wall; four periods for each day of the week, dashes mean unused.",
    limits=replace(FOUR_PERIODS.limits, day_groups=("single-days",)),
)
HEATING_UNITS = (PROGRAMMER, THREE_PERIODS, THERMOSTAT, FOUR_PERIODS, THREE_GROUPS, SEVEN_DAYS, ZONES)
