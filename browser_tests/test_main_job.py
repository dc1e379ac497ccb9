"""The main job done once, as a newcomer would: site, unit, wanted, entries, year, sheet; and the trap mended."""

import re
from pathlib import Path

from playwright.sync_api import expect

from browser_tests.browser import BrowserCase
from skavit.units.computing import KEPT
from skavit.units.models import Tick, Unit


class MainJobTest(BrowserCase):
    opens = "round"

    def test_from_coordinates_to_the_entry_sheet(self):
        page = self.page
        page.get_by_role("link", name="Add a site").click()
        page.get_by_label("Name").fill("Pump lane")
        page.get_by_label("Latitude").fill("39 29 24")
        page.get_by_label("Longitude").fill("176°54'36\"E")
        page.get_by_label("Time zone").fill("Pacific/Aukland")
        page.get_by_role("button", name="Save the site").click()
        self.sees("is no time zone")
        self.assertEqual(page.get_by_label("Longitude").input_value(), "176°54'36\"E")
        page.get_by_label("Latitude").fill("39 29 24 S")
        page.get_by_label("Time zone").fill("Pacific/Auckland")
        page.get_by_role("button", name="Save the site").click()
        self.sees("Clocks go")
        page.get_by_role("link", name="Add a unit").click()
        page.get_by_label("Name").fill("Bollards")
        page.get_by_role("button", name="Add the unit").click()
        self.sees("Which kind is it? Accepted")
        self.assertEqual(page.get_by_label("Name").input_value(), "Bollards")
        page.get_by_label("Not known yet").check()
        page.get_by_role("button", name="Add the unit").click()
        self.sees("Nothing wanted yet")

        self.press("w")
        new = page.locator(".sentence-new").first
        new.get_by_label("minutes after").first.fill("10")
        new.locator(".new-part").nth(1).get_by_label("at").fill("22:61")
        new.get_by_role("button", name="Add the window").click()
        self.sees("Accepted: a clock time such as 06:40")
        new = page.locator(".sentence-new").first
        self.assertEqual(new.get_by_label("minutes after").first.input_value(), "10")
        new.locator(".new-part").nth(1).get_by_label("at").fill("22:40")
        new.get_by_role("button", name="Add the window").click()
        self.sees("sunset + 10 min")

        self.press("w")
        new = page.locator(".sentence-new").first
        new.get_by_role("radio", name="clock").first.check()
        new.locator(".new-part").first.get_by_label("at").fill("5:15")
        new.locator(".new-part").nth(1).get_by_role("radio", name="sunrise").check()
        new.get_by_role("radio", name="Mon to Fri").check()
        new.get_by_role("button", name="Add the window").click()
        page.locator(".window-row").nth(1).wait_for()

        page.get_by_role("button", name="Fit the entries").click()
        self.sees("nothing is lost")
        self.assertEqual(page.locator(".slot").count(), 4)
        self.sees("Does what is wanted")
        unit = Unit.objects.select_related("head").get(name="Bollards")
        self.assertEqual([str(e.at) for e in unit.head.plan.unit.entries], ["sunset+10", "22:40", "05:15", "sunrise"])

        self.press("s")
        self.sees("As found")
        for number in range(1, 10):
            page.locator("[data-step-now]", has_text=str(number)).wait_for()
            page.locator(".step-now .tick-box:visible").click()
            self.ticks_sent()
        self.assertEqual(Tick.objects.filter(unit=unit).count(), 9)
        page.reload()
        self.assertEqual(page.locator(".progress .bit-done").count(), 9)
        self.press("g")
        self.press("u")
        self.sees("left running")
        self.assertEqual(page.locator(".step-done").count(), 6)  # all but its kind

    def test_the_trap_is_seen_mended_and_undone(self):
        page = self.page
        page.get_by_role("link", name="Path lights").first.click()
        self.sees("On, not wanted, from 05:50")
        self.press("f")
        page.locator(".mark-bar.chosen").first.wait_for(state="attached")
        self.assertEqual(page.locator(".slot.chosen").count(), 2)
        page.get_by_role("button", name="Slot 4: not before 05:50").first.click()
        self.sees("Does what is wanted")
        self.press("u")
        self.sees("On, not wanted, from 05:50")
        self.press("y")
        self.sees("Does what is wanted")
        page.reload()
        self.sees("Does what is wanted")

    def test_the_cursor_reads_the_year(self):
        page = self.page
        page.get_by_role("link", name="Path lights").first.click()
        heading = page.locator("#night h2")
        start = heading.inner_text()
        self.press("ArrowLeft")
        expect(heading).not_to_have_text(start)
        self.press("Shift+ArrowLeft")
        page.wait_for_timeout(400)
        self.press("t")
        expect(heading).to_have_text(start)
        box = page.locator("svg.year-upright").bounding_box()
        page.mouse.click(box["x"] + box["width"] * 0.5, box["y"] + 100)
        expect(heading).to_contain_text("Ju")
        self.assertIn("day=", page.url)
        page.reload()
        self.assertIn("Ju", heading.inner_text())

    def test_an_entry_typed_by_hand_and_a_window_changed_in_its_sentence(self):
        page = self.page
        page.get_by_role("link", name="Forecourt").first.click()
        self.sees("Does what is wanted")
        self.press("e")
        add = page.locator("details[data-add-entry]")
        add.get_by_role("radio", name="OFF").check()
        add.get_by_label("at", exact=True).fill("2:00")
        add.get_by_role("radio", name="these weekdays").check()
        add.get_by_role("checkbox", name="Thu").check()
        add.get_by_role("button", name="Add the entry").click()
        expect(page.locator(".slot")).to_have_count(6)
        expect(page.locator(".notes")).to_contain_text("changes nothing all year")
        page.locator(".window-row .pick-link").nth(1).click()
        pick = page.locator(".window-row .pick").nth(1)
        pick.get_by_label("at", exact=True).fill("10:10 pm")
        pick.get_by_role("button", name="Save").click()
        page.locator(".window-row .pick-link", has_text="22:10").wait_for()
        self.sees("On, not wanted, from 22:10 to 22:30")

    def test_two_people_at_one_unit(self):
        page = self.page
        page.get_by_role("link", name="Path lights").first.click()
        self.sees("On, not wanted, from 05:50")
        other = self.context.new_page()
        other.goto(page.url)
        other.locator(".window-row").nth(1).get_by_role("button", name="Remove this window").click()
        expect(other.locator(".window-row")).to_have_count(1)
        self.press("e")
        add = page.locator("details[data-add-entry]")
        add.get_by_label("at", exact=True).fill("21:21")
        add.get_by_role("button", name="Add the entry").click()
        self.sees("changed this unit meanwhile")
        self.assertEqual(add.get_by_label("at", exact=True).input_value(), "21:21")
        add.get_by_role("button", name="Add the entry").click()
        page.locator(".slot-time", has_text="21:21").wait_for()

    def test_what_was_typed_stays_open_beside_the_newer_value(self):
        page = self.page
        page.get_by_role("link", name="Path lights").first.click()
        self.sees("On, not wanted, from 05:50")
        other = self.context.new_page()
        other.goto(page.url)
        page.locator(".pick-link").nth(1).click()
        pick = page.locator(".window-row .pick").nth(1)
        pick.get_by_label("at", exact=True).fill("23:17")
        other.locator(".pick-link").nth(1).click()
        newer = other.locator(".window-row .pick").nth(1)
        newer.get_by_label("at", exact=True).fill("22:05")
        newer.get_by_role("button", name="Save").click()
        other.locator(".window-row .pick-link", has_text="22:05").wait_for()
        pick.get_by_role("button", name="Save").click()
        self.sees("changed this unit meanwhile")
        expect(page.locator(".newer")).to_contain_text("until 22:05")
        field = page.locator(".window-row .pick").nth(1).get_by_label("at", exact=True)
        expect(field).to_be_visible()
        self.assertEqual(field.input_value(), "23:17")
        # The row is removed elsewhere: what was typed stands as a new window.
        other.locator(".window-row").first.get_by_role("button", name="Remove this window").click()
        expect(other.locator(".window-row")).to_have_count(1)
        page.locator(".window-row .pick").nth(1).get_by_role("button", name="Save").click()
        new = page.locator(".sentence-new")
        new.wait_for()
        self.assertEqual(new.locator(".new-part").nth(1).get_by_label("at", exact=True).input_value(), "23:17")

    def test_find_themes_and_keys(self):
        page = self.page
        self.press("/")
        page.wait_for_url(re.compile("find"))
        page.get_by_placeholder("site or unit").fill("saltm")
        expect(page.locator("#found")).not_to_contain_text("Harbour walk")
        page.locator("#found a", has_text="Sign").click()
        self.sees("changes its clock by another rule")
        ground = "getComputedStyle(document.body).backgroundColor"
        before = page.evaluate(ground)
        self.press("d")
        self.assertNotEqual(page.evaluate(ground), before)
        page.reload()
        self.assertNotEqual(page.evaluate(ground), before)
        self.press("?")
        page.get_by_role("dialog").wait_for()
        self.press("Escape")


