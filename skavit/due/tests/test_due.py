"""The due list: it follows plans, visits and what is planned; it is narrowed, has a month and a day, and is a crew's own."""

import datetime as dt
from datetime import UTC, datetime

from django.urls import reverse

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan import edits
from skavit.core.plan.overrides import Mode, Override
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.customer.services import make_link
from skavit.due.models import Due, Planned
from skavit.due.services.keeping import keep_lasting
from skavit.sites.services import save_site
from skavit.units.services import revisions
from skavit.units.tests.one_unit import OneUnitCase
from skavit.visits.tests.builders import LEFT, new_token, written

# Wednesday 12 May 2027, 09:00 in Hawke's Bay.
NOW = int(datetime(2027, 5, 11, 21, tzinfo=UTC).timestamp())


class DueCase(OneUnitCase):
    def setUp(self):
        super().setUp()
        stop_clock(self, NOW)

    def visit(self, **fields):
        data = written(LEFT | fields) | {"token": new_token(), "revision": self.unit.head.number, "end": "1"}
        answer = self.client.post(
            reverse("visit-save", args=[self.unit_pk]), data, headers={"Accept": "application/json"}
        )
        self.assertTrue(answer.json()["ended"], answer.json()["errors"])

    def edit(self, change):
        unit = self.unit
        revisions.edit(unit, member(self.crew), unit.head.number, change, "changed", now=NOW)

    def sorts(self):
        return list(Due.objects.filter(unit=self.unit_pk).order_by("pk").values_list("sort", "date"))

    def plan(self, unit=None, **data):
        return self.client.post(reverse("plan-visit", args=[unit or self.unit_pk]), data)

    def listed(self, name="due", **query):
        return self.client.get(reverse(name), query)


class KeepingTest(DueCase):
    def test_it_follows_the_plan_and_the_visits(self):
        self.assertEqual([sort for sort, _ in self.sorts()], ["findings"])
        self.edit(lambda plan: edits.replace(plan, overrides=(Override(at=0, channel=1, setting=Mode(word="on")),)))
        self.assertIn(("by-hand", None), self.sorts())
        self.visit(battery_date="11 May 2027", suspended="date", suspended_until="20 May")
        self.assertIn(("battery", dt.date(2031, 5, 11)), self.sorts())
        self.assertIn(("suspended", dt.date(2027, 5, 20)), self.sorts())
        self.assertNotIn("not-keyed", dict(self.sorts()))
        self.edit(lambda plan: edits.remove_entry(plan, 0))
        self.assertIn(("not-keyed", None), self.sorts())
        self.visit(left_mode="off by hand")
        self.assertIn(("battery", dt.date(2031, 5, 11)), self.sorts())
        self.assertNotIn("not-keyed", dict(self.sorts()))
        self.assertNotIn("suspended", dict(self.sorts()))

    def test_a_battery_seen_low_is_due_until_it_is_changed(self):
        self.visit(battery_date="11 May 2026")
        self.assertIn(("battery", dt.date(2030, 5, 11)), self.sorts())
        self.visit(battery="low")
        self.assertIn(("battery", None), self.sorts())
        self.visit(battery="good")
        self.assertIn(("battery", None), self.sorts())  # nobody has changed it
        self.visit(battery="low", battery_date="12 May 2027")
        self.assertIn(("battery", dt.date(2031, 5, 12)), self.sorts())

    def test_what_was_left_by_hand_is_due_no_longer_than_it_lasts(self):
        day = NOW // DAY_S
        held = [(day - 2, "on"), (day + 2, "auto")]
        self.edit(
            lambda plan: edits.replace(
                plan, overrides=tuple(Override(at=d * DAY_S, channel=1, setting=Mode(word=w)) for d, w in held)
            )
        )
        self.assertIn(("by-hand", None), self.sorts())
        stop_clock(self, NOW + 4 * DAY_S)
        keep_lasting(NOW + 4 * DAY_S)
        self.assertNotIn("by-hand", dict(self.sorts()))

    def test_a_link_ends(self):
        instant = datetime.fromtimestamp(NOW, UTC)
        make_link(self.unit, member(self.crew), language="en", whom="", days=30, instant=instant)
        self.assertIn(("link", dt.date(2027, 6, 11)), self.sorts())
        self.client.post(reverse("link-back", args=[self.unit_pk, self.unit.share_links.get().pk]))
        self.assertNotIn("link", dict(self.sorts()))

    def test_a_visit_is_planned_and_done(self):
        person = member(self.crew).user
        self.plan(person=person.pk, date="14 May", note="with the ladder")
        self.assertIn(("planned", dt.date(2027, 5, 14)), self.sorts())
        self.assertContains(self.listed(), "with the ladder")
        self.assertContains(self.listed(person=person.pk), "Path lights")
        self.assertNotContains(self.listed(person=member(self.crew, "viewer").user.pk), "Path lights")
        self.visit()
        self.assertFalse(Planned.objects.exists())
        self.assertNotIn("planned", dict(self.sorts()))
        self.plan(person="", date="")
        self.assertFalse(Planned.objects.exists())

    def test_nobody_of_another_crew_is_sent_and_what_is_typed_stays(self):
        stranger = member(make_crew("Other crew")).user
        answer = self.plan(person=stranger.pk, date="thirteenth", note="ladder")
        self.assertContains(answer, 'value="ladder"', status_code=422)
        self.assertFalse(Planned.objects.exists())


