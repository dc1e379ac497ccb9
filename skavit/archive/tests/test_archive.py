"""Nothing is for ever: sites, units, kinds and people are renamed, moved, archived, removed, and brought back for a while."""

from datetime import timedelta

from django.test import TestCase
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django import app

from skavit.archive.rows import purge_all
from skavit.core.kinds import shipped_kinds
from skavit.crews.models import Membership, Role, User
from skavit.crews.soft_delete import KEPT
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.kinds.models import Kind
from skavit.kinds.services import add_kind
from skavit.sites.models import Site
from skavit.units.models import Unit


class ArchiveTest(TestCase):
    def setUp(self):
        self.crew = make_crew()
        self.unit = make_unit(self.crew)
        self.site = self.unit.site
        self.owner = member(self.crew, Role.OWNER)
        self.client.force_login(self.owner.user)

    def act(self, what, row, act):
        return self.client.post(reverse("archive-act", args=[what, row.pk, act]), follow=True)

    def shown(self, name, *args):
        return self.client.get(reverse(name, args=args)).content.decode()

    def test_a_removed_unit_is_out_of_sight_and_comes_back(self):
        self.act("unit", self.unit, "remove")
        address = reverse("unit", args=[self.unit.pk])
        self.assertEqual(self.client.get(address).status_code, 404)
        for page in (self.shown("round"), self.shown("site", self.site.pk), self.shown("find")):
            self.assertNotIn(address, page)
        self.assertIn(self.unit.name, self.shown("archive"))
        self.assertRedirects(self.act("unit", self.unit, "back"), address)
        self.assertIn(address, self.shown("round"))

    def test_a_name_is_free_once_its_bearer_is_removed_and_the_one_who_comes_back_gets_a_number(self):
        self.act("unit", self.unit, "remove")
        other = make_unit(self.crew, site=self.site.name, name=self.unit.name)
        self.act("unit", self.unit, "back")
        self.unit.refresh_from_db()
        self.assertEqual(self.unit.name, f"{other.name} 2")

    def test_an_archived_unit_is_off_the_round_but_still_to_be_looked_at(self):
        address = reverse("unit", args=[self.unit.pk])
        self.act("unit", self.unit, "archive")
        self.assertNotIn(address, self.shown("round"))
        self.assertContains(self.client.get(address), "archive")
        self.assertIn(address, self.shown("archive"))
        self.act("unit", self.unit, "back")
        self.assertIn(address, self.shown("round"))

    def test_a_site_takes_its_units_with_it_and_back(self):
        address = reverse("unit", args=[self.unit.pk])
        for act in ("archive", "remove"):
            self.act("site", self.site, act)
            self.assertNotIn(address, self.shown("round"))
        self.assertEqual(self.client.get(address).status_code, 404)
        self.act("site", self.site, "back")
        self.assertIn(address, self.shown("round"))

    def test_for_good_is_for_owners_and_for_what_was_removed(self):
        self.act("unit", self.unit, "for-good")
        self.assertTrue(Unit.objects.filter(pk=self.unit.pk).exists())
        self.act("unit", self.unit, "remove")
        self.client.force_login(member(self.crew, Role.INSTALLER).user)
        self.assertEqual(self.act("unit", self.unit, "for-good").status_code, 403)
        self.client.force_login(self.owner.user)
        self.act("unit", self.unit, "for-good")
        self.assertFalse(Unit.objects.filter(pk=self.unit.pk).exists())

    def test_others_of_the_crew_only_look_and_other_crews_see_nothing(self):
        self.client.force_login(member(self.crew, Role.VIEWER).user)
        self.assertEqual(self.act("unit", self.unit, "archive").status_code, 403)
        self.client.force_login(member(make_crew("Other hands"), Role.OWNER).user)
        for what, row in (("unit", self.unit), ("site", self.site)):
            self.assertEqual(self.act(what, row, "remove").status_code, 404)

    def test_a_kind_in_use_stays_and_one_out_of_use_goes(self):
        kind = add_kind(self.owner, shipped_kinds()[0])
        Unit.objects.filter(pk=self.unit.pk).update(kind=kind)
        self.assertContains(self.act("kind", kind, "remove"), "Choose another kind there first")
        self.act("kind", kind, "archive")
        self.assertNotIn(f"own-{kind.pk}", self.shown("unit-kind", self.unit.pk))
        self.act("unit", self.unit, "remove")
        self.act("kind", kind, "remove")
        self.assertContains(self.act("kind", kind, "for-good"), "Remove that unit for good first")
        self.act("kind", kind, "back")
        self.assertEqual(Kind.objects.get(pk=kind.pk).kind.name, kind.name)

    def test_what_was_removed_long_ago_is_deleted_with_its_kind_and_nothing_else(self):
        now = timezone.now()
        kind = add_kind(self.owner, shipped_kinds()[0])
        Unit.objects.filter(pk=self.unit.pk).update(kind=kind)
        fresh = make_unit(self.crew, site=self.site.name, name="Another")
        for row in (self.unit, fresh):
            self.act("unit", row, "remove")
        self.act("kind", kind, "remove")
        self.assertEqual(purge_all(now + KEPT - timedelta(days=1)), 0)
        Unit.objects.filter(pk=self.unit.pk).update(removed=now - KEPT - timedelta(days=1))
        Kind.objects.filter(pk=kind.pk).update(removed=now - KEPT - timedelta(days=1))
        self.assertEqual(purge_all(now), 2)
        self.assertEqual(list(Unit.objects.filter(site=self.site)), [fresh])

    def test_a_unit_is_renamed_and_moved_to_another_site(self):
        there = Site.objects.create(crew=self.crew, name="Far dam", latitude=-39, longitude=177, timezone="UTC")
        address = reverse("unit-edit", args=[self.unit.pk])
        self.client.post(address, {"name": "Pump", "whereabouts": "shed", "site": there.pk})
        unit = Unit.objects.get(pk=self.unit.pk)
        self.assertEqual((unit.name, unit.whereabouts, unit.site, unit.plan.site), ("Pump", "shed", there, there.place))
        make_unit(self.crew, site=there.name, name="Bore")
        refused = self.client.post(address, {"name": "Bore", "whereabouts": "", "site": there.pk})
        self.assertContains(refused, "has a unit of that name", status_code=422)
        strange = make_unit(make_crew("Other hands")).site
        self.assertEqual(self.client.post(address, {"name": "P", "site": strange.pk}).status_code, 422)


