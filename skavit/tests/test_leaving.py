"""What a person handed out ends with their membership; what serves the customer passes to an owner."""

from datetime import timedelta

from django.test import TestCase
from django.urls import reverse
from django.utils import timezone

from skavit.api.keys import make_key as make_api_key
from skavit.crews.leaving import handed_out, take_out
from skavit.crews.models import Membership, Role, User
from skavit.crews.services import invite
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.customer.models import ShareLink
from skavit.customer.services import make_link
from skavit.exchange.keys import make_key as make_calendar


class HandedOutTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)
        cls.remover = member(cls.crew, "owner")
        leaver = User.objects.create_user("tama", password="x")
        cls.leaver = Membership.objects.create(crew=cls.crew, user=leaver, role=Role.OWNER)
        cls.key = make_api_key(cls.leaver, "Stock list")
        cls.due, cls.calendar = make_calendar(cls.leaver, None), make_calendar(cls.leaver, cls.unit)
        cls.link = make_link(
            cls.unit, cls.leaver, language="en", whom="the harbour office", days=30, instant=timezone.now()
        )
        invite(cls.leaver, Role.VIEWER)

    def statuses(self):
        self.client.logout()
        api = self.client.get("/api/sites", headers={"Authorization": f"Bearer {self.key}"})
        calendars = (
            self.client.get(reverse("feed", args=[self.due])),
            self.client.get(reverse("feed", args=[self.calendar])),
        )
        link = self.client.get(reverse("share", args=[self.link]))
        return api.status_code, *(answer.status_code for answer in calendars), link.status_code

    def removed(self, **typed):
        self.client.force_login(self.remover.user)
        return self.client.post(reverse("person-out", args=[self.leaver.pk]), typed)

    def test_the_page_lists_what_ends_and_what_passes_on(self):
        self.client.force_login(self.remover.user)
        page = self.client.get(reverse("person-out", args=[self.leaver.pk]))
        for text in (
            "The key of Stock list", "The calendar of what is due", "The calendar of Harbour walk, Path lights",
            "An invitation as viewer", "link to Harbour walk, Path lights, for the harbour office",
            "End the customers' links now",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertContains(page, text)
        nothing = self.client.get(reverse("person-out", args=[member(self.crew, "viewer").pk]))
        self.assertContains(nothing, "They hold no keys")

    def test_keys_and_calendars_end_and_customers_keep_their_link(self):
        self.assertEqual(self.statuses(), (200, 200, 200, 200))
        self.removed()
        self.assertEqual(self.statuses(), (401, 404, 404, 200))
        self.assertEqual(ShareLink.objects.get().by, self.remover.user)
        self.assertEqual(handed_out(self.leaver).ends, ())
        self.client.force_login(self.remover.user)
        told = self.client.get(reverse("changes"))
        self.assertContains(told, f"3 keys and links ended, 1 link passed to {self.remover.user}")

    def test_the_owner_may_end_the_customers_links_too(self):
        self.removed(end_links="1")
        self.assertEqual(self.statuses(), (401, 404, 404, 404))

    def test_who_leaves_by_themselves_passes_links_to_another_owner(self):
        take_out(self.leaver, self.leaver)
        self.assertEqual(self.statuses(), (401, 404, 404, 200))
        self.assertEqual(ShareLink.objects.get().by, self.remover.user)

    def test_let_in_again_they_hold_nothing_and_a_second_removal_does_no_harm(self):
        self.removed()
        self.removed()
        Membership.objects.filter(pk=self.leaver.pk).update(left=None)
        self.assertEqual(self.statuses()[:3], (401, 404, 404))
        ended = ShareLink.objects.get()
        ShareLink.objects.filter(pk=ended.pk).update(ends=timezone.now() - timedelta(days=1))
        self.assertEqual(self.statuses()[3], 404)
