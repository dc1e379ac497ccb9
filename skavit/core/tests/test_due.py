"""What needs somebody at a unit, and by when; and the order of a day's places."""

import unittest
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.due.due import Due, Known, Shows, Sort, due_of, months_after
from skavit.core.due.texts import due_text
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number
from skavit.core.site.route import distance_km, nearest_first
from skavit.core.tests.builders import entry, make_plan, switching_kinds
from skavit.core.text.wording import Words

TODAY = day_number(date(2027, 5, 11))
MOVED_BY_HAND = next(kind for kind in switching_kinds() if kind.moved_by_hand)
KEPT_BY_ITSELF = next(kind for kind in switching_kinds() if not kind.moved_by_hand)


def day(text):
    return day_number(date.fromisoformat(text))


def due(plan=None, kind=None, shows=(), **known):
    found = due_of(plan or make_plan([], [entry("on", "18:00")]), kind, shows, Known(**{"today": TODAY} | known))
    return [(one.sort, one.day) for one in found]


class DueTest(unittest.TestCase):
    def test_a_clock_that_is_moved_by_hand_is_due_at_the_next_change_of_the_law(self):
        # New Zealand: the last Sunday of September and the first of April (Time (Daylight) Order 2007).
        self.assertEqual(due(kind=MOVED_BY_HAND), [(Sort.CLOCK_CHANGE, day("2027-09-26"))])
        self.assertEqual(due(kind=KEPT_BY_ITSELF), [])
        # Nobody has been there since March: the change of April is overdue, and stays so.
        self.assertEqual(due(kind=MOVED_BY_HAND, visited=day("2027-03-01")), [(Sort.CLOCK_CHANGE, day("2027-04-04"))])
        by_hand = {"changes": [{"on": "2027-06-01T09:00", "shift_min": 0}], "initial_min": 60}
        plan = make_plan([], [entry("on", "18:00")], clock={"dst": by_hand})
        self.assertEqual(due(plan), [(Sort.CLOCK_CHANGE, day("2027-06-01"))])

    def test_a_kind_that_has_no_rule_for_the_law_here_is_moved_by_hand(self):
        weekly = next(kind for kind in shipped_kinds() if kind.slug == "wall-switch-weekly")  # none, us, eu
        self.assertEqual(due(kind=weekly), [(Sort.CLOCK_CHANGE, day("2027-09-26"))])
        standard = make_plan([], [entry("on", "18:00")], clock={"dst": "none"})
        self.assertEqual(due(standard, kind=weekly), [])

    def test_batteries_last_as_their_kind_says(self):
        self.assertEqual(due(battery=day("2025-02-28")), [(Sort.BATTERY, day("2029-02-28"))])
        seasonal = next(kind for kind in shipped_kinds() if kind.power.battery_months == 12)
        self.assertIn((Sort.BATTERY, day("2027-10-01")), due(kind=seasonal, battery=day("2026-10-01")))

    def test_holidays_with_their_year_run_out(self):
        plan = make_plan(
            [], [entry("on", "18:00")], holidays=[{"from": "2027-12-25", "days": 4}, {"from": "12-31", "days": 1}]
        )
        self.assertEqual(due(plan), [(Sort.HOLIDAYS, day("2027-12-29"))])

    def test_the_program_of_a_season_is_due_on_its_date(self):
        keyings = [
            {"from": "04-04", "name": "Winter", "entries": [entry("on", "17:00")]},
            {"from": "09-26", "entries": []},
        ]
        plan = make_plan([], [], keyings=keyings)
        self.assertEqual(due(plan, today=day("2027-07-01")), [(Sort.SEASON, day("2027-09-26"))])
        # Nobody has been there since March: the winter's has been due since April.
        late = due(plan, visited=day("2027-03-01"), today=day("2027-07-01"))
        self.assertEqual(late, [(Sort.SEASON, day("2027-04-04"))])

    def test_a_winter_is_laid_up_and_started_up_on_its_days(self):
        winter = {"from": "05-15", "days": 119}
        water = {"stations": [{"name": "Lawn", "flow_l_min": 10}], "programs": [], "lay_up": winter}
        plan = read_plan(Node(make_plan().to_json() | {"channels": [], "water": water}))
        self.assertEqual(due(plan), [(Sort.LAY_UP, day("2027-05-15")), (Sort.START_UP, day("2027-09-11"))])
        # Nobody came in May: it stays until a visit. Who was there in June still has to start it up.
        self.assertEqual(due(plan, visited=day("2027-05-01"), today=day("2027-07-01"))[0],
                         (Sort.LAY_UP, day("2027-05-15")))  # fmt: skip
        self.assertEqual(due(plan, visited=day("2027-06-02"), today=day("2027-07-01")),
                         [(Sort.START_UP, day("2027-09-11")), (Sort.LAY_UP, day("2028-05-15"))])  # fmt: skip

    def test_a_battery_that_was_seen_low_is_due_now(self):
        self.assertEqual(due(battery=day("2027-02-01"), battery_low=True), [(Sort.BATTERY, None)])

    def test_what_was_left_by_hand_is_due_only_while_it_lasts(self):
        shows = [
            Shows(code="not-in-auto", serious=True, lasts=False),
            Shows(code="left-off", serious=True, lasts=False),
        ]
        self.assertEqual(due(shows=shows), [])

    def test_a_link_ends_on_its_day(self):
        self.assertEqual(due(links_end=TODAY + 30), [(Sort.LINK, TODAY + 30)])

    def test_programs_of_summer_and_winter_of_a_controller_are_due_on_their_dates(self):
        def program(name, between):
            days = {"days": "daily", "between": between}
            return {"name": name, "days": days, "starts": ["05:00"], "runs": [{"station": 1, "run_min": 10}]}

        programs = [program("S", ["10-01", "03-31"]), program("W", ["04-01", "09-30"])]
        water = {"stations": [{"name": "Lawn", "flow_l_min": 10}], "programs": programs}
        plan = read_plan(Node(make_plan().to_json() | {"channels": [], "water": water}))
        self.assertEqual(due(plan), [(Sort.SEASON, day("2027-10-01"))])
        self.assertEqual(due(plan, visited=day("2027-03-01"))[0], (Sort.SEASON, day("2027-04-01")))

    def test_what_the_last_visit_left_and_what_the_year_shows(self):
        shows = [
            Shows(code="not-in-auto", serious=True),
            Shows(code="sun-differs", serious=True),
            Shows(code="left-high", serious=False),
            Shows(code="order-flips", serious=True),
            Shows(code="close-call", serious=False),
        ]
        self.assertEqual(
            due(shows=shows, left="off by hand", suspended=True, suspended_until=TODAY + 9, keyed_anew=True),
            [
                (Sort.BY_HAND, None),
                (Sort.NOT_KEYED, None),
                (Sort.SUN, None),
                (Sort.SEASON_LEFT, None),
                (Sort.FINDINGS, None),
                (Sort.SUSPENDED, TODAY + 9),
            ],
        )
        # Left off by the plan without an end goes before the day that a visit named.
        self.assertEqual(
            due(shows=[Shows(code="left-off", serious=True)], suspended=True, suspended_until=TODAY),
            [(Sort.SUSPENDED, None)],
        )

    def test_each_is_said_in_words(self):
        words = Words(summer="summer time")
        told = [due_text(sort, 2, words) for sort in Sort]
        self.assertEqual(len(set(told)), len(Sort))
        self.assertIn("move its clock by hand, for summer time", told)

    @given(st.dates(date(2000, 1, 1), date(2040, 12, 31)), st.integers(1, 60))
    def test_months_after_keep_the_day_or_the_months_last(self, start, months):
        found = date.fromordinal(months_after(day_number(start), months) + date(1970, 1, 1).toordinal())
        self.assertEqual((found.year - start.year) * 12 + found.month - start.month, months)
        self.assertTrue(
            found.day == start.day
            or (found.day < start.day and (found + (date(2000, 1, 2) - date(2000, 1, 1))).day == 1)
        )


class RouteTest(unittest.TestCase):
    def test_distances_on_the_sphere(self):
        # A degree of a great circle is 111.195 km on the mean sphere: pi times 6371.0088 over 180.
        self.assertAlmostEqual(distance_km((0, 0), (0, 1)), 111.195, places=3)
        self.assertAlmostEqual(distance_km((0, 0), (0, 180)), 20015.114, places=2)

    @given(st.lists(st.tuples(st.floats(-60, 60), st.floats(-179, 179)), min_size=1, max_size=8, unique=True))
    def test_each_place_once_and_always_the_nearest_of_those_left(self, places):
        found = nearest_first(places)
        order = [index for index, _ in found]
        self.assertEqual(sorted(order), list(range(len(places))))
        for step, (index, away) in enumerate(found[1:], start=1):
            here = places[order[step - 1]]
            self.assertEqual(away, min(distance_km(here, places[other]) for other in order[step:]))
            self.assertEqual(away, distance_km(here, places[index]))

    def test_none(self):
        self.assertEqual(nearest_first([]), ())
        self.assertEqual(Due(sort=Sort.SUN).day, None)