class DailyTest(TestCase):
    def test_the_worker_knows_the_daily_deletion_and_it_deletes(self):
        daily = {task.task.name: task.cron for task in app.periodic_registry.periodic_tasks.values()}
        self.assertEqual(daily["skavit.archive.purge"], "17 3 * * *")
        unit = make_unit(make_crew())
        Unit.objects.filter(pk=unit.pk).update(removed=timezone.now() - KEPT - timedelta(days=1))
        app.tasks["skavit.archive.purge"](timestamp=0)
        self.assertFalse(Unit.objects.filter(pk=unit.pk).exists())


class PeopleTest(TestCase):
    def setUp(self):
        self.crew = make_crew()
        self.owner = member(self.crew, Role.OWNER)
        self.other = member(self.crew, Role.INSTALLER)
        self.client.force_login(self.owner.user)

    def test_an_owner_renames_somebody_and_everybody_themselves(self):
        self.client.post(reverse("person-rename", args=[self.other.pk]), {"username": "wiremu"})
        self.assertEqual(User.objects.get(pk=self.other.user_id).username, "wiremu")
        taken = self.client.post(
            reverse("person-rename", args=[self.other.pk]), {"username": self.owner.user.username}, follow=True
        )
        self.assertContains(taken, "Somebody has this user name")
        self.client.force_login(User.objects.get(pk=self.other.user_id))
        self.client.post(reverse("account"), {"about": "name", "username": "wiremu t"})
        self.assertEqual(User.objects.get(pk=self.other.user_id).username, "wiremu t")
        self.assertEqual(
            self.client.post(reverse("person-rename", args=[self.owner.pk]), {"username": "boss"}).status_code, 403
        )

    def test_who_left_is_removed_for_good_and_who_is_here_is_not(self):
        forget = reverse("person-forget", args=[self.other.pk])
        self.client.post(forget)
        self.assertTrue(Membership.objects.filter(pk=self.other.pk).exists())
        self.client.post(reverse("person-out", args=[self.other.pk]))
        self.client.post(forget)
        self.assertFalse(Membership.objects.filter(pk=self.other.pk).exists())
        self.assertFalse(User.objects.filter(pk=self.other.user_id).exists())
