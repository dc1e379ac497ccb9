"""The unit as found, typed in and taken; its clock and sun answered while typing; the year as the unit believes."""

import re

from browser_tests.browser import BrowserCase
from skavit.units.models import AsFound, Unit


class AsFoundTest(BrowserCase):
    def test_an_unknown_unit_is_written_down_and_taken(self):
        page = self.page
        unit = Unit.objects.get(name="Sign")
        self.go("unit", unit.pk)
        page.get_by_role("link", name="As found").click()
        page.get_by_label("The entries it holds, a line each").fill("on sunset\noff 22:10 mo-f")
        page.get_by_role("button", name="Write it down").click()
        self.assertIn("'mo-f' names no day", page.locator(".refused").first.inner_text())
        page.get_by_label("The entries it holds, a line each").fill("on sunset\noff 22:10 mo-fr")
        page.get_by_label("Mode").select_option("automatic")
        page.get_by_role("button", name="Write it down").click()
        self.sees("On from sunset until 22:10, every day")
        self.sees("acts every day; slot 2 (OFF 22:10) that ends it acts Mon to Fri")
        self.assertEqual(AsFound.objects.get().shown, {"mode": "automatic"})
        page.get_by_role("button", name="Take it all").click()
        page.locator("#year").wait_for()
        self.assertEqual([e.action for e in Unit.objects.get(pk=unit.pk).plan.unit.entries], ["on", "off"])


class ClockAndSunTest(BrowserCase):
    def test_what_the_unit_shows_is_answered_while_typing(self):
        page = self.page
        unit = Unit.objects.get(name="Path lights")
        self.go("unit", unit.pk)
        page.keyboard.press("k")
        self.sees("It must show now")
        must = page.locator(".must-time").inner_text()
        self.assertRegex(must, r"^\d\d:\d\d$")
        half = (int(must[:2]) + 12) % 24
        page.get_by_label("Time it shows").press_sequentially(f"{half:02d}{must[2:]}")
        page.get_by_text("Twelve hours out").wait_for()
        page.wait_for_url(re.compile("time="))
        page.get_by_label("Time it shows").fill("")
        page.get_by_label("Sunrise it shows").fill("05:31")
        page.get_by_label("Sunset it shows").fill("19:55")
        page.get_by_role("button", name="Save this correction").click()
        page.locator("#year").wait_for()
        self.assertIsNotNone(Unit.objects.get(pk=unit.pk).plan.unit.sun.adjust)

    def test_the_year_as_the_unit_believes_it_is_one_key_away(self):
        page = self.page
        self.go("unit", Unit.objects.get(name="Sign").pk)
        true = page.locator(".year-upright").text_content()
        page.keyboard.press("v")
        page.locator(".by", has_text="As the unit believes").wait_for()
        self.assertNotEqual(page.locator(".year-upright").text_content(), true)
        page.keyboard.press("v")
        page.locator(".by", has_text="In true time").wait_for()


class CityTest(BrowserCase):
    def test_a_city_fills_the_place(self):
        page = self.page
        self.go("site-new")
        page.get_by_label("Find a city").press_sequentially("napi")
        page.get_by_role("button", name="Napier").click()
        self.assertEqual(page.get_by_label("Time zone").input_value(), "Pacific/Auckland")
        page.get_by_label("Time zone").fill("")
        page.get_by_label("Latitude").fill("43 57 S")
        page.get_by_label("Longitude").fill("-176.56")
        page.get_by_role("button", name="Pacific/Chatham").click()
        self.assertEqual(page.get_by_label("Time zone").input_value(), "Pacific/Chatham")
