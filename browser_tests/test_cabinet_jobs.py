"""Three whole jobs, each from an empty crew by forms alone to a ticked sheet, whose keys a simulated keypad follows."""

import json

from browser_tests.test_twelve_jobs import JobCase
from skavit.core.plan.clock_settings import NamedRule
from skavit.core.plan.times import local_datetime_text
from skavit.core.tests.commanding import CommandTest
from skavit.server.now import local_digits, read_now


class CabinetTest(JobCase, CommandTest):
    def setUp(self):
        super().setUp()
        CommandTest.setUp(self)

    def held_after_its_sheet(self, slug):
        """What a unit of a kind that ships holds once the keys of its sheet were pressed; the sheet says nothing without keys."""
        plan = self.file("plan.json", json.dumps(self.plan.to_json()))
        sheet = self.prints(
            "sheet",
            plan,
            "--kind",
            slug,
            "--at",
            local_datetime_text(local_digits(self.plan, read_now())),
        )
        self.assertEqual(sheet["cannot"], [])
        return self.prints("play", slug, "--sheet", self.file("sheet.json", json.dumps(sheet)))

    def test_a_wall_switch_by_region_with_another_countrys_rule(self):
        page = self.page
        self.site()
        self.unit("Wall switch, by region", "Porch")
        self.on("sunset", "22:30")
        self.fit()
        self.save_settings("Clock and memory", Daylight_saving="us")
        self.sees("The unit changes its clock by another rule")
        page.get_by_role("button", name="Use the site's").first.click()
        self.sees("Does what is wanted")
        self.assertEqual(self.plan.unit.clock.dst, NamedRule("zone"))
        self.keyed_in("region", "sunset")
        held = self.held_after_its_sheet("wall-switch-by-region")
        self.assertEqual(held["dst"], "none")
        self.assertEqual(held["entries"], self.plan.to_json()["unit"]["entries"])

    def test_a_panel_switch_with_two_channels_by_coordinates(self):
        self.site()
        self.unit("Panel switch, two channels, by coordinates", "Hall", "Heaters", "Lights")
        self.on("06:00", "08:00", "Mon to Fri", channel=1)
        self.on("sunset", "22:00", channel=2)
        self.fit()
        self.assertEqual({entry.channels for entry in self.plan.unit.entries}, {(1,), (2,)})
        self.keyed_in("latitude")
        held = self.held_after_its_sheet("panel-switch-two-channels-by-coordinates")
        self.assertEqual(held["entries"], self.plan.to_json()["unit"]["entries"])
        self.assertEqual({tuple(entry.get("channels", [1])) for entry in held["entries"]}, {(1,), (2,)})

    def test_a_tap_timer_with_four_outlets(self):
        page = self.page
        self.site()
        self.link("Add a unit")
        page.get_by_label("Tap timer that waters, four outlets").first.check()
        page.get_by_label("Name").fill("Back garden")
        self.button("Add the unit")
        page.locator("#station-new form").wait_for()
        self.here = page.url.split("?")[0]
        for number, name in enumerate(("Lawn", "Pots", "Hedge", "Beans"), 1):
            if number > 1:
                page.locator("#station-new > summary").click()
            form = page.locator("#station-new form")
            form.get_by_label("Station", exact=True).fill(name)
            form.get_by_label("Area").fill("20")
            form.get_by_role("button", name="Add the station").click()
            page.locator(".station-name", has_text=name).wait_for()
            self.settled()
        page.get_by_role("button", name="Fit the programs").first.click()
        page.locator(".program").nth(3).wait_for()
        self.keyed_in("Beans")
        held = self.held_after_its_sheet("tap-timer-that-waters-four-outlets")
        self.assertEqual(len(held["programs"]), len(self.plan.water.programs))
