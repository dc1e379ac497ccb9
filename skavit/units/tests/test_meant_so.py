"""A finding that somebody means so: below the others, off the round and the due list, until its date or another plan."""

import datetime as dt
from datetime import UTC, datetime

from django.urls import reverse

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan import edits
from skavit.crews.tests.builders import member, stop_clock
from skavit.due.models import Due
from skavit.due.services.keeping import keep_lasting
from skavit.units.computing import unit_year
from skavit.units.models import MeantSo
from skavit.units.services import revisions
from skavit.units.tests.one_unit import OneUnitCase

# Wednesday 12 May 2027, 09:00 in Hawke's Bay.
NOW = int(datetime(2027, 5, 11, 21, tzinfo=UTC).timestamp())


class MeantSoTest(OneUnitCase):
    def setUp(self):
        super().setUp()
        stop_clock(self, NOW)
        (self.serious,) = [f for f in unit_year(self.unit.plan, 2027).findings if f.severity != "note"]

    def mean_it(self, until="20 May 2027", reason="the client burns it for the festival", **more):
        return self.post("mean-so", year=2027, finding=self.serious.identity, reason=reason, until=until, **more)

    def on_the_round(self):
        page = self.client.get(reverse("round"), {"serious": "1"}, headers={"HX-Request": "true"})
        return [card.unit.pk for _, cards in page.context["listed"].sites for card in cards]

    def due(self):
        return set(Due.objects.filter(unit=self.unit_pk).values_list("sort", flat=True))

    def test_it_leaves_the_round_and_what_is_due_and_stands_below(self):
        self.assertEqual(self.on_the_round(), [self.unit_pk])
        page = self.mean_it()
        self.assertContains(page, "Meant so until 20 May 2027: the client burns it for the festival")
        self.assertEqual([n.finding.identity for n in page.context["serious"]], [])
        self.assertEqual(self.on_the_round(), [])
        self.assertNotIn("findings", self.due())
        self.assertNotContains(self.client.get(reverse("round")), "order-flips")
        back = self.post("mean-no-longer", year=2027, finding=self.serious.identity)
        self.assertNotContains(back, "the client burns it")
        self.assertEqual(self.on_the_round(), [self.unit_pk])
        self.assertIn("findings", self.due())

    def test_it_comes_back_when_its_date_has_passed(self):
        self.mean_it()
        later = NOW + 9 * DAY_S
        stop_clock(self, later)
        keep_lasting(later)
        self.assertEqual(self.on_the_round(), [self.unit_pk])
        self.assertIn("findings", self.due())
        self.assertEqual(len(self.page(year=2027).context["serious"]), 1)

    def test_it_comes_back_with_another_plan(self):
        self.mean_it()
        unit = self.unit
        change = lambda plan: edits.copy_entry(plan, 0)  # noqa: E731 - an edit of a plan
        revisions.edit(unit, member(self.crew), unit.head.number, change, "one more", now=NOW)
        self.assertEqual(self.on_the_round(), [self.unit_pk])
        self.assertEqual(self.unit.accepted_severity, None)

    def test_what_is_no_date_or_no_reason_is_refused(self):
        for more in ({"until": "soon"}, {"until": "1 May 2027"}, {"reason": " "}):
            with self.subTest(more=more):
                self.assertContains(self.mean_it(**more), "Not kept: a reason, and a date", status_code=422)
        self.assertEqual(self.mean_it(revision=0).status_code, 409)
        self.assertFalse(MeantSo.objects.exists())

    def test_a_viewer_and_another_crew_accept_nothing(self):
        self.client.force_login(member(self.crew, "viewer").user)
        self.assertEqual(self.mean_it().status_code, 403)
        self.assertFalse(MeantSo.objects.exists())
        self.assertEqual(MeantSo(finding="x", until=dt.date(2027, 5, 1)).__str__(), "x until 2027-05-01")
