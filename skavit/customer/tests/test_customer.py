"""The customer's sheet in four languages, links that end, the label in the lid, and catalogues that say everything."""

import re
import sys
from datetime import UTC, datetime
from unittest import mock

from django.conf import settings
from django.test import Client
from django.urls import reverse

from skavit.background.models import Job
from skavit.core.plan import edits
from skavit.core.tests.builders import document
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.customer import services
from skavit.customer.models import ShareLink
from skavit.customer.pages.sheet import printing
from skavit.customer.pages.sheet.page import customer_page
from skavit.heating.tests.builders import make_heating
from skavit.units.services import revisions
from skavit.units.tests.one_unit import OneUnitCase
from skavit.visits.tests.builders import make_visit

sys.path.insert(0, str(settings.BASE_DIR))

# Wednesday 12 May 2027, 09:00 in Hawke's Bay.
NOW = int(datetime(2027, 5, 11, 21, tzinfo=UTC).timestamp())


class CustomerCase(OneUnitCase):
    def setUp(self):
        super().setUp()
        stop_clock(self, NOW)

    def make_link(self, language="en", days=90, **more):
        answer = self.client.post(
            reverse("link-make", args=[self.unit_pk]),
            {"language": language, "days": days, "whom": "the harbour office", **more},
        )
        return re.search(r"/c/[\w-]+/", answer.content.decode())[0]

    @property
    def nobody(self):
        return Client()


class SheetTest(CustomerCase):
    def test_it_says_this_week_june_and_december_by_the_clock(self):
        page = customer_page(self.unit, "en", NOW)
        (output,) = page.outputs
        self.assertEqual([line.when for line in output.week][:2], ["Wed 12 May", "Thu 13 May"])
        # Ten minutes after a sunset that comes between ten and twenty past five there in mid-May (from memory).
        self.assertRegex(output.week[0].text, r"05:50 to 07:\d\d, 17:(2[0-9]) to 22:40")
        self.assertRegex(output.june, r"17:\d\d to 22:40")
        # In December the morning ON comes after the sunrise: what it will really do is told, not what was wanted.
        self.assertNotIn("05:50 to 05:", output.december)

    def test_each_language_says_it_in_its_own_words(self):
        told = {code: customer_page(self.unit, code, NOW) for code, _ in settings.LANGUAGES}
        self.assertIn("17:", told["de"].outputs[0].june)
        self.assertIn("bis 22:40", told["de"].outputs[0].june)
        self.assertIn("à 22:40", told["fr"].outputs[0].june)
        self.assertIn("a 22:40", told["es"].outputs[0].june)
        self.assertEqual(told["fr"].outputs[0].week[0].when, "mer 12 mai")
        self.assertEqual(len({page.cautions[0] for page in told.values()}), 4)

    def test_it_tells_what_stands_in_the_unit_not_what_is_planned_since(self):
        self.assertContains(self.page("customer"), "Its year has findings")
        make_visit(self.unit, member(self.crew))
        unit = self.unit
        revisions.edit(
            unit, member(self.crew), unit.head.number, lambda plan: edits.remove_entry(plan, 0), "less", now=NOW
        )
        self.assertIn("to 22:40", customer_page(self.unit, "en", NOW).outputs[0].june)
        self.assertContains(self.page("customer"), "this is what stands in the unit")

    def test_stations_and_zones_too(self):
        lawn = {"stations": [{"name": "Lawn", "flow_l_min": 20.0}], "programs": [
            {"name": "A", "starts": ["04:30"], "runs": [{"station": 1, "run_min": 18}], "days": ["tue"]}]}  # fmt: skip
        plan = {"format": "skavit-plan/1", "site": document()["site"], "water": lawn}
        watering = make_unit(make_crew("Water crew"), plan)
        heating = make_heating(make_crew("Heat crew"))
        for unit in (watering, heating):
            page = customer_page(unit, "es", NOW)
            self.assertTrue(page.outputs)
            self.assertEqual(len(page.outputs[0].week), 7)
        self.assertIn("sin riego", customer_page(watering, "es", NOW).outputs[0].week[0].text)
        self.assertIn("de 04:30 a 04:48", [line.text for line in customer_page(watering, "es", NOW).outputs[0].week])
        self.assertIn("°C", page.outputs[0].week[0].text)

    def test_a_pdf_is_asked_for_and_drawn(self):
        job = printing.ask_customer_pdf(self.unit, member(self.crew), "fr")
        outcome = printing.do_customer_pdf(Job.objects.get(pk=job.pk), mock.Mock())
        self.assertTrue(outcome.answer.startswith(b"%PDF-"))

    def test_the_label_in_the_lid_leads_to_the_unit_after_a_login(self):
        page = self.page("lid")
        self.assertContains(page, f"http://testserver/units/{self.unit_pk}/")
        self.assertContains(page, "<svg")
        answer = self.nobody.get(reverse("unit", args=[self.unit_pk]))
        self.assertIn(f"/login/?next=/units/{self.unit_pk}/", answer.url)


