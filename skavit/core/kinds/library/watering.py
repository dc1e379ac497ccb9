"""Controllers, tap timers and valves that water."""

from typing import Any

from skavit.core.kinds.kind import Kind
from skavit.core.kinds.library.parts import WEEK_FIELDS, in_a_row, press
from skavit.core.kinds.parts import ClockSetting, Mode, Modes, Power, Reset, Setting
from skavit.core.kinds.watering import Curve, Watering
from skavit.core.plan.limits import Limits
from skavit.core.plan.water import WaterLimits

_VALVES = "Valves run on 24 V; the transformer's mains side is for licensed people, by the local code."
_BACKFLOW = Setting(
    what="A backflow preventer stands between the main and the first valve, as the local code has it.",
    caution="Garden water must never get back into the drinking water: local rules, licensed people.",
)
_ON_A_TAP = (
    Setting(
        what="Fresh cells each spring; a weak cell can leave a valve open.", caution="Shut the tap when you are away."
    ),
    _BACKFLOW,
)
_NO_ENTRIES = Limits(entries=1, sun_events=())
_DIAL = Modes(key="mode", cycle=(Mode(word="RUN"), Mode(word="OFF", means="off")))
_RUN_OFF = Modes(key="mode", cycle=(Mode(word="AUTO"), Mode(word="OFF", means="off")))
_KEYS = ("set", "next", "plus", "minus", "mode")


def _keys(
    *,
    date: bool = True,
    programs: bool = True,
    stations: bool = True,
    season: bool = True,
    months: bool = False,
    each_start: bool = False,
) -> dict[str, Any]:
    """The dialogues of a unit that has all its things in a row."""
    program, station = ("program",) * programs, ("start",) * each_start + ("station",) * stations
    found = {
        "clock_dialogue": in_a_row(1, "hour", "minute", *() if date else ("weekday",)),
        "starts_dialogue": in_a_row(3, *program, "start", "hour", "minute"),
        "runs_dialogue": in_a_row(4, *program, *station, "minutes"),
        "days_dialogue": in_a_row(5, *program, "day_rule", *WEEK_FIELDS, "every"),
    }
    found |= {"date_dialogue": in_a_row(2, "year", "month", "day")} if date else {}
    found |= {"season_dialogue": in_a_row(6, *program, "pct")} if season else {}
    return found | ({"months_dialogue": in_a_row(7, *program, "month", "pct")} if months else {})


