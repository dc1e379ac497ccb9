"""From looks to the cause: each fault is put into a unit, looked at, and asked for. The looks are a day's, told by the hour."""

import copy
import json
import unittest
from datetime import date

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.causes.fault import Cause
from skavit.core.causes.looks import MAX_LOOKS, Look, read_looks
from skavit.core.causes.ranking import find_causes
from skavit.core.causes.texts import cause_text, check_text
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.budget import Budget
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number, day_of, local_datetime_text
from skavit.core.simulation.replay import replay
from skavit.core.tests.builders import WEEK, document, entry
from skavit.core.tests.commanding import CommandTest
from skavit.core.text.wording import PLAIN, Words

TUESDAY = day_number(date(2027, 5, 11))
HOURS = ("05:55", "12:20", "17:45", "20:00", "22:00", "23:10")


def path_lights(**unit):
    """The plan of the page: evening to 22:40, weekday mornings to sunrise, with a correction."""
    entries = [
        entry("on", "sunset+10"),
        entry("off", "22:40"),
        entry("on", "05:20", "weekdays"),
        entry("off", "sunrise"),
    ]
    sun = {"source": "site", "adjust": {"sunrise_min": 21, "sunset_min": -14}}
    return document([], entries, **({"sun": sun} | unit))


def looked_at(faulty, *, first=TUESDAY, hours=HOURS, days=1, blank=False, display=("shows", "date", "weekday")):
    """What somebody sees of a unit at some hours of some days; ``blank``: its clock has lost its time."""
    run = replay(read_plan(Node(faulty)), day_of(first), day_of(first + days))
    found = []
    for digits in sorted(
        Look.read(Node({"at": f"{day_of(first + d)}T{hour}"})).at for d in range(days) for hour in hours
    ):
        at = run.site_clock.first(np.array([digits]))
        shown = int(run.unit_clock.shows(at)[0])
        text = local_datetime_text(shown)
        read = {"shows": text[11:16], "date": text[:10], "weekday": WEEK[day_of(shown // DAY_S).weekday()]}
        outputs = [bool(channel.actual.at(at)[0]) for channel in run.channels]
        found.append(
            {"at": local_datetime_text(digits), "outputs": outputs}
            | {key: None if blank else read[key] for key in display}
        )
    return found


def ask(plan, looks):
    read = read_plan(Node(plan))
    return find_causes(read, read_looks(Node({"looks": looks}), read))


def faulted(change, **unit):
    plan = path_lights(**unit)
    change(plan)
    return plan


def clock(**keys):
    return lambda plan: plan["unit"].setdefault("clock", {}).update(keys)


def slot(number, **keys):
    return lambda plan: plan["unit"]["entries"][number - 1].update(keys)


def by_hand(setting):
    began = local_datetime_text((TUESDAY - 2) * DAY_S + 36_000)
    return lambda plan: plan.update(overrides=[{"at": began, "channel": 1, "set": setting}])


FAULTS = (
    ("clock-hour", None, clock(error_s=-3600)),
    ("clock-half-day", None, clock(error_s=43_200)),
    ("clock-date", None, clock(error_s=-31_536_000)),
    ("clock-date", None, clock(error_s=2 * DAY_S)),
    ("clock-minutes", None, clock(error_s=-1_380)),
    ("clock-minutes", None, clock(error_s=-29_400)),  # 8 h 10 min: a display that says 4:10 at 12:20
    ("left-on", None, by_hand("on")),
    ("left-off", None, by_hand("off")),
    ("holiday-running", None, by_hand({"holiday_days": 30})),
    ("entry-lost", 1, lambda plan: plan["unit"]["entries"].pop(0)),
    ("entry-lost", 2, lambda plan: plan["unit"]["entries"].pop(1)),
    ("entry-half-day", 2, slot(2, at="10:40")),
    ("sun-swapped", 1, slot(1, at="sunrise+10")),
    (
        "wrong-place",
        None,
        lambda plan: plan["unit"]["sun"].update(source="coordinates", latitude=39.49, longitude=176.91),
    ),
    ("entry-stray", None, lambda plan: plan["unit"]["entries"].append(entry("on", "11:00"))),
)


class EachFaultTest(unittest.TestCase):
    def test_it_is_named_first_or_second(self):
        seen = {
            "entry-half-day": [*HOURS, "02:00"],  # at two it burns, by noon it is off
            "wrong-place": ["07:02", "07:28", "17:05", "17:45", "20:00"],
            "entry-stray": [*HOURS, "16:00", "10:30"],
        }
        for cause, place, change in FAULTS:
            with self.subTest(cause=cause, slot=place):
                days = 2 if cause == "entry-half-day" else 1
                first = TUESDAY + (142 if cause == "sun-swapped" else 0)  # in May the other hemisphere explains it too
                faulty = faulted(change)
                found = ask(path_lights(), looked_at(faulty, hours=seen.get(cause, HOURS), days=days, first=first))
                named = [(likely.fault.cause.value, likely.fault.slot) for likely in found.likely[:2]]
                self.assertIn((cause, place), named)
                self.assertTrue(found.all_explained)

    def test_a_correction_that_is_lost_shows_between_the_two_sunsets(self):
        bare = path_lights(sun={"source": "site"})
        found = ask(path_lights(), looked_at(bare, hours=["07:10", "07:40", "17:18", "17:25"]))
        self.assertIn(Cause.CORRECTION_LOST, [likely.fault.cause for likely in found.likely[:2]])

    def test_another_rule_shows_when_the_law_changes_and_the_unit_does_not(self):
        spring = day_number(date(2027, 9, 25))  # New Zealand's clocks go ahead on the 26th
        looks = looked_at(faulted(clock(dst="none")), first=spring, days=3, hours=["12:00", "19:00"])
        self.assertEqual(ask(path_lights(), looks).likely[0].fault.cause, Cause.RULE_DIFFERS)

    def test_a_clock_that_lost_its_time_shows_nothing_and_does_nothing(self):
        looks = looked_at(path_lights(), blank=True)
        for look in looks:
            look["outputs"] = [False]
        found = ask(path_lights(), looks)
        self.assertEqual(found.likely[0].fault.cause, Cause.CLOCK_STOPPED)
        self.assertEqual(found.likely[0].explains, len(looks))

    def test_a_clock_that_stands_still_shows_the_same_twice_and_keeps_the_output(self):
        looks = [
            {"at": "2027-05-11T20:00", "shows": "19:30", "outputs": [True]},
            {"at": "2027-05-11T23:30", "shows": "19:30", "outputs": [True]},
        ]
        first = ask(path_lights(), looks).likely[0]
        self.assertEqual(first.fault.cause, Cause.CLOCK_STOPPED)
        self.assertEqual(
            cause_text(first.fault, read_plan(Node(path_lights())), PLAIN), "The clock stands still at 19:30."
        )

    def test_a_clock_that_is_further_out_each_time_drifts(self):
        looks = [
            {"at": f"2027-05-{day:02d}T12:00", "shows": shows}
            for day, shows in ((1, "12:03"), (11, "12:13"), (21, "12:23"))
        ]
        first = ask(path_lights(), looks).likely[0]
        self.assertTrue(first.fault.drifts)
        self.assertEqual(first.explains, 3)

    def test_left_on_by_hand_since_one_of_the_looks(self):
        looks = looked_at(path_lights(), hours=["12:20", "23:10"], days=2)
        for look in looks[2:]:
            look["outputs"] = [True]
        self.assertEqual(ask(path_lights(), looks).likely[0].fault.cause, Cause.LEFT_ON)

    def test_one_channel_of_two_is_left(self):
        plan = document(
            channels=[[], []], entries=[entry("on", "18:00", channels=(1, 2)), entry("off", "22:00", channels=(1, 2))]
        )
        looks = looked_at(plan)
        for look in looks:
            look["outputs"][1] = True
        first = ask(plan, looks).likely[0]
        self.assertEqual((first.fault.cause, first.fault.channels), (Cause.LEFT_ON, (2,)))


class LooksTest(unittest.TestCase):
    @settings(max_examples=25)
    @given(
        first=st.integers(TUESDAY, TUESDAY + 360),
        hours=st.lists(st.integers(0, 95), min_size=1, max_size=6, unique=True),
        error=st.sampled_from([0, 3600, -43_200, 600, 5 * DAY_S]),
    )
    def test_looks_at_a_unit_are_explained_by_what_was_done_to_it(self, first, hours, error):
        """Whatever the date and the hours: the fault put in explains all of the looks, and none stands first without it."""
        times = [f"{quarter // 4:02d}:{quarter % 4 * 15:02d}" for quarter in hours]
        faulty = faulted(clock(error_s=error)) if error else path_lights()
        found = ask(path_lights(), looked_at(faulty, first=first, hours=times))
        causes = {0: Cause.NONE, 3600: Cause.CLOCK_HOUR, -43_200: Cause.CLOCK_HALF_DAY, 600: Cause.CLOCK_MINUTES}
        best = next(likely for likely in found.likely if likely.fault.cause is causes.get(error, Cause.CLOCK_DATE))
        self.assertEqual(best.explains, len(times))
        self.assertTrue(found.all_explained)

    def test_a_right_weekday_leaves_whole_weeks_and_years_open(self):
        """Where the weekday was read and not the date: a week, a year, day and month turned round are still tried."""
        for days in (-14, 7, day_number(date(2028, 5, 11)) - TUESDAY, day_number(date(2027, 11, 5)) - TUESDAY):
            looks = looked_at(faulted(clock(error_s=days * DAY_S)), days=3, display=("shows", "weekday"))
            found = ask(path_lights(), looks)
            (dated,) = (likely for likely in found.likely[:3] if likely.fault.cause is Cause.CLOCK_DATE)
            self.assertEqual(dated.explains, len(looks), days)

    def test_the_check_names_a_look_that_tells_the_first_from_the_next(self):
        """Done: the two units are run as the check says, and differ there."""
        looks = looked_at(faulted(lambda plan: plan["unit"]["entries"].pop(0)), hours=["20:00", "22:00"], display=())
        found = ask(path_lights(), looks)
        for one, other in zip(found.likely, found.likely[1:], strict=False):
            telling = one.telling
            if telling is None or telling.channel is None:
                continue
            at = one.fault.shown.run.site_clock.first(np.array([telling.at]))
            states = [bool(likely.fault.shown.outputs[0].at(at)[0]) for likely in (one, other)]
            self.assertEqual(states, [bool(telling.first), bool(telling.second)])

    def test_a_display_that_nobody_read_is_asked_for_first(self):
        looks = looked_at(faulted(clock(error_s=43_200)), display=())
        found = ask(path_lights(), looks)
        text = check_text(found.likely[0], found.plan, Words(twelve_hour=True))
        self.assertIn("Read the display", text)
        self.assertIn("11:10 am", text)

    def test_too_many_entries_are_tried_in_part_and_it_is_said(self):
        plan = path_lights()
        self.assertFalse(ask(plan, looked_at(plan)).in_part)
        spent = Budget(0)
        spent.take()
        self.assertTrue(spent.ended)
        crowded = copy.deepcopy(plan)
        crowded["unit"]["entries"] += [entry("off", f"{h:02d}:{m:02d}") for h in range(24) for m in range(0, 60, 3)]
        self.assertTrue(ask(crowded, looked_at(plan)).in_part)


class CommandCausesTest(CommandTest):
    def test_it_prints_the_causes_and_refuses_in_one_line(self):
        plan = self.file("plan.json", json.dumps(path_lights()))
        looks = looked_at(faulted(by_hand("on")))
        found = self.prints("causes", plan, "--looks", self.file("looks.json", json.dumps({"looks": looks})))["causes"]
        self.assertEqual(found[0]["cause"], "left-on")
        self.assertEqual(set(found[0]), {"cause", "slot", "explains", "of", "text", "check"})
        self.assertEqual((found[0]["explains"], found[0]["of"]), (len(looks), len(looks)))
        day = {"at": "2027-05-11T12:20"}
        for wrong, said in (
            ({"looks": []}, "looks"),
            ({}, "looks"),
            ({"looks": [day | {"outputs": [True, None]}]}, "looks[0].outputs"),
            ({"looks": [day | {"shows": "25:00"}]}, "looks[0].shows"),
            ({"looks": [day | {"weekday": "tuesday"}]}, "looks[0].weekday"),
            ({"looks": [day | {"colour": 1}]}, "looks[0].colour"),
            ({"looks": [day] * (MAX_LOOKS + 1)}, "at most"),
            ({"looks": [day, {"at": local_datetime_text((TUESDAY + 500) * DAY_S)}]}, "within 400 days"),
        ):
            with self.subTest(said=said):
                self.assertIn(said, self.refuses("causes", plan, "--looks", self.file("bad.json", json.dumps(wrong))))

    def test_a_unit_that_waters_is_asked_by_its_display(self):
        water = {"stations": [{"name": "Lawn", "flow_l_min": 20.0}], "programs": []}
        site = path_lights()["site"]
        plan = self.file("water.json", json.dumps({"format": "skavit-plan/1", "site": site, "water": water}))
        looks = {"looks": [{"at": "2027-05-11T12:20", "shows": "00:20", "date": "2027-05-11"}]}
        found = self.prints("causes", plan, "--looks", self.file("looks.json", json.dumps(looks)))["causes"]
        self.assertEqual(found[0]["cause"], "clock-half-day")


if __name__ == "__main__":
    unittest.main()