class FilesAndChannelsTest(BrowserCase):
    opens = "round"

    def test_a_plan_file_goes_out_and_comes_in_and_a_bad_one_is_refused(self):
        page = self.page
        page.get_by_role("link", name="Forecourt").first.click()
        with page.expect_download() as download:
            page.get_by_role("link", name="Plan file", exact=True).click()
        text = Path(download.value.path()).read_text()
        self.go("round")
        page.get_by_role("link", name="Yard lights").first.click()
        page.get_by_text("Import a plan file").click()
        bad = text.replace('"22:30"', '"22:75"', 1).encode()
        page.get_by_label("Plan file").set_input_files(
            {"name": "bad.json", "mimeType": "application/json", "buffer": bad}
        )
        page.get_by_role("button", name="Import").click()
        self.sees("accepted: a clock time such as 06:40")
        page.get_by_label("Plan file").set_input_files(
            {"name": "good.json", "mimeType": "application/json", "buffer": text.encode()}
        )
        page.get_by_role("button", name="Import").click()
        self.sees("Plan file imported")
        self.sees("Does what is wanted")
        self.assertEqual(page.locator("h1").inner_text(), "Station yard")
        self.press("u")
        self.sees("On, not wanted, from 23:00")

    def test_channels_are_added_looked_at_and_taken_out(self):
        page = self.page
        page.get_by_role("link", name="Path lights").first.click()
        page.get_by_text("Channels", exact=True).click()
        page.get_by_label("Another channel").fill("Gate lamp")
        page.get_by_role("button", name="Add", exact=True).click()
        page.get_by_role("link", name="2 Gate lamp").click()
        self.sees("Nothing wanted yet")
        self.assertIn("channel=2", page.url)
        page.get_by_text("Channels", exact=True).click()
        page.get_by_role("button", name="Remove channel 2").click()
        expect(page.get_by_role("link", name="2 Gate lamp")).to_have_count(0)

    def test_clock_and_memory_change_what_the_unit_will_do(self):
        page = self.page
        page.get_by_role("link", name="Forecourt").first.click()
        page.get_by_role("link", name="Clock & sun").click()
        page.get_by_role("link", name="Clock and memory").click()
        page.get_by_label("Daylight saving").select_option("us")
        page.get_by_label("Slots in all").fill("-2")
        page.get_by_role("button", name="Save").click()
        self.sees("greater than or equal to 0")
        self.assertEqual(page.get_by_label("Daylight saving").input_value(), "us")
        page.get_by_label("Slots in all").fill("28")
        page.get_by_role("button", name="Save").click()
        self.sees("The unit changes its clock by another rule")

    def test_escape_leaves_a_panel_and_keeps_what_was_typed(self):
        page = self.page
        page.get_by_role("link", name="Path lights").first.click()
        page.wait_for_load_state("load")
        page.locator(".pick-link").nth(1).click()
        pick = page.locator(".window-row .pick").nth(1)
        field = pick.get_by_label("at", exact=True)
        field.fill("23:17")
        page.keyboard.press("Escape")
        expect(field).to_be_hidden()
        pick.locator(":scope > summary").click()
        self.assertEqual(field.input_value(), "23:17")

    def test_a_server_that_does_not_answer_is_said(self):
        page = self.page
        page.get_by_role("link", name="Path lights").first.click()
        page.wait_for_load_state("load")
        page.route("**/fit/", lambda route: route.abort())
        page.get_by_role("button", name="Fit the entries").click()
        expect(page.locator("[data-fault]")).to_be_visible()
        self.complaints.clear()


