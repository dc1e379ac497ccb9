"""Two faults in one unit, and the faults of units that water and hold temperatures: each is put in, looked at, and asked for."""

import unittest
from dataclasses import replace
from datetime import date

import numpy as np

from skavit.core.causes import cause_text, check_text, find_causes, read_looks
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import LOCAL_DATETIME, day_number, day_of
from skavit.core.plan.water_edits import with_water
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import document, entry, make_plan, window
from skavit.core.text.wording import PLAIN
from skavit.core.water.stack import stack

EVENING = make_plan([window("18:00", "22:00")], [entry("on", "18:00"), entry("off", "22:00")])


def at_local(run, text):
    return run.site_clock.first(np.array([LOCAL_DATETIME.read(Node(text))]))


def seen_on(faulty, times):
    """What the first channel of a faulty unit shows at local times."""
    days = [day_of(LOCAL_DATETIME.read(Node(text)) // DAY_S) for text in times]
    run = replay(faulty, min(days), max(days))
    return [{"at": text, "outputs": [bool(run.channels[0].actual.at(at_local(run, text))[0])]} for text in times]


def ask(plan, looks):
    return find_causes(plan, read_looks(Node({"looks": looks}), plan))


def garden(starts=("00:00",), **more):
    """Six stations, fifteen minutes each, from midnight."""
    stations = [{"name": f"Bed {n}", "flow_l_min": 20 + n} for n in range(1, 7)]
    runs = [{"station": n, "run_min": 15} for n in range(1, 7)]
    program = {"name": "A", "days": "daily", "starts": list(starts), "runs": runs} | more
    return read_plan(Node(document(channels=[]) | {"water": {"stations": stations, "programs": [program]}}))


class PairTest(unittest.TestCase):
    # New Zealand's clocks go ahead on Sunday 26 September 2027; Saturday 2 October is the next.
    TIMES = ("2027-09-25T18:30", "2027-09-27T18:30", "2027-09-28T22:30", "2027-10-01T12:00", "2027-10-02T12:00")

    def named(self, found, most=2):
        return [{(one.fault.cause.value, one.fault.slot) for one in (p.first, p.second)} for p in found.pairs[:most]]

    def test_an_hour_late_since_sunday_and_on_all_saturday(self):
        clock = replace(EVENING.unit.clock, dst=make_plan(clock={"dst": "none"}).unit.clock.dst)
        days = read_plan(Node(document(entries=[entry("off", "22:00", ["sat", "sun", "mon", "tue", "wed", "thu"])])))
        entries = (EVENING.unit.entries[0], replace(EVENING.unit.entries[1], days=days.unit.entries[0].days))
        # The unit is an hour behind from Sunday on, and its standard time is that of its own rule: as keyed in winter.
        faulty = replace(EVENING, unit=replace(EVENING.unit, clock=clock, entries=entries))
        looks = seen_on(faulty, self.TIMES)
        self.assertEqual([look["outputs"][0] for look in looks], [True, False, True, False, True])
        found = ask(EVENING, looks)
        self.assertFalse(found.all_explained)
        self.assertEqual(found.pairs[0].explains, 5)
        told = self.named(found)
        self.assertTrue(any(("entry-days", 2) in pair and (("rule-differs", None) in pair) for pair in told), told)
        # Each says which of the looks it explains.
        pair = next(p for p in found.pairs if ("entry-days", 2) in self.named(found) or p)
        explained = {one.fault.cause.value: one.explained for one in (pair.first, pair.second)}
        self.assertTrue(explained["entry-days"][4] and not explained["rule-differs"][4])
        self.assertTrue(explained["rule-differs"][1] and not explained["entry-days"][1])
        self.assertEqual(cause_text(pair.second.fault, EVENING, PLAIN)[:6], "Slot 2")

    def test_where_one_explains_all_no_pair_is_told(self):
        looks = seen_on(replace(EVENING, unit=replace(EVENING.unit, entries=EVENING.unit.entries[:1])), self.TIMES)
        found = ask(EVENING, looks)
        self.assertTrue(found.all_explained)
        self.assertEqual(found.pairs, ())


class WateringTest(unittest.TestCase):
    NOON = {"at": "2027-01-14T12:20", "since": "2027-01-14T11:40", "watering": True}
    FAR = {"at": "2027-01-15T08:00", "beds": [{"station": 6, "is": "dry", "part": "far"}]}

    def causes(self, found, most=2):
        return {one.fault.cause.value for pair in found.pairs[:most] for one in (pair.first, pair.second)}

    def test_it_watered_at_noon_and_the_far_end_is_dry(self):
        found = ask(garden(), [self.NOON, self.FAR])
        self.assertEqual(found.pairs[0].explains, 2)
        self.assertLessEqual({"start-half-day", "clock-half-day", "pressure-low"}, self.causes(found, 3))
        low = next(p.second for p in found.pairs if p.second.fault.cause.value == "pressure-low")
        check = check_text(low, garden(), PLAIN)
        for figure in ("Run Bed 6 by hand", "200 kPa to 350 kPa", "26 l/min", "cans along the bed"):
            self.assertIn(figure, check)

    def test_each_fault_that_is_put_in_is_first_or_second(self):
        night = [
            f"2027-01-14T{text}" for text in ("00:05", "00:50", "01:20", "02:40", "03:20", "12:05", "12:50", "13:20")
        ]
        plan = garden(["00:00", "02:30"])
        program = plan.water.programs[0]
        cases = {
            "start-half-day": garden(["12:00", "02:30"]),
            "start-lost": garden(["00:00"]),
            "run-lost": with_water(plan, programs=(replace(program, runs=(*program.runs[:3], *program.runs[4:])),)),
            "start-stray": garden(["00:00", "02:30", "12:03"]),
        }
        for cause, faulty in cases.items():
            with self.subTest(cause=cause):
                ran = stack(replay(faulty, date(2027, 1, 14), date(2027, 1, 14)))
                looks = [
                    {"at": text, "stations": [bool(spans.at(at_local(ran.run, text))[0]) for spans in ran.stations]}
                    for text in night
                ]
                found = ask(plan, looks)
                self.assertIn(cause, [one.fault.cause.value for one in found.likely[:3]], cause)
                self.assertTrue(found.all_explained)

    def test_a_bed_that_gets_nothing_is_its_run_or_its_valve(self):
        found = ask(garden(), [{"at": "2027-01-15T08:00", "beds": [{"station": 4, "is": "dry"}]}])
        told = {(one.fault.cause.value, one.fault.station) for one in found.likely if one.explains}
        self.assertLessEqual({("run-lost", 3), ("valve-shut", 3), ("head-blocked", 3)} - {("head-blocked", 3)}, told)
        wet = ask(garden(), [{"at": "2027-01-15T08:00", "beds": [{"station": 4, "is": "wet"}]}])
        self.assertIn("valve-open", [one.fault.cause.value for one in wet.likely[:3]])

    def test_two_beds_in_each_others_place_are_their_wires(self):
        looks = [
            {"at": "2027-01-14T00:20", "stations": [None, None, True, None, None, None]},
            {"at": "2027-01-14T00:35", "stations": [None, True, None, None, None, None]},
        ]
        found = ask(garden(), looks)
        self.assertEqual(found.likely[0].fault.cause.value, "wires-swapped")
        self.assertEqual(
            cause_text(found.likely[0].fault, garden(), PLAIN),
            "The wires of Bed 2 and Bed 3 are in each other's place.",
        )

    def test_what_is_no_look_at_it_is_refused(self):
        for look, said in (
            ({"stations": [True]}, "one for each of 6 stations"),
            ({"beds": [{"station": 9, "is": "dry"}]}, "beds of stations from 1 to 6"),
            ({"beds": [{"station": 1, "is": "green"}]}, "dry"),
            ({"since": "2027-01-16T00:00", "watering": True}, 'a time before "at"'),
        ):
            with self.subTest(look=look), self.assertRaisesRegex(PlanError, said):
                ask(garden(), [{"at": "2027-01-15T08:00"} | look])


class RoomTest(unittest.TestCase):
    def test_a_room_that_is_cold_in_the_morning(self):
        points = [
            {"at": "06:00", "c": 20, "days": "daily"},
            {"at": "09:00", "c": 15, "days": "daily"},
            {"at": "17:00", "c": 20, "days": "daily"},
            {"at": "22:00", "c": 15, "days": "daily"},
        ]
        plan = read_plan(
            Node(document(channels=[]) | {"heat": {"zones": [{"name": "Hall", "wanted": points, "keyed": points}]}})
        )
        looks = [
            {"at": "2027-06-10T07:00", "warm": [False]},
            {"at": "2027-06-10T18:30", "warm": [True]},
            {"at": "2027-06-10T20:00", "warm": [True]},
        ]
        found = ask(plan, looks)
        self.assertIn("point-lost", [one.fault.cause.value for one in found.likely[:2]])
        lost = next(one for one in found.likely if one.fault.cause.value == "point-lost")
        self.assertEqual(
            cause_text(lost.fault, plan, PLAIN), "Hall: the set point of 06:00, every day is not in the unit."
        )


class RangeTest(unittest.TestCase):
    def test_some_time_before_seven(self):
        day = day_number(date(2027, 5, 11))
        found = ask(EVENING, [{"at": f"{day_of(day)}T18:30", "since": f"{day_of(day)}T17:00", "outputs": [True]}])
        self.assertTrue(found.likely[0].fault.cause.value == "none")
        off = ask(EVENING, [{"at": f"{day_of(day)}T21:00", "since": f"{day_of(day)}T18:30", "outputs": [False]}])
        self.assertNotEqual(off.likely[0].fault.cause.value, "none")
