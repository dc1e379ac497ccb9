"""The round: found by name and by need, a page at a time, in the crew's own clock, with as many queries for many as for few."""

from django.test import TestCase
from django.urls import reverse

from skavit.core.tests.builders import document, entry, window
from skavit.crews.models import Crew
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.round.cards import PAGE
from skavit.round.listing import walked
from skavit.units.models import Unit
from skavit.visits.tests.builders import make_visit

HTMX = {"HTTP_HX_REQUEST": "true"}


class WalkTest(TestCase):
    def test_a_page_goes_on_where_the_last_one_ended(self):
        sizes = [(1, 3), (2, 0), (3, 5), (4, 1)]
        rows = [(site, row) for site, size in sizes for row in range(size)]
        for most in (1, 2, 4, 9, 20):
            with self.subTest(most=most):
                found = []
                for skip in range(0, len(rows) + most, most):
                    page = [(site, row) for site, a, b in walked(sizes, skip, most) for row in range(a, b)]
                    self.assertLessEqual(len(page), most)
                    found += page
                self.assertEqual(found, rows)


class RoundTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        evening = [entry("on", "18:00"), entry("off", "23:00")]
        plan = document([window("18:00", "23:00")], evening)
        cls.calm = make_unit(cls.crew, plan=plan, name="Calm lamp")
        cls.burning = make_unit(cls.crew, name="Burning lamp")

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    def names(self, **query):
        page = self.client.get(reverse("round"), query, **HTMX)
        return [card.unit.name for _, cards in page.context["listed"].sites for card in cards]

    def more_units(self, number):
        Unit.objects.bulk_create(
            Unit(site=self.calm.site, name=f"Row {n:04d}", head=self.calm.head, result=self.calm.result)
            for n in range(number)
        )

    def told(self):
        page = self.client.get(reverse("round"))
        return page.context["calm"], page.context["others"], page.content.decode()

    def test_only_what_was_planned_keyed_and_seen_counts_as_right(self):
        self.assertEqual(self.told()[:2], (0, ["1 never visited"]))
        make_unit(self.crew, plan=None, name="New lamp")
        make_unit(self.crew, plan=document([window("18:00", "23:00")], []), name="Asked lamp")
        calm, others, page = self.told()
        # What is wanted and not keyed is missing all year: it needs somebody.
        self.assertEqual((calm, others), (0, ["1 not planned", "1 never visited"]))
        self.assertIn("1 not planned, 1 never visited.", page)
        make_visit(self.calm, member(self.crew))
        self.assertEqual(self.told()[:2], (1, ["1 not planned"]))

    def test_found_by_name_and_by_need(self):
        self.assertEqual(self.names(), ["Burning lamp", "Calm lamp"])
        self.assertEqual(self.names(q="calm"), ["Calm lamp"])
        self.assertEqual(self.names(serious="1"), ["Burning lamp"])
        self.assertEqual(self.names(q=self.calm.site.name[:4]), ["Burning lamp", "Calm lamp"])
        self.assertEqual(self.names(q="nothing like it"), [])
        page = self.client.get(reverse("round"), {"q": "calm"})
        self.assertContains(page, "Calm lamp")
        self.assertContains(page, 'value="calm"')

    def test_page_by_page_every_unit_once(self):
        self.more_units(2 * PAGE)
        found, page = [], "?page=1"
        while page:
            shown = self.client.get(reverse("round") + page, **HTMX)
            found += [card.unit.pk for _, cards in shown.context["listed"].sites for card in cards]
            page = shown.context["listed"].following
        self.assertIn("page=3", self.client.get(reverse("round") + "?q=&page=2").content.decode())  # without scripts
        self.assertEqual(sorted(found), sorted(Unit.objects.values_list("pk", flat=True)))
        self.assertEqual(found, list(Unit.objects.order_by("site__name", "name").values_list("pk", flat=True)))

    def test_as_many_queries_for_many_as_for_few(self):
        self.client.get(reverse("round"))
        for number in (0, 300):
            with self.subTest(number=number):
                self.more_units(number)
                with self.assertNumQueries(11):
                    self.client.get(reverse("round"))

    def test_a_crew_of_twelve_hours_reads_them_on_the_round_too(self):
        page = self.client.get(reverse("round"))
        self.assertContains(page, "On, not wanted, from 05:50")
        Crew.objects.update(twelve_hour=True)
        page = self.client.get(reverse("round"))
        self.assertContains(page, "On, not wanted, from 5:50 am")
        self.assertNotContains(page, "On, not wanted, from 05:50")
