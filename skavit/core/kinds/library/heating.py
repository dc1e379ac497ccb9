"""Hot water and heating."""

from skavit.core.kinds.kind import ClockSetting, Kind, Mode, Modes, Power, Preset, Reset, Setting, SlotShape
from skavit.core.kinds.library.parts import DAILY, MAINS, WEEKENDS, WORKDAYS, in_a_row, keyed, press
from skavit.core.plan.limits import Limits

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
        Setting(what="Hot water scalds and boilers burn: cylinders and gas are for licensed people.", caution=MAINS),
    ),
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
HEATING_UNITS = (PROGRAMMER, THERMOSTAT)
