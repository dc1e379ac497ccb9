"""The plan page without the mouse: rows opened, changed, copied, moved and taken out; what an edit alters, before it is kept."""

from browser_tests.browser import BrowserCase
from skavit.units.models import Unit


class PlanPageTest(BrowserCase):
    def setUp(self):
        super().setUp()
        self.unit = Unit.objects.get(name="Path lights")
        self.go("unit", self.unit.pk)
        self.page.wait_for_load_state("networkidle")

    @property
    def plan(self):
        return Unit.objects.get(pk=self.unit.pk).plan

    def focused(self):
        return self.page.evaluate("document.activeElement.id || document.activeElement.dataset.slot || ''")

    def changed(self, count):
        """Wait for the row count of the memory after an edit."""
        self.page.locator(f".slots > li[data-slot='{count}']").wait_for()

    def test_a_window_is_changed_by_keys_and_told_what_it_alters_first(self):
        page = self.page
        self.press("j")
        self.assertEqual(self.focused(), "window-1-0")
        self.press("Enter")
        field = page.locator("input[name=from_offset]").first
        field.wait_for()
        field.fill("70")
        page.locator(".preview", has_text="365 h less wanted").first.wait_for()
        before = self.plan.channels[0].windows[0].start
        self.assertEqual(str(before), "sunset+10")
        field.press("Enter")
        self.sees("sunset + 70 min")
        self.assertEqual(str(self.plan.channels[0].windows[0].start), "sunset+70")

    def test_what_an_edit_alters_leaves_the_focus_where_one_types(self):
        self.press("w")
        self.page.locator(".sentence-new").first.wait_for()
        field = self.page.locator(".new-part").nth(1).get_by_label("at")
        field.click()
        self.page.keyboard.type("23:4")
        self.page.locator(".preview", has_text="Not complete yet").first.wait_for()
        self.page.keyboard.type("5")
        self.page.locator(".preview", has_text="more wanted").first.wait_for()
        self.assertEqual(field.input_value(), "23:45")
        self.assertEqual(self.focused(), field.get_attribute("id"))

    def test_rows_are_copied_moved_and_taken_out_by_keys(self):
        page = self.page
        for _ in range(3):
            self.press("j")
        self.assertEqual(self.focused(), "1")
        self.press("c")
        self.changed(5)
        self.assertEqual([str(e.at) for e in self.plan.unit.entries][:2], ["sunset+10", "sunset+10"])
        page.locator("[data-slot='1']:focus").wait_for()
        self.press("]")
        page.locator("[data-slot='2']:focus").wait_for()
        self.press("x")
        page.locator(".slots > li[data-slot='5']").wait_for(state="detached")
        self.assertEqual([str(e.at) for e in self.plan.unit.entries], ["sunset+10", "22:40", "05:50", "sunrise"])
        self.press("u")
        self.changed(5)

    def test_a_slot_is_dragged_to_another_place(self):
        page = self.page
        page.locator(".slots > li[data-slot='4']").drag_to(page.locator(".slots > li[data-slot='1']"))
        page.locator(".slots > li[data-slot='1']", has_text="sunrise").wait_for()
        self.assertEqual([str(e.at) for e in self.plan.unit.entries], ["sunrise", "sunset+10", "22:40", "05:50"])

    def test_a_usual_program_and_the_week(self):
        page = self.page
        page.get_by_text("Usual programs").first.click()
        page.get_by_role("button", name="Evening only").click()
        page.locator("#window-1-2").wait_for()
        self.assertEqual(str(self.plan.channels[0].windows[2].to), "22:30")
        page.get_by_text("The week of this night").click()
        page.locator(".week-strip").wait_for()
        first = page.locator(".week-strip").text_content()
        page.locator("[data-year-picture]").focus()
        for _ in range(8):
            page.keyboard.press("ArrowLeft")
        page.locator(".week-strip", has_text=first).wait_for(state="detached")

    def test_from_the_years_end_ten_years_on(self):
        page = self.page
        for _ in range(2):
            page.get_by_role("link", name="Year 20").last.click()
            page.locator("#year").wait_for()
        page.keyboard.press("h")
        self.sees("What each mode means now")

    def test_a_fit_asks_for_the_window_that_was_begun(self):
        page = self.page
        self.press("w")
        new = page.locator(".sentence-new").first
        new.locator("input[name=from_offset]").fill("25")
        page.get_by_role("button", name="Fit the entries").click()
        note = page.locator(".half-typed")
        note.wait_for()
        self.assertIn("You have begun a line", note.inner_text())
        before = self.plan.unit.entries
        page.get_by_role("button", name="Finish it").click()
        note.wait_for(state="detached")
        self.assertEqual(new.locator("input[name=from_offset]").input_value(), "25")
        page.get_by_role("button", name="Fit the entries").click()
        page.get_by_role("button", name="Drop it and fit").click()
        self.sees("nothing is lost")
        self.assertNotEqual(self.plan.unit.entries, before)
