"""Codes: sealed where they lie, shown on request to who may change units, each look written down."""

from django.db import connection
from django.test import TestCase, override_settings
from django.urls import reverse

from skavit.codes.models import Code, CodeAct
from skavit.codes.sealing import OtherKey, opened, seal
from skavit.codes.services import MOST_CODES
from skavit.crews.apps import REQUIRED
from skavit.crews.tests.builders import make_crew, make_unit, member

PIN = "4711-orchard"


@override_settings(CODES_KEY="a long random text of the tests, not of any server")
class CodesTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit = make_unit(cls.crew)

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    def keep(self, name="Installer PIN", code=PIN):
        return self.client.post(reverse("code-keep", args=[self.unit.pk]), {"name": name, "code": code}, follow=True)

    def acts(self):
        return [(act.by.username, act.act, act.name) for act in CodeAct.objects.select_related("by")]

    def test_it_lies_sealed_and_the_page_does_not_tell_it(self):
        page = self.keep()
        self.assertContains(page, "Installer PIN")
        self.assertNotContains(page, PIN)
        with connection.cursor() as cursor:
            cursor.execute("SELECT t::text FROM codes_code t")
            self.assertNotIn("4711", cursor.fetchone()[0])
        for name in ("record", "unit", "export"):
            self.assertNotContains(self.client.get(reverse(name, args=[self.unit.pk])), PIN)

    def test_a_look_is_written_down_and_never_kept_by_the_browser(self):
        self.keep()
        page = self.client.post(reverse("code-show", args=[self.unit.pk, Code.objects.get().pk]))
        self.assertContains(page, PIN)
        self.assertIn("no-store", page.headers["Cache-Control"])
        installer = member(self.crew).user.username
        self.assertEqual(self.acts(), [(installer, "shown", "Installer PIN"), (installer, "kept", "Installer PIN")])
        self.assertContains(page, "looked at <b>Installer PIN</b>")
        self.assertEqual(
            self.client.get(reverse("code-show", args=[self.unit.pk, Code.objects.get().pk])).status_code, 405
        )

    def test_one_of_the_same_name_is_replaced(self):
        self.keep()
        self.keep(code="1234")
        page = self.client.post(reverse("code-show", args=[self.unit.pk, Code.objects.get().pk]))
        self.assertContains(page, "1234")

    def test_taken_away_its_lines_stay(self):
        self.keep()
        self.client.post(reverse("code-away", args=[self.unit.pk, Code.objects.get().pk]))
        self.assertFalse(Code.objects.exists())
        self.assertEqual([act for _, act, _ in self.acts()], ["away", "kept"])

    def test_a_viewer_sees_neither_the_code_nor_the_page(self):
        self.keep()
        self.client.force_login(member(self.crew, "viewer").user)
        pk = Code.objects.get().pk
        self.assertEqual(self.client.get(reverse("codes", args=[self.unit.pk])).status_code, 403)
        self.assertEqual(self.client.post(reverse("code-show", args=[self.unit.pk, pk])).status_code, 403)
        self.assertEqual(len(self.acts()), 1)

    def test_another_units_code_is_not_found_and_a_seal_that_was_moved_does_not_open(self):
        self.keep()
        other = make_unit(self.crew, name="Other unit")
        code = Code.objects.get()
        self.assertEqual(self.client.post(reverse("code-show", args=[other.pk, code.pk])).status_code, 404)
        Code.objects.create(unit=other, name="Moved", sealed=code.sealed)
        page = self.client.post(reverse("code-show", args=[other.pk, Code.objects.get(name="Moved").pk]), follow=True)
        self.assertContains(page, "another unit&#x27;s")
        self.assertNotContains(page, PIN)

    def test_another_key_opens_nothing_and_none_keeps_nothing(self):
        self.keep()
        show = reverse("code-show", args=[self.unit.pk, Code.objects.get().pk])
        with override_settings(CODES_KEY="another one"):
            self.assertContains(self.client.post(show, follow=True), "another key")
            with self.assertRaises(OtherKey):
                opened(Code.objects.get().sealed, self.unit.pk)
        with override_settings(CODES_KEY=""):
            self.assertContains(self.client.get(reverse("codes", args=[self.unit.pk])), "has no key for codes")
            page = self.client.post(reverse("code-keep", args=[self.unit.pk]), {"name": "Gate", "code": "1"})
            self.assertContains(page, "SKAVIT_CODES_KEY", status_code=422)
        self.assertEqual(len(self.acts()), 1)

    def test_the_same_code_is_never_sealed_the_same(self):
        self.assertNotEqual(seal(PIN, 1), seal(PIN, 1))
        self.assertEqual(opened(seal(PIN, 1), 1), PIN)

    def test_there_is_an_end_to_codes_and_what_is_missing_is_said(self):
        for number in range(MOST_CODES):
            self.keep(name=f"Code {number}")
        self.assertContains(self.keep(name="One more"), "Accepted: one in place of another", status_code=422)
        self.assertContains(self.keep(code=""), REQUIRED, status_code=422)
        self.assertEqual(Code.objects.count(), MOST_CODES)
