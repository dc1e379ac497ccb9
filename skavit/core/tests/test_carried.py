"""What a sheet carries through today and tomorrow is what one made at each moment would say."""

import unittest
from dataclasses import replace
from datetime import date, timedelta

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number
from skavit.core.sheet import clock_runs, digits_to_set, steps
from skavit.core.simulation.handover import handover, look_ahead
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import document, entry, local_instant, make_plan, window
from skavit.core.text.wording import PLAIN

KINDS = {kind.name: kind for kind in shipped_kinds()}
PLUG_IN = KINDS["Plug-in weekly switch"]
TABLE = KINDS["Panel switch, two channels, by zone table"]


def at(day, hour, minute=0):
    return day_number(day) * DAY_S + hour * 3600 + minute * 60


def heater(**unit):
    """A water heater wanted in the early morning and in the afternoon, in a unit that waits for its next entry."""
    wanted = [window("05:00", "07:00"), window("14:00", "16:00")]
    rows = [entry("on", "05:00"), entry("off", "07:00"), entry("on", "14:00"), entry("off", "16:00")]
    return make_plan(wanted, rows, on_return_to_auto="waits", **unit)


def sheet(plan, instant, kind=None, *, carries=True):
    ahead = look_ahead(plan, instant)
    today = date(1970, 1, 1) + timedelta(days=digits_to_set(plan, instant) // DAY_S)
    year = replay(plan, today.replace(month=1, day=1), today.replace(month=12, day=31))
    return steps(plan, year, handover(plan, instant, ahead), instant, PLAIN, kind, ahead if carries else None)


def said(step):
    """What a step says; the clock's own display goes on by itself, and how far it is carried is no part of it."""
    blank = replace(step, spells=(), holds_until=0)
    return replace(blank, display=None, presses=(), sets=None) if step.kind == "clock" else blank


def spell_of(step, instant):
    return next((s.step for s in step.spells if s.first <= instant < s.until), step)


class CarriedTest(unittest.TestCase):
    def test_a_sheet_opened_before_a_window_and_followed_in_it_switches_on_first(self):
        plan = heater()
        opened, later = (local_instant(plan, at(date(2027, 6, 14), *when)) for when in ((4, 8), (6, 43)))
        made = {step.kind: step for step in sheet(plan, opened, PLUG_IN)}
        self.assertIn("OFF first, then AUTO", spell_of(made["mode"], opened).say)
        then = spell_of(made["mode"], later)
        self.assertIn("ON first, then AUTO", then.say)
        self.assertEqual([press.until for press in then.presses], ["ON", "AUTO"])
        self.assertIn("Channel 1 must be ON", spell_of(made["output"], later).say)
        # Ticked before the window or in it: it was left in automatic, and goes on by itself.
        self.assertEqual(len({spell.step.key for spell in made["mode"].spells}), 1)
        self.assertEqual([spell.step.brief for spell in made["mode"].spells[:3]],
                         ["OFF first, then AUTO", "ON first, then AUTO", "OFF first, then AUTO"])  # fmt: skip

    @given(st.integers(0, 43 * 60 + 51), st.sampled_from([PLUG_IN, None]))
    def test_at_any_minute_it_says_what_a_sheet_made_then_would(self, minutes, kind):
        plan = heater()
        opened = local_instant(plan, at(date(2027, 6, 14), 4, 8))
        self.alike(plan, opened, opened + minutes * 60, kind)

    def test_the_next_dates_sun_and_correction_are_carried(self):
        rows = [[window("sunset", "22:40")], [window("sunset+10", "23:00")]]
        entries = [entry("on", "sunset"), entry("off", "22:40"), entry("on", "sunset", channels=[2]),
                   entry("off", "23:00", channels=[2])]  # fmt: skip
        plan = make_plan(channels=rows, entries=entries, limits=TABLE.plan_limits.to_json(),
                         sun={"source": "table", "latitude": -40})  # fmt: skip
        opened = local_instant(plan, at(date(2027, 9, 25), 23, 10))
        # Clocks go forward that night at two.
        for minutes in (0, 49, 51, 3 * 60, 20 * 60):
            with self.subTest(minutes=minutes):
                self.alike(plan, opened, opened + minutes * 60, TABLE)

    def test_every_step_of_any_kind_shows_the_new_day(self):
        """Opened at 23:40: the days until a watering and the dates of summer time were yesterday's after midnight."""
        water = {
            "stations": [{"name": "Lawn", "flow_l_min": 30.0}],
            "programs": [{"name": "A", "days": {"every": 3, "from": "2027-01-04"}, "starts": ["04:30"],
                          "runs": [{"station": 1, "run_min": 18}]}],
        }  # fmt: skip
        points = [{"days": "weekdays", "at": "07:10", "c": 20.5}, {"days": "daily", "at": "21:40", "c": 15}]
        heat = {"zones": [{"name": "Hall", "wanted": points, "keyed": points}]}
        rows = [window("sunset", "22:40"), window("05:20", "sunrise", "weekdays")]
        keyed = [
            entry("on", "sunset"),
            entry("off", "22:40"),
            entry("on", "05:20", "weekdays"),
            entry("off", "sunrise"),
        ]
        switches = document(rows, keyed, holidays=[{"from": "12-24", "days": 10}, {"from": "2027-02-06", "days": 1}])
        rule = document(rows, keyed, clock={"dst": "us"})
        bare = {key: switches[key] for key in ("format", "site")}
        occasions = [(None, {**bare, "water": water}), (None, {**bare, "heat": heat}), (None, rule)]
        for kind in shipped_kinds():
            of_kind = (
                {**bare, "water": water} if kind.watering else {**bare, "heat": heat} if kind.heating else switches
            )
            occasions.append((kind, of_kind))
        # The nights of the clock changes, a watering day, the eve of a holiday, the year's end, the eve of spring.
        nights = [date(2027, 4, 3), date(2027, 9, 25), date(2027, 1, 3), date(2027, 12, 23), date(2027, 12, 31),
                  date(2027, 8, 31)]  # fmt: skip
        for place, (kind, written) in enumerate(occasions):
            plan = read_plan(Node(written))
            plan = plan_for_kind(plan, kind) if kind else plan
            # A change of the clocks for every kind, and one more night in turn; all of them where there is no kind.
            for night in nights if kind is None else (nights[0], nights[1 + place % 5]):
                opened = local_instant(plan, at(night, 23, 40))
                carried = sheet(plan, opened, kind)
                for minutes in (30, 5 * 60):
                    with self.subTest(kind=kind and kind.slug, night=night, minutes=minutes):
                        later = opened + minutes * 60
                        fresh = [said(step) for step in sheet(plan, later, kind)]
                        self.assertEqual([said(spell_of(step, later)) for step in carried], fresh)

    def alike(self, plan, opened, later, kind):
        carried, fresh = sheet(plan, opened, kind), sheet(plan, later, kind, carries=False)
        self.assertEqual([said(spell_of(step, later)) for step in carried], [said(step) for step in fresh])

    def test_pulses_every_few_minutes_carry_fewer_hours(self):
        plan = make_plan(
            [window("06:00", "18:00", repeat={"on_s": 10, "every_s": 240})],
            [{**entry("on", "06:00"), "repeat": {"on_s": 10, "off_s": 230, "until": "18:00"}}],
        )
        opened = local_instant(plan, at(date(2027, 6, 14), 9))
        output = sheet(plan, opened)[-1]
        self.assertEqual(len(output.spells), 61)
        self.assertLess(output.spells[-1].until, opened + 4 * 3600)


class ClockRunsTest(unittest.TestCase):
    def test_the_clock_runs_on_and_is_moved_at_the_change(self):
        plan = heater()
        opened = local_instant(plan, at(date(2027, 9, 25), 23, 10))
        runs = clock_runs(plan, opened)
        self.assertEqual(len(runs), 2)
        for minutes in range(0, 24 * 60, 30):
            now = opened + minutes * 60
            first, digits = [run for run in runs if run[0] <= now][-1]
            self.assertEqual(digits + now - first, digits_to_set(plan, now))
        turned = np.array([digits - first for first, digits in runs])
        self.assertEqual(np.diff(turned).tolist(), [3600])