class WithoutScriptTest(BrowserCase):
    def setUp(self):
        super().setUp()
        cookies = self.context.cookies()
        plain = self.browser.new_context(java_script_enabled=False)
        self.addCleanup(plain.close)
        plain.add_cookies(cookies)
        self.page = plain.new_page()

    def test_every_change_works_by_plain_post(self):
        page = self.page
        self.go("round")
        page.get_by_role("link", name="Path lights").first.click()
        page.get_by_role("button", name="Slot 4: not before 05:50").first.click()
        self.sees("Does what is wanted")
        page.get_by_role("button", name="Undo").click()
        self.sees("On, not wanted, from 05:50")
        page.get_by_role("link", name="Sheet").first.click()
        self.assertEqual(page.locator(".step:visible").count(), 9)
        page.locator(".tick-box").first.click()
        page.locator(".progress .bit-done").first.wait_for()


class FollowingTest(BrowserCase):
    """What mends a unit comes after its page; held back here until somebody has gone on."""

    opens = "round"

    def setUp(self):
        super().setUp()
        KEPT.clear()  # the years that another test's server has searched
        self.held = []
        self.page.route("**/searched/**", lambda route: self.held.append((route, route.fetch())))
        self.page.get_by_role("link", name="Path lights").first.click()
        self.sees("Looking for what mends it")
        while not self.held:
            self.page.wait_for_timeout(50)
        self.heading = self.page.locator("#night h2")

    def let_go(self):
        route, answer = self.held.pop()
        with self.page.expect_response("**/searched/**"):
            route.fulfill(response=answer)
        self.page.wait_for_timeout(300)

    def test_it_leaves_the_cursor_where_it_was_put(self):
        start = self.heading.inner_text()
        self.press("Shift+ArrowLeft")
        expect(self.heading).not_to_have_text(start)
        moved = self.heading.inner_text()
        self.let_go()
        expect(self.page.locator("#follows")).to_have_count(0)
        expect(self.heading).to_have_text(moved)

    def test_what_was_asked_of_an_older_page_is_left(self):
        self.page.get_by_role("button", name="Slot 4: not before 05:50").first.click()
        self.sees("Does what is wanted")
        self.let_go()
        self.sees("Does what is wanted")