GARDEN = Kind(
    name="Garden controller, eight stations",
    says="In the garage; three programs of four starts, a season percentage, a percentage for each month.",
    channels=8,
    keys=_KEYS,
    clock=ClockSetting(hours=12, rules=("by-hand",)),
    limits=_NO_ENTRIES,
    watering=Watering(
        stations=8,
        limits=WaterLimits(
            programs=3, starts=4, run_max_min=240, run_step_min=1, days=("any", "parity", "interval"),
            interval_max_days=31, adjust_max_pct=200, adjust_step_pct=10, monthly=True, monthly_step_pct=5,
        ),
        weekdays_first=True, master=True, parts=("starts", "runs", "days", "season", "months"),
    ),
    before=(Setting(what=_VALVES), _BACKFLOW),
    power=Power(reserve_h=24, battery="a coin cell"),
    reset=Reset(press=(press("plus", "minus", hold_s=5),), shows="12:00 AM"),
    modes=_DIAL,
    **_keys(months=True),
)  # fmt: skip
LARGE = Kind(
    name="Park controller, 48 stations",
    says="In a cabinet; six programs of eight starts, pump or master valve with lead and lag, pauses between stations.",
    channels=48,
    keys=_KEYS,
    clock=ClockSetting(rules=("by-hand",)),
    limits=_NO_ENTRIES,
    watering=Watering(
        stations=48,
        limits=WaterLimits(
            programs=6, starts=8, run_max_min=720, run_step_min=1, days=("any", "parity", "interval"),
            interval_max_days=31, adjust_max_pct=300, adjust_step_pct=1, monthly=True, monthly_step_pct=1,
        ),
        master=True, stations_each=True, season_mark="SEASON", off_mark="OFF",
    ),
    before=(Setting(what=_VALVES), _BACKFLOW),
    power=Power(reserve_h=100_000, battery="memory that needs none; the clock by a cell"),
    reset=Reset(press=(press("plus", "minus", hold_s=5),), shows="00:00"),
    modes=_DIAL,
    **_keys(months=True),
)  # fmt: skip
DEFAULT_FIRST = Kind(
    name="Wizard controller, six stations",
    says="Asks for the stations, a master valve and one run time for all first; intervals count from the day it is keyed.",
    channels=6,
    keys=_KEYS,
    clock=ClockSetting(hours=12, rules=("by-hand",)),
    limits=_NO_ENTRIES,
    watering=Watering(
        stations=6,
        limits=WaterLimits(
            programs=1, starts=3, run_max_min=99, run_step_min=1, days=("any", "parity", "interval"),
            interval_max_days=14, adjust_max_pct=150, adjust_step_pct=10, monthly=False,
        ),
        default_run=True, anchor="keyed", weekdays_first=True, master=True, off_mark="PAUSE",
    ),
    before=(Setting(what=_VALVES), _BACKFLOW),
    power=Power(reserve_h=4, battery="none: it keeps its programs, the clock stops"),
    reset=Reset(press=(press("plus", "minus", hold_s=5),), shows="how many stations?"),
    modes=_RUN_OFF,
    **_keys(programs=False),
)  # fmt: skip
BUILT_IN = Kind(
    name="Controller with a built-in year, twelve stations",
    says="Its run times follow a curve of the region by themselves; the display shows the adjusted time.",
    channels=12,
    keys=_KEYS,
    clock=ClockSetting(rules=("by-hand",)),
    limits=_NO_ENTRIES,
    watering=Watering(
        stations=12,
        limits=WaterLimits(
            programs=3, starts=4, run_max_min=240, run_step_min=1, days=("any", "parity", "interval"),
            interval_max_days=30, adjust_max_pct=150, adjust_step_pct=5, monthly=True, monthly_step_pct=5,
        ),
        anchor="watered", master=True, manual_while_off=False, season_mark="BUDGET",
        curves=(
            Curve(name="dry east coast, sprays", pct=(100, 90, 70, 45, 20, 5, 5, 20, 45, 65, 85, 95)),
            Curve(name="dry east coast, drip", pct=(100, 95, 75, 50, 30, 15, 15, 30, 50, 70, 85, 95)),
            Curve(name="wet west coast, sprays", pct=(100, 90, 55, 25, 0, 0, 0, 5, 25, 45, 70, 90)),
        ),
    ),
    before=(Setting(what=_VALVES), _BACKFLOW),
    power=Power(reserve_h=24, battery="a coin cell"),
    reset=Reset(press=(press("plus", "minus", hold_s=5),), shows="00:00"),
    modes=_RUN_OFF,
    **_keys(months=True),
)  # fmt: skip
TWO_OUTLETS = Kind(
    name="Tap timer, two outlets",
    says="On a garden tap; three starts for each outlet, the outlets run side by side.",
    channels=2,
    keys=_KEYS,
    clock=ClockSetting(hours=12, has_date=False, rules=("by-hand",)),
    limits=_NO_ENTRIES,
    watering=Watering(
        stations=2,
        limits=WaterLimits(starts=3, run_max_min=360, run_step_min=1, days=("any", "interval"), interval_max_days=7,
                           monthly=False),
        when_busy="parallel", starts_for="station", anchor="keyed", off_mark="RAIN",
    ),
    before=_ON_A_TAP,
    power=Power(battery="two cells, one season"),
    modes=_RUN_OFF,
    **_keys(date=False, stations=False, season=False),
)  # fmt: skip
ONE_OUTLET = Kind(
    name="Hose timer, one outlet, four starts",
    says="On a tap or a hose; each of its four starts has a run time of its own, weekdays or every few days for all.",
    channels=1,
    keys=_KEYS,
    clock=ClockSetting(hours=12, has_date=False, rules=("by-hand",)),
    limits=_NO_ENTRIES,
    watering=Watering(
        stations=1,
        limits=WaterLimits(programs=1, starts=4, run_max_min=240, run_step_min=1, days=("any", "interval"),
                           interval_max_days=7, monthly=False),
        when_busy="ignore", runs_for="each start", anchor="keyed", off_mark="RAIN",
    ),
    before=(Setting(what="Fresh cells each spring.", caution="Shut the tap when you are away."), _BACKFLOW),
    power=Power(battery="two cells, one season"),
    modes=_RUN_OFF,
    **_keys(date=False, programs=False, stations=False, season=False, each_start=True),
)  # fmt: skip
BY_LIGHT = Kind(
    name="Light-powered valve controller, one station",
    says="Down in a valve box, fed by daylight; five starts, a percentage for each month, days off.",
    channels=1,
    keys=_KEYS,
    clock=ClockSetting(rules=("by-hand",)),
    limits=_NO_ENTRIES,
    watering=Watering(
        stations=1,
        limits=WaterLimits(programs=1, starts=5, run_max_min=240, run_step_min=1, days=("any", "parity", "interval"),
                           interval_max_days=28, adjust_max_pct=200, adjust_step_pct=10, monthly=True, monthly_step_pct=10),
        anchor="reset", manual_while_off=False, season_mark="%", off_mark="OFF",
    ),
    before=(Setting(what="Its panel sees daylight, free of grass and leaves; a latching valve of low power only."), _BACKFLOW),
    power=Power(reserve_h=1_000, battery="a store charged by daylight", charge_h=24),
    reset=Reset(press=(press("plus", "minus", hold_s=5),), shows="00:00"),
    modes=_RUN_OFF,
    **_keys(programs=False, stations=False, months=True),
)  # fmt: skip


