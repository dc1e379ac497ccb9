"""The sheet of a unit that holds temperatures, followed on its keypad, holds just the plan; and a kind and a plan that do not go together."""

import unittest
from datetime import date

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.heat.fitting import fit_heat
from skavit.core.kinds import read_kind, shipped_kinds
from skavit.core.kinds.fields import NO_HOUR
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan.times import day_number
from skavit.core.sheet import steps
from skavit.core.sheet.checking import pressed
from skavit.core.sheet.keypad import Keypad
from skavit.core.sheet.play import played
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import local_instant, make_plan, window
from skavit.core.tests.test_heat import heating, points
from skavit.core.text.wording import PLAIN

HEATING = {kind.name: kind for kind in shipped_kinds() if kind.heating}
WEEK = [
    *points([("06:30", 20.5), ("08:30", 16), ("16:30", 21), ("22:00", 15)], "weekdays"),
    *points([("08:00", 20), ("23:00", 15)], "weekends"),
]
NOON = day_number(date(2027, 2, 16)) * 86400 + 43200


def sheet(kind, wanted=WEEK):
    plan = fit_heat(plan_for_kind(heating(wanted, []), kind), 2027).plan
    run = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
    return plan, steps(plan, run, (), local_instant(plan, NOON), PLAIN, kind, run)


class HeatingKindsTest(unittest.TestCase):
    def test_what_is_followed_is_what_is_keyed(self):
        for kind in HEATING.values():
            with self.subTest(kind=kind.name):
                self.assertEqual(played(kind).wrong, ())
                _, found = sheet(kind)
                keypad = Keypad(kind)
                for step in found:
                    self.assertEqual(step.refused, "")
                    for press in pressed(keypad, step):
                        keypad.press(press)
                self.assertEqual(_held(keypad.rows["points"]), WANTED)

    def test_unused_periods_as_each_unit_says_them(self):
        for name, value in (
            ("Room thermostat, four periods", f"{NO_HOUR}:--"),
            ("Zone programmer, four zones", "23:00"),
        ):
            _, found = sheet(HEATING[name])
            weekend = next(step for step in found if step.kind == "slot" and step.display.days == "Sat, Sun")
            self.assertEqual(weekend.display.rows[2].value, value)
            self.assertIn("not used", weekend.display.rows[2].detail)

    def test_the_last_step_says_what_is_held_as_the_hours_go_on(self):
        _, found = sheet(HEATING["Room thermostat, four periods"])
        self.assertIn("16 °C now. Then 21 °C from 16:30", found[-1].watch[0])
        spells = [spell.step.watch[0].split(" now")[0] for spell in found[-1].spells]
        self.assertEqual(spells, [f"Hall: {c} °C" for c in (16, 21, 15, 20.5, 16, 21, 15)])

    def test_what_a_unit_cannot_hold_is_refused_at_its_step(self):
        kind = HEATING["Room thermostat, four periods"]
        plan = plan_for_kind(heating(points([("06:37", 20), ("22:00", 15)])), kind)
        run = replay(plan, date(2027, 1, 1), date(2027, 12, 31))
        found = steps(plan, run, (), local_instant(plan, NOON), PLAIN, kind)
        self.assertEqual([bool(step.refused) for step in found if step.kind == "slot"], [True])

    def test_a_plan_and_a_kind_that_do_not_go_together(self):
        kind = HEATING["Room thermostat, four periods"]
        other = next(kind for kind in shipped_kinds() if not kind.heating and not kind.watering)
        for plan, of in ((heating(WEEK), other), (make_plan([window("18:00", "22:00")]), kind)):
            with self.assertRaises(PlanError):
                plan_for_kind(plan, of)
        self.assertEqual(plan_for_kind(make_plan(), kind).heat.frost_c, 7)

    def test_a_kind_reads_back(self):
        for kind in shipped_kinds():
            self.assertEqual(read_kind(Node(kind.to_json())), kind)


WANTED = {
    "weekdays": [("06:30", "20.5"), ("08:30", "16.0"), ("16:30", "21.0"), ("22:00", "15.0")],
    "weekends": [("08:00", "20.0"), ("23:00", "15.0")],
}


def _held(periods):
    """What a keypad holds: of each day group the times and degrees, unused periods left out."""
    found = {}
    for (_, day, _), values in periods.items():
        if values["hour"] != NO_HOUR:
            row = (f"{values['hour']}:{values['minute']}", values["degrees"])
            own = found.setdefault("weekends" if day in ("Sa", "Su") else "weekdays", [])
            own += [row] if row not in own else []
    return found
