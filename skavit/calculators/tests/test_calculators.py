"""The calculators: answers against the core's own checks, refusals, and half-typed addresses."""

from django.test import TestCase
from django.urls import reverse

from skavit.crews.tests.builders import make_crew, member

PLACE = {"latitude": "39 29 24 S", "longitude": "176.91", "timezone": ""}


class CalculatorsCase(TestCase):
    """Somebody of a crew who asks."""

    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    def ask(self, slug, *, htmx=False, **inputs):
        headers = {"HX-Request": "true"} if htmx else {}
        return self.client.get(reverse("calculator", args=[slug]), inputs, headers=headers)


class CalculatorsTest(CalculatorsCase):
    def test_each_answers_what_stands_in_its_address(self):
        looks = {
            "date_1": "1 Feb 2027", "true_1": "12:00:00", "shown_1": "12:00:00",
            "date_2": "11 Feb 2027", "true_2": "12:00:00", "shown_2": "12:00:20",
        }  # fmt: skip
        for slug, inputs, texts in [
            # Sunrise and sunset at 39.49 S, 176.91 E on 15 February 2027 by PyEphem: 06:38 and 20:14.
            ("sun", {**PLACE, "date": "15 Feb 2027"}, ["06:38", "20:14", "Pacific/Auckland", "Monday 15 Feb 2027"]),
            # NZ Daylight Time Order 2007.
            (
                "zone",
                {"timezone": "pacific/auckland", "year": "2027"},
                ["On the last Sunday of Sep at 02:00", "Back the first Sunday of Apr at 03:00", "Sunday 4 Apr 2027"],
            ),
            ("zone", {"timezone": "Asia/Kolkata", "year": "2027"}, ["The clocks do not change"]),
            (
                "reading",
                {**PLACE, "date_1": "15 Feb 2027", "rise_1": "6:28 am", "set_1": "20:31"},
                ["It behaves as if it stood at", "Correction to key in"],
            ),
            (
                "reading",
                {**PLACE, "date_1": "20 Mar 2027", "rise_1": "07:20", "set_1": "19:29"},
                ["Near the equinox"],
            ),
            ("weekday", {"date": "11 May 2027", "weekday": "0"}, ["Tuesday", "It shows Monday", "2026"]),
            ("weekday", {"date": "11 May 2027", "weekday": "1"}, ["It does."]),
            ("drift", looks, ["2.00 s", "± 0.10", "Wednesday 3 Mar 2027"]),
            # A litre on a square metre is a millimetre; 12 mm at 19 mm/h are 37.9 min, by DU 70 % 54, by 1/0.82 46.
            (
                "rate",
                {"flow": "38", "area": "120 m2", "need": "12", "du": "70"},
                ["19.0 mm/h, 0.75 in/h", "38 min", "54 min", "46 min"],
            ),
            ("rate", {"by": "grid", "flow": "2 l/h", "spacing": "30 cm", "rows": "30 cm"}, ["22.2 mm/h"]),
            (
                "cans",
                {"cans": "4 6 8 8 9 9 10 10", "read": "mm", "minutes": "15"},
                ["62 %", "32.0 mm/h", "1.60 times", "1.29 times"],
            ),
            ("cans", {"cans": "24\n31\n28\n30", "opening": "11 cm", "minutes": "15"}, ["%", "mm/h"]),
            # 6 mm on ground that takes 12, under 19 mm/h: 51 min to run-off, 30 min to soak.
            (
                "soak",
                {"minutes": "65", "rate": "19", "intake": "12", "surface": "6"},
                ["51 min", "2 runs of 32 min", "30 min", "63 min"],
            ),
            ("soak", {"minutes": "65", "rate": "9", "ground": "loam", "surface": "6"}, ["nothing runs off"]),
            # FAO-56, example 18, quoted from memory: 3.9 mm.
            (
                "et0",
                {
                    "latitude": "50.8",
                    "altitude": "100",
                    "date": "6 Jul 2027",
                    "low": "12.3",
                    "high": "21.5",
                    "radiation": "22.07",
                    "humid_low": "63",
                    "humid_high": "84",
                    "wind": "2.078",
                },
                ["3.9 mm", "Penman-Monteith"],
            ),
            ("et0", {"latitude": "50.8", "date": "6 Jul 2027", "low": "54 F", "high": "71 F"}, ["Hargreaves"]),
        ]:
            with self.subTest(slug, inputs=inputs):
                page = self.ask(slug, **inputs)
                for text in texts:
                    self.assertContains(page, text)

    def test_what_is_wrong_is_said_and_stays(self):
        for slug, inputs, text in [
            ("rate", {"flow": "10 furlongs", "area": "120"}, "Accepted: a number, or one with l/min"),
            ("rate", {"flow": "38"}, "Fill this in."),
            ("cans", {"cans": "4 6 wet 8", "minutes": "15"}, "Accepted: numbers such as"),
            ("cans", {"cans": "4 6 8 9", "minutes": "15"}, "say nothing without it"),
            ("cans", {"cans": "4 6 8", "read": "mm", "minutes": "15"}, "3 cans; accepted: 4 to 400"),
            ("soak", {"minutes": "65", "rate": "19", "surface": "6"}, "a ground of the list"),
            ("et0", {"latitude": "50 N", "date": "6 Jul", "low": "22", "high": "12"}, "Higher than the highest"),
            ("sun", {**PLACE, "latitude": "95", "date": "15 Feb 2027"}, "90"),
            ("sun", {**PLACE, "date": "30 Feb"}, "does not exist"),
            ("zone", {"timezone": "Napier", "year": "2027"}, "is no time zone"),
            ("sun", {"latitude": "0", "longitude": "-150", "timezone": "", "date": "1 Jan"}, "No zone is known there"),
        ]:
            with self.subTest(slug=slug, inputs=inputs, text=text):
                page = self.ask(slug, **inputs)
                self.assertContains(page, text, status_code=422)
        self.assertContains(self.ask("sun", htmx=True, latitude="1"), "The answer comes when all is there")
        self.assertEqual(self.ask("nonsense").status_code, 404)
        self.assertContains(self.client.get(reverse("calculators")), "Drift")

    def test_the_second_look_must_be_later(self):
        looks = {f"{name}_{n}": "12:00" for name in ("true", "shown") for n in (1, 2)}
        page = self.ask("drift", **looks, date_1="2 Feb 2027", date_2="1 Feb 2027")
        self.assertContains(page, "a minute after the first", status_code=422)


class PlaceTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    def test_cities_by_name_with_or_without_marks(self):
        self.assertContains(self.client.get(reverse("cities"), {"city": "napi"}), 'data-zone="Pacific/Auckland"')
        self.assertContains(self.client.get(reverse("cities"), {"city": "zuric"}), "Zürich")
        self.assertNotContains(self.client.get(reverse("cities"), {"city": "n"}), "data-city")

    def test_the_zone_of_coordinates(self):
        for latitude, longitude, zone in [
            ("-39.49", "176.91", "Pacific/Auckland"),
            ("-43.95", "-176.56", "Pacific/Chatham"),
            ("53.34", "-6.26", "Europe/Dublin"),
            ("69.6", "18.9", "Europe/Oslo"),
        ]:
            with self.subTest(latitude=latitude, longitude=longitude, zone=zone):
                page = self.client.get(reverse("zone"), {"latitude": latitude, "longitude": longitude})
                self.assertContains(page, zone)

    def test_a_site_without_a_zone_gets_that_of_its_coordinates(self):
        sent = {"name": "Reserve", "latitude": "39.5 S", "longitude": "176.8 E", "timezone": ""}
        self.client.post(reverse("site-new"), sent)
        self.assertEqual(self.crew.sites.get(name="Reserve").timezone, "Pacific/Auckland")