def _outlets(words: str, stations: int, starts: int) -> Kind:
    """A tap timer of several outlets that run one after another, each with starts of its own."""
    return Kind(
        name=f"Tap timer that waters, {words} outlets",
        says=f"On a garden tap; {starts} starts for each outlet, weekdays, odd or even dates or every few days.",
        channels=stations,
        keys=_KEYS,
        clock=ClockSetting(hours=12, rules=("by-hand",)),
        limits=_NO_ENTRIES,
        watering=Watering(
            stations=stations,
            limits=WaterLimits(
                starts=starts, run_max_min=240, run_step_min=1, days=("any", "parity", "interval"), interval_max_days=14,
                adjust_max_pct=150, adjust_step_pct=10, monthly=False,
            ),
            starts_for="station", anchor="keyed", off_mark="RAIN",
        ),
        before=_ON_A_TAP,
        power=Power(battery="two cells, one season", battery_months=12),
        modes=_RUN_OFF,
        **_keys(stations=False),
    )  # fmt: skip


FOUR_OUTLETS, SIX_OUTLETS = _outlets("four", 4, 4), _outlets("six", 6, 3)
VALVE = Kind(
    name="Battery valve that waters",
    says="Screwed to a valve or a hose; weekdays, odd or even dates or an interval, three starts of one run time.",
    channels=1,
    keys=_KEYS,
    clock=ClockSetting(rules=("by-hand",)),
    limits=_NO_ENTRIES,
    watering=Watering(
        stations=1,
        limits=WaterLimits(programs=1, starts=3, run_max_min=240, run_step_min=1, days=("any", "parity", "interval"),
                           interval_max_days=15, adjust_max_pct=200, adjust_step_pct=10, monthly=False),
        anchor="keyed", off_mark="OFF",
    ),
    before=(Setting(what="Fresh cells each spring. A latching valve of its own kind, wired the right way round."), _BACKFLOW),
    power=Power(battery="one block cell, one season", battery_months=12),
    modes=_RUN_OFF,
    **_keys(programs=False, stations=False),
)  # fmt: skip

WATERING_UNITS = (
    *(GARDEN, LARGE, DEFAULT_FIRST, BUILT_IN, BY_LIGHT, VALVE),
    *(ONE_OUTLET, TWO_OUTLETS, FOUR_OUTLETS, SIX_OUTLETS),
)