class ListTest(DueCase):
    def test_it_is_narrowed_by_name_area_kind_and_sort(self):
        site = self.unit.site
        save_site(member(self.crew), site, {"name": site.name, "latitude": site.latitude, "longitude": site.longitude,
                                            "timezone": site.timezone, "area": "Ahuriri"})  # fmt: skip
        other = make_unit(self.crew, site="Tower road", name="Signs")
        page = self.listed()
        self.assertContains(page, "Path lights")
        self.assertContains(page, "Signs")
        self.assertContains(page, "Ahuriri")
        for query, shown, hidden in (
            ({"area": "Ahuriri"}, "Path lights", "Signs"),
            ({"q": "tower"}, "Signs", "Path lights"),
        ):
            rows = self.client.get(reverse("due"), query, headers={"HX-Request": "true"})
            self.assertContains(rows, shown)
            self.assertNotContains(rows, hidden)
        self.assertContains(self.listed(sort="battery"), "Nothing of that is due.")
        self.assertContains(self.listed(kind="99", person="x", page="y", sort="z"), "Nothing of that is due.")
        other.archived = dt.datetime.now(tz=UTC)
        other.save()
        self.assertNotContains(self.listed(), "Signs")

    def test_the_home_page_tells_the_first_of_it(self):
        self.plan(date="14 May", note="with the ladder")
        home = self.client.get(reverse("round"))
        self.assertContains(home, "Visit planned")
        self.assertContains(home, "Fri 14 May")

    def test_today_is_that_of_the_crews_sites(self):
        # At nine on Wednesday morning in Hawke's Bay it is still Tuesday in Greenwich.
        self.plan(date="12 May")
        self.assertNotContains(self.listed(), "since Wed")
        self.assertEqual(self.listed("due-day").context["date"], dt.date(2027, 5, 12))
        self.plan(date="11 May")
        self.assertContains(self.listed(), "since Tue 11 May")

    def test_a_month_and_a_day_in_the_van_by_distance(self):
        far = make_unit(self.crew, site="Aa far away", name="Pump")
        save_site(member(self.crew), far.site, {"name": "Aa far away", "latitude": -36.8, "longitude": 174.7, "timezone": "Pacific/Auckland"})  # fmt: skip
        near = make_unit(self.crew, site="Bluff", name="Gate")
        for unit in (far.pk, self.unit_pk, near.pk):
            self.plan(unit, date="14 May", person=member(self.crew).user.pk)
        month = self.listed("due-month", month="2027-05-01")
        self.assertContains(month, "May 2027")
        self.assertContains(month, "visit planned", count=3)
        self.assertNotContains(month, "Nothing is due on a date")
        empty = self.listed("due-month", month="2026-02-01")
        self.assertContains(empty, "Nothing is due on a date in Feb 2026.")
        day = self.listed("due-day", date="2027-05-14", start=far.site_id)
        self.assertEqual(next(stop.name for stop in day.context["stops"]), "Aa far away")
        self.assertContains(day, "km on")
        self.assertContains(self.listed("due-day", date="never"), "No visit is planned")

    def test_the_list_asks_as_many_questions_for_many_units_as_for_few(self):
        make_unit(self.crew, site="Second", name="Second")
        with self.assertNumQueries(9):
            self.listed()
        for number in range(4):
            make_unit(self.crew, site=f"Site {number}", name=f"Unit {number}")
        with self.assertNumQueries(9):
            self.listed()
