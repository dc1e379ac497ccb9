"""What a crew's own visits teach of a kind: on its page, and in the next battery's date."""

import datetime as dt
from datetime import UTC, datetime
from uuid import uuid4

from django.test import TestCase
from django.urls import reverse

from skavit.core.ground.arrays import DAY_S
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.due.models import Due
from skavit.visits.learning import learned_of
from skavit.visits.services.visits import Found, end_visit, take_up

# Tuesday 12 May 2026, 09:00 in Hawke's Bay, and the same a year on.
FIRST = int(datetime(2026, 5, 11, 21, tzinfo=UTC).timestamp())
SLUG = "panel-switch-one-channel-by-coordinates"


class LearningTest(TestCase):
    def setUp(self):
        self.crew = make_crew()
        self.client.force_login(member(self.crew).user)

    def unit(self, name):
        unit = make_unit(self.crew, name=name)
        unit.shipped_kind = SLUG
        unit.save()
        return unit

    def visit(self, unit, instant, **shown):
        stop_clock(self, instant)
        at = datetime.fromtimestamp(instant, UTC)
        visit = take_up(unit, member(self.crew), uuid4(), at)
        battery = shown.pop("battery_date", None)
        read = {"battery_date": battery} if battery else {}
        found = Found(shown=shown, lines="", entries=tuple(shown.pop("entries", ())))
        end_visit(visit, member(self.crew), found=found, keyed=unit.head, steps=[], read=read, instant=at)

    def test_a_year_of_two_units(self):
        for name, later in (("One", "09:04"), ("Two", "09:06")):
            unit = self.unit(name)
            self.visit(unit, FIRST, time="09:00", battery_date="2026-05-12")
            self.visit(unit, FIRST + 365 * DAY_S, time=later, battery_date="2027-05-12")
        found = learned_of(self.crew, SLUG)
        # Four and six minutes in 365 days: the middle is five in a year, and the batteries were changed after twelve months.
        self.assertAlmostEqual(found.fast_s_a_year, 300 * 365.25 / 365)
        self.assertEqual((found.units, found.drifts, found.battery_months, found.batteries), (2, 2, 12, 2))
        page = self.client.get(reverse("kind", args=[SLUG]))
        self.assertContains(page, "2 units: after a year a clock is 5 min ahead (2 readings)")
        self.assertContains(page, "Batteries last 12 months (2 batteries)")
        # The kind's own figure is four years; the record's is one.
        due = Due.objects.get(unit=unit, sort="battery")
        self.assertEqual((due.date, due.count), (dt.date(2028, 5, 12), 2))
        self.assertContains(self.client.get(reverse("due")), "Change its battery, by the 2 batteries before it")

    def test_what_was_found_wrong_is_counted(self):
        unit = self.unit("One")
        keyed = unit.plan.unit.entries
        self.visit(unit, FIRST, time="09:00", mode="automatic", entries=keyed[:1])  # nothing was keyed before
        self.visit(unit, FIRST + 30 * DAY_S, time="09:07", mode="on by hand", entries=keyed)
        self.visit(unit, FIRST + 60 * DAY_S, time="08:50", mode="automatic", entries=keyed[:-1])
        self.assertEqual(
            learned_of(self.crew, SLUG).lines()[-1],
            "Found at 3 visits: a clock out by more than five minutes 2 times, left out of automatic 1 time, "
            "other entries than were keyed 1 time",
        )

    def test_another_crew_learns_nothing_of_it(self):
        self.visit(self.unit("One"), FIRST, time="09:00")
        other = make_crew("Others")
        self.assertEqual(learned_of(other, SLUG).units, 0)
        self.assertNotContains(self.client.get(reverse("kind", args=[SLUG])), "By your visits")
