"""Relays and two-channel programmers: entries that are kept or bypass, who comes in first, the exit button, and a customer's week."""

import unittest
from datetime import date

from skavit.core.findings import audit
from skavit.core.fitting import fit
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan.document import read_plan
from skavit.core.simulation.replay import replay
from skavit.core.site.clock import zone_clock
from skavit.core.tests.builders import document, entry, make_plan, window

KINDS = {kind.name: kind for kind in shipped_kinds()}
MONDAY = date(2027, 6, 14)


def hours(plan, first, last=None, channel=0):
    """The actual spans of a channel as local times."""
    run = replay(plan, first, last or first)
    spans = run.channels[channel].actual
    clock = zone_clock(plan.site.timezone, first.year - 1, first.year + 1)
    text = lambda at: f"{at % 86400 // 3600:02d}:{at % 3600 // 60:02d}:{at % 60:02d}"  # noqa: E731
    return [(text(int(a)), text(int(b))) for a, b in zip(clock.digits(spans.on), clock.digits(spans.off), strict=True)]


def door(*done, first_in=False, entries=None, **unit):
    rows = (
        [window("07:00", "17:00", "weekdays")],
        entries or [entry("on", "07:00", "weekdays"), entry("off", "17:00", "weekdays")],
    )
    raw = document(*rows, **unit)
    raw["channels"][0]["first_in"] = first_in
    raw["overrides"] = [{"at": f"2027-06-{at}", "channel": 1, "set": setting} for at, setting in done]
    return read_plan(Node(raw))


class DoorTest(unittest.TestCase):
    def test_a_disabled_entry_keeps_its_slot_and_does_nothing(self):
        rows = [
            entry("on", "07:00", "weekdays"),
            entry("off", "17:00", "weekdays"),
            entry("off", "12:00") | {"disabled": True},
        ]
        plan = door(entries=rows)
        self.assertEqual(hours(plan, MONDAY), [("07:00:00", "17:00:00")])
        self.assertEqual(audit(replay(plan, date(2027, 1, 1), date(2027, 12, 31))), ())
        self.assertEqual(read_plan(Node(plan.to_json())), plan)

    def test_a_bypass_frees_the_door_as_an_on_does(self):
        rows = [entry("on", "07:00", "weekdays") | {"bypass": True}, entry("off", "17:00", "weekdays")]
        self.assertEqual(hours(door(entries=rows), MONDAY), [("07:00:00", "17:00:00")])

    def test_a_schedule_arms_when_the_first_person_has_come_in(self):
        came = {"first_in": True}
        for at, want in (("14T07:40", "07:40:00"), ("14T06:30", "07:00:00")):
            plan = door((at, came), first_in=True)
            self.assertEqual(hours(plan, MONDAY), [(want, "17:00:00")])
            self.assertEqual(audit(replay(plan, MONDAY, MONDAY)), ())
        # Nobody until the evening: the door stays shut all day. On the next day nobody is written down.
        plan = door(("14T17:30", came), first_in=True)
        self.assertEqual(hours(plan, MONDAY, date(2027, 6, 15)), [("07:00:00", "17:00:00")])
        self.assertEqual(hours(door(("14T07:40", came)), MONDAY), [("07:00:00", "17:00:00")])

    def test_an_exit_button_frees_the_door_for_seconds(self):
        plan = door(("14T19:00", {"exit_s": 5}), ("14T16:59:58", {"exit_s": 5}))
        self.assertEqual(hours(plan, MONDAY), [("07:00:00", "17:00:03"), ("19:00:00", "19:00:05")])
        for wrong in ({"exit_s": 0}, {"exit_s": 2.5}, {"first_in": False}):
            with self.assertRaises(PlanError):
                door(("14T19:00", wrong))

    def test_a_holiday_that_begins_while_the_relay_is_on_leaves_it_on(self):
        rows = [entry("on", "18:00"), entry("off", "06:00")]
        plan = make_plan([window("18:00", "06:00")], rows, holidays=[{"from": "2027-06-15", "days": 2}])
        found = [
            f for f in audit(replay(plan, date(2027, 6, 1), date(2027, 6, 30))) if f.code == "held-through-holiday"
        ]
        self.assertEqual([f.severity for f in found], ["danger"])

    def test_a_yearly_unit_holds_a_working_week_a_pulse_and_eleven_holidays_under_the_us_rule(self):
        kind = KINDS["Yearly relay timer"]
        holidays = [{"from": f"2027-{month:02d}-05", "days": 1} for month in range(1, 12)]
        bell = window("08:25", "08:26", "weekdays") | {"repeat": {"on_s": 5, "every_s": 60}}
        plan = make_plan(channels=[[window("06:45", "17:30", "weekdays")], [bell]], holidays=holidays)
        raw = fit(plan_for_kind(plan, kind), 2027).plan.to_json()
        raw["unit"]["clock"] = {"dst": "us"}
        made = read_plan(Node(raw))
        self.assertEqual([e.action for e in made.unit.entries], ["on", "off", "pulse"])
        self.assertEqual(made.unit.entries[2].pulse_s, 5)
        run = replay(made, date(2027, 7, 5), date(2027, 7, 6))
        # 5 July is a holiday: nothing acts. On the 6th winter rules here, and the US rule puts its clock an hour ahead.
        self.assertEqual(hours(made, date(2027, 7, 6)), [("05:45:00", "16:30:00")])
        self.assertEqual(run.channels[0].actual.total_s, int(10.75 * 3600))
        codes = {f.code for f in audit(replay(made, date(2027, 1, 1), date(2027, 12, 31)))}
        self.assertIn("dst-differs", codes)
        self.assertNotIn("over-capacity", codes)