class LinkTest(CustomerCase):
    def test_it_shows_without_a_login_and_is_dead_once_taken_back(self):
        link = self.make_link("de")
        shown = self.nobody.get(link)
        self.assertContains(shown, "Diese Woche")
        self.assertContains(shown, 'lang="de"')
        self.assertIn("no-store", shown["Cache-Control"])
        self.assertEqual(shown["X-Robots-Tag"], "noindex")
        self.assertNotContains(shown, "<form")
        self.assertEqual(self.nobody.post(link).status_code, 405)
        pk = ShareLink.objects.get().pk
        self.assertContains(self.page("customer"), "the harbour office")
        self.client.post(reverse("link-back", args=[self.unit_pk, pk]))
        dead = self.nobody.get(link, headers={"Accept-Language": "fr"})
        self.assertContains(dead, "Ce lien n’est plus valable", status_code=404)
        self.assertNotContains(dead, "Harbour walk", status_code=404)

    def test_it_ends_by_itself_and_with_its_unit(self):
        link = self.make_link(days=30)
        stop_clock(self, NOW + 31 * 86_400)
        self.assertEqual(self.nobody.get(link).status_code, 404)
        stop_clock(self, NOW)
        unit = self.unit
        unit.removed = datetime.now(tz=UTC)
        unit.save()
        self.assertEqual(self.nobody.get(link).status_code, 404)

    def test_one_of_the_whole_site_shows_its_units_and_no_other_sites(self):
        link = self.make_link(whole_site="1")
        more = [make_unit(self.crew, name=name) for name in ("Pier lamps", "Old sign")]
        make_unit(self.crew, site="Another site", name="Elsewhere")
        archived = more[1]
        archived.archived = datetime.now(tz=UTC)
        archived.save()
        shown = self.nobody.get(link)
        self.assertContains(shown, "<title>Harbour walk</title>")
        self.assertContains(shown, "Harbour walk, Path lights")
        self.assertContains(shown, "Harbour walk, Pier lamps")
        for name in ("Elsewhere", "Old sign"):
            self.assertNotContains(shown, name)
        self.assertContains(self.page("customer"), "all units of the site, English")
        again = self.client.post(
            reverse("link-make", args=[self.unit_pk]), {"language": "de", "days": 365, "whole_site": "1"}
        )
        self.assertEqual(
            [again.context["form"][name].value() for name in ("language", "days", "whole_site")], ["de", "365", "1"]
        )
        with mock.patch.object(services, "MOST_UNITS", 1):
            self.assertNotContains(self.nobody.get(link), "Pier lamps")
        self.assertNotContains(self.nobody.get(self.make_link()), "Pier lamps")

    def test_no_secret_is_kept_and_no_other_crew_ends_it(self):
        link = self.make_link()
        kept = ShareLink.objects.get()
        self.assertNotIn(kept.secret_hash, link)
        other = self.client_class()
        other.force_login(member(make_crew("Other crew")).user)
        self.assertEqual(other.post(reverse("link-back", args=[self.unit_pk, kept.pk])).status_code, 404)
        self.client.force_login(member(self.crew, "viewer").user)
        self.assertEqual(self.client.post(reverse("link-back", args=[self.unit_pk, kept.pk])).status_code, 403)
        self.assertEqual(self.nobody.get(link).status_code, 200)

    def test_what_is_refused_is_said(self):
        answer = self.client.post(reverse("link-make", args=[self.unit_pk]), {"language": "xx", "days": 5})
        self.assertEqual(answer.status_code, 422)
        with mock.patch.object(services, "MOST_LINKS", 0):
            answer = self.client.post(
                reverse("link-make", args=[self.unit_pk]), {"language": "en", "days": 90}, follow=True
            )
        self.assertContains(answer, "Accepted: one in place of another")
