"""Who changed what: every change of a site, a unit, a kind, the crew and its people, by whoever was logged in."""

from datetime import UTC, datetime

from django.test import TestCase
from django.urls import reverse

from skavit.background.child import do
from skavit.background.services import take_up
from skavit.changes.listing import Asked, changes_page
from skavit.core.kinds import shipped_kinds
from skavit.core.text.wording import PLAIN
from skavit.crews.soft_delete import remove, remove_for_good
from skavit.crews.tests.builders import BAY, make_crew, make_unit, member
from skavit.exchange.importing import ask_import_sites
from skavit.kinds.services import add_kind
from skavit.sites.models import Site
from skavit.units.services.revisions import undo
from skavit.units.services.units import change_unit


class ChangesTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)
        cls.owner = member(cls.crew, "owner")

    def setUp(self):
        self.client.force_login(self.owner.user)

    def changes(self, **asked):
        return changes_page(self.crew, Asked(**asked), PLAIN).changes

    def latest(self, **asked):
        change = self.changes(**asked)[0]
        return change.who, change.subject, [(one.what, one.was, one.now) for one in change.altered]

    def test_a_site(self):
        site = self.unit.site
        sent = {"name": "Harbour walk north", "version": site.version, "area": "Napier", "notes": ""}
        sent |= {"latitude": "-39.5", "longitude": "176.91", "timezone": "Pacific/Auckland"}
        answer = self.client.post(reverse("site-edit", args=[site.pk]), sent)
        self.assertEqual(answer.status_code, 302, answer.content)
        who, subject, altered = self.latest(site=site.pk)
        self.assertEqual((who, subject), (self.owner.user.username, "Harbour walk north"))
        self.assertEqual(
            altered,
            [
                ("name", "Harbour walk", "Harbour walk north"),
                ("latitude", "-39.49", "-39.5"),
                ("area", "none", "Napier"),
            ],
        )
        page = self.client.get(reverse("changes"), {"site": site.pk})
        self.assertContains(page, "<del>-39.49</del> <ins>-39.5</ins>")

    def test_a_unit_archived_and_brought_back(self):
        for act, what in (("archive", "archived"), ("back", "no longer archived"), ("remove", "removed")):
            answer = self.client.post(reverse("archive-act", args=["unit", self.unit.pk, act]))
            with self.subTest(act=act):
                self.assertEqual(answer.status_code, 302)
                self.assertEqual(self.latest(unit=self.unit.pk)[2], [(what, "", "")])

    def test_a_plan_by_its_revisions_and_no_row_of_the_unit_for_it(self):
        before = self.unit.changes.count()
        who, subject, altered = self.latest(unit=self.unit.pk)
        self.assertEqual((who, subject), (f"{self.crew} installer", "Path lights, Harbour walk"))
        self.assertEqual(altered, [("plan 2", "", "test plan")])
        undo(self.unit, self.owner, 2, now=1_800_000_000)
        self.assertEqual(self.unit.changes.count(), before)
        self.assertContains(self.client.get(reverse("changes"), {"unit": self.unit.pk}), "from=1&amp;to=2")

    def test_kinds_people_and_the_crew(self):
        kind = add_kind(self.owner, shipped_kinds()[0])
        self.client.post(reverse("person-role", args=[member(self.crew, "viewer").pk]), {"role": "installer"})
        self.client.post(reverse("crew"), {"name": "Test crew", "twelve_hour": "1", "contact": "06 555 0100"})
        found = [(change.subject, [one.what for one in change.altered]) for change in self.changes()[:3]]
        self.assertEqual(
            found,
            [
                ("The crew", ["12-hour clock", "customers call"]),
                (f"{self.crew} viewer", ["may"]),
                (f"Kind {kind.name}", ["added"]),
            ],
        )
        self.assertContains(self.client.get(reverse("changes")), "<del>Viewer</del> <ins>Installer</ins>")

    def test_what_background_work_changes_is_its_persons(self):
        data = b"site,latitude,longitude\nOrchard,-39.6,176.8\n"
        job = ask_import_sites(member(self.crew), data)
        take_up(job.pk)
        do(job.pk)
        self.assertEqual(self.latest()[:2], (f"{self.crew} installer", "Orchard"))

    def test_another_crews_changes_are_not_shown(self):
        other = make_unit(make_crew("Other crew"), site="Their yard")
        self.assertNotContains(self.client.get(reverse("changes")), "Their yard")
        for query in ({"site": other.site_id}, {"unit": other.pk}):
            self.assertEqual(self.client.get(reverse("changes"), query).status_code, 404)

    def test_pages_go_back_to_the_first_change_without_a_gap(self):
        for number in range(70):
            Site.objects.create(crew=self.crew, name=f"Site {number}", **BAY)
        first, second = (changes_page(self.crew, Asked(page=page), PLAIN) for page in (1, 2))
        moments = [change.at for change in first.changes + second.changes]
        self.assertEqual((first.older, second.older), (2, 0))
        self.assertEqual(moments, sorted(moments, reverse=True))
        self.assertEqual(len({(c.at, c.subject, c.altered) for c in first.changes + second.changes}), len(moments))
        self.assertLess(moments[-1], datetime.now(UTC))

    def test_a_page_asks_the_database_the_same_however_much_was_changed(self):
        with self.assertNumQueries(7):
            self.changes()
        for number in range(5):
            Site.objects.create(crew=self.crew, name=f"Site {number}", **BAY)
        with self.assertNumQueries(7):
            self.changes()

    def test_a_unit_whose_site_of_then_is_gone_for_good(self):
        old, new = self.unit.site, Site.objects.create(crew=self.crew, name="New yard", **BAY)
        now = datetime.now(UTC)
        for name, site in (("Lamps", old), ("Lamps", new)):
            change_unit(self.owner, self.unit, name=name, whereabouts="", site=site, now=1_800_000_000)
        remove(self.owner, old, now)
        remove_for_good(self.owner, old)
        moved, renamed = self.changes(unit=self.unit.pk)[:2]
        self.assertEqual([(one.what, one.was, one.now) for one in moved.altered], [("site", "none", "New yard")])
        self.assertEqual((renamed.subject, renamed.altered[0].now), ("Lamps", "Lamps"))

    def test_removed_for_good_nothing_is_left_of_it(self):
        site = Site.objects.create(crew=self.crew, name="Gone", **BAY)
        past = Site.history.filter(id=site.pk)
        self.assertTrue(past.exists())
        site.delete()
        self.assertFalse(past.exists())