class ProgrammerTest(unittest.TestCase):
    """A customer's week: heating twice on workdays and once at weekends, hot water once a day."""

    HEATING = (
        window("06:30", "09:00", "weekdays"),
        window("16:00", "21:30", "weekdays"),
        window("08:00", "22:00", "weekends"),
    )
    WATER = (window("05:30", "07:30"),)

    def plan(self, *done):
        kind = KINDS["Heating programmer, three periods"]
        plan = plan_for_kind(make_plan(channels=[list(self.WATER), list(self.HEATING)]), kind)
        raw = fit(plan, 2027).plan.to_json()
        raw["overrides"] = [{"at": at, "channel": 2, "set": setting} for at, setting in done]
        return read_plan(Node(raw))

    def test_it_is_held_in_three_periods_and_does_what_is_wanted(self):
        plan = self.plan()
        self.assertEqual(audit(replay(plan, date(2027, 1, 1), date(2027, 12, 31))), ())
        self.assertEqual(hours(plan, MONDAY, channel=1), [("06:30:00", "09:00:00"), ("16:00:00", "21:30:00")])
        self.assertEqual(hours(plan, date(2027, 6, 19), channel=1), [("08:00:00", "22:00:00")])

    def test_a_boost_of_45_minutes(self):
        plan = self.plan(("2027-06-14T12:00", {"boost_min": 45}))
        self.assertEqual(hours(plan, MONDAY, channel=1)[1], ("12:00:00", "12:45:00"))

    def test_advance_to_the_next_period_and_on(self):
        plan = self.plan(("2027-06-14T14:30", "auto-on"))
        self.assertEqual(hours(plan, MONDAY, channel=1)[1], ("14:30:00", "21:30:00"))

    def test_ten_days_away_end_at_the_same_hour_and_any_key_ends_them(self):
        away = ("2027-06-14T08:00", {"holiday_days": 10})
        plan = self.plan(away)
        self.assertEqual(hours(plan, MONDAY, date(2027, 6, 23), channel=1), [("06:30:00", "08:00:00")])
        # Ten days on is Thursday the 24th, 8 in the morning: the rest of that morning's period is there again.
        self.assertEqual(hours(plan, date(2027, 6, 24), channel=1)[0], ("08:00:00", "09:00:00"))
        ended = self.plan(away, ("2027-06-16T17:00", "auto"))
        self.assertEqual(hours(ended, date(2027, 6, 16), channel=1), [("17:00:00", "21:30:00")])
