"""Sites: coordinates and zones as typed, doubts, today's sun."""

from datetime import UTC, datetime

from django.test import TestCase
from django.urls import reverse

from skavit.core.plan.document import Site as CoreSite
from skavit.core.text.wording import Words
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.sites.models import Site
from skavit.sites.selectors import sky, zone_doubt

GOOD = {"name": "Pump lane", "latitude": "39°29'24\"S", "longitude": "176 54 36 E", "timezone": "pacific/auckland"}


class SiteFormTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    def test_degrees_minutes_seconds_are_kept_as_degrees(self):
        answer = self.client.post(reverse("site-new"), GOOD)
        site = Site.objects.get()
        self.assertRedirects(answer, reverse("site", args=[site.pk]))
        self.assertAlmostEqual(site.latitude, -39.49)
        self.assertAlmostEqual(site.longitude, 176.91)
        self.assertEqual(site.timezone, "Pacific/Auckland")

    def test_refusals_stand_at_the_field_and_keep_what_was_typed(self):
        for field, typed, said in [
            ("latitude", "95", "beyond 90 degrees"),
            ("latitude", "north", "is no latitude"),
            ("longitude", "", "Fill this in."),
            ("timezone", "Auckland City", "is no time zone"),
            ("timezone", "auck", "Pacific/Auckland"),
        ]:
            with self.subTest(field=field, typed=typed, said=said):
                page = self.client.post(reverse("site-new"), GOOD | {field: typed})
                self.assertContains(page, said, status_code=422)
                self.assertContains(page, "Pump lane", status_code=422)
                if typed:
                    self.assertContains(page, f'value="{typed}"', status_code=422)
        page = self.client.post(reverse("site-new"), GOOD | {"latitude": "39.49", "timezone": ""})
        self.assertContains(page, "south and west are minus", status_code=422)
        self.assertEqual(Site.objects.count(), 0)

    def test_a_taken_name_is_refused(self):
        self.client.post(reverse("site-new"), GOOD)
        self.assertContains(self.client.post(reverse("site-new"), GOOD), "Accepted: another name", status_code=422)

    def test_moving_a_site_moves_its_units(self):
        unit = make_unit(self.crew)
        place = {
            "name": "Harbour walk",
            "latitude": "69.6",
            "longitude": "18.9",
            "timezone": "Europe/Oslo",
            "version": 1,
        }
        self.client.post(reverse("site-edit", args=[unit.site.pk]), place)
        unit = type(unit).objects.get(pk=unit.pk)
        self.assertEqual(unit.plan.site.timezone, "Europe/Oslo")
        self.assertContains(self.client.get(reverse("unit", args=[unit.pk])), "No sunrise")


class SkyTest(TestCase):
    def site(self, longitude, timezone):
        return CoreSite(name="x", latitude=-39.5, longitude=longitude, timezone=timezone)

    def test_zone_and_longitude_that_cannot_belong_together(self):
        for longitude, zone, doubtful in [
            (176.9, "Pacific/Auckland", False),
            (-176.9, "Pacific/Auckland", True),  # the hours agree across the date line, the place does not
            (-176.9, "Pacific/Chatham", False),
            (-176.9 + 90, "Pacific/Auckland", True),
            (87.6, "Asia/Shanghai", False),  # legal time two hours from the sun's
            (18.9, "Pacific/Auckland", True),
            (-4.5, "Europe/Madrid", False),
        ]:
            with self.subTest(longitude=longitude, zone=zone, doubtful=doubtful):
                self.assertEqual(bool(zone_doubt(self.site(longitude, zone), 2027)), doubtful, (longitude, zone))

    def test_today_and_the_next_change(self):
        found = sky(self.site(176.9, "Pacific/Auckland"), int(datetime(2027, 3, 1, tzinfo=UTC).timestamp()), Words())
        self.assertEqual(found["date"], "Mon 1 Mar")
        self.assertEqual(found["changes"][0], "Clocks go back by 1 h on Sun 4 Apr 2027 at 03:00.")
        self.assertEqual(len(found["changes"]), 3)
        found = sky(self.site(176.9, "Asia/Kolkata"), int(datetime(2027, 3, 1, tzinfo=UTC).timestamp()), Words())
        self.assertIn("do not change", found["changes"][0])
