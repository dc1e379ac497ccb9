"""The main job with a thumb, and every page by axe-core at both widths and in both themes."""

from browser_tests.browser import LAPTOP, PHONE, BrowserCase
from skavit.core.kinds import shipped_kinds
from skavit.core.plan import edits
from skavit.crews.models import Crew, Membership
from skavit.kinds.models import Kind
from skavit.server.now import read_now
from skavit.sites.models import Site
from skavit.units.models import Unit
from skavit.units.pages.sheet import printing
from skavit.units.services import revisions


class PhoneTest(BrowserCase):
    size, touch = PHONE, True

    def test_mend_and_key_with_a_thumb(self):
        self.go("round")
        page = self.page
        page.get_by_role("link", name="Path lights").first.tap()
        page.locator("svg.year-turned").wait_for()
        self.assertFalse(page.locator("svg.year-upright").is_visible())
        bar = page.locator(".thumb-bar .act-main")
        self.assertGreaterEqual(bar.bounding_box()["height"], 48)
        self.assertLess(bar.bounding_box()["y"] + 48, PHONE["height"])
        bar.tap()
        self.sees("Does what is wanted")
        page.locator(".thumb-bar").get_by_role("link", name="Entry sheet").tap()
        self.sees("As found")
        for _ in range(3):
            page.locator("[data-step-next]").tap()
        now = page.locator(".step-now")
        self.assertIn("Slot 2", now.inner_text())
        self.assertGreaterEqual(
            page.evaluate("parseFloat(getComputedStyle(document.querySelector('.step-now .display-time')).fontSize)"),
            40,
        )
        # The tick stands above the bar, and goes on to the next step.
        tick, bar = (now.locator(".tick-box:visible").bounding_box(), page.locator(".keying-foot").bounding_box())
        self.assertLessEqual(tick["y"] + tick["height"], bar["y"] + 1)
        self.assertLessEqual(bar["y"] + bar["height"], self.size["height"])
        now.locator(".tick-box:visible").tap()
        self.assertIn("Slot 3", now.inner_text())
        self.ticks_sent()
        page.reload()
        self.assertIn("Slot 3", now.inner_text())
        self.assertEqual(page.locator(".progress .bit-done").count(), 1)
        page.get_by_text("Begin again").tap()
        page.get_by_role("button", name="Clear all ticks").tap()
        page.locator(".progress .bit-done").first.wait_for(state="detached")

    def test_very_long_names_wrap(self):
        unit = Unit.objects.get(name="Path lights")
        word = "Wharerangi" * 8
        Unit.objects.filter(pk=unit.pk).update(name=word, whereabouts=word)
        Site.objects.filter(pk=unit.site_id).update(name=word)
        for name, args in self.pages(Unit.objects.select_related("site").get(pk=unit.pk)):
            self.go(name, *args)
            self.fits_the_width(name)

    def test_touch_targets_are_large_enough(self):
        for name, args in self.pages():
            self.go(name, *args)
            small = self.page.evaluate(
                """() => [...document.querySelectorAll('.act, .tick-box, .finding-go, .pick > summary, .segments span, '
                + 'input[type=text], select')].filter(e => e.offsetParent && e.getBoundingClientRect().height < 47.5)
                .map(e => e.className + ' ' + e.textContent.trim().slice(0, 30))"""
            )
            self.assertEqual(small, [], name)

    def own_kind(self):
        """A kind of the crew's own."""
        crew = Crew.objects.get(memberships__user__username=self.user)
        kind = shipped_kinds()[2]
        return Kind.objects.get_or_create(crew=crew, name=kind.name, defaults={"document": kind.to_json()})[0].pk

    def pages(self, unit=None):
        unit = unit or Unit.objects.get(name="Path lights")
        return [
            ("round", ()),
            ("find", ()),
            ("site", (unit.site.pk,)),
            ("site-new", ()),
            ("unit-new", (unit.site.pk,)),
            ("unit", (unit.pk,)),
            ("unit", (Unit.objects.get(name="Forecourt").pk,)),
            ("behaviour", (unit.pk,)),
            ("sun", (unit.pk,)),
            ("sheet", (unit.pk,)),
            ("kinds", ()),
            ("kind", ("room-thermostat",)),
            ("unit-kind", (unit.pk,)),
            ("kind-edit", (self.own_kind(),)),
            ("unit-clock", (unit.pk,)),
            ("as-found", (unit.pk,)),
            ("unit", (Unit.objects.get(name="Mist and vents").pk,)),
            ("options", (unit.pk,)),
            ("holidays", (unit.pk,)),
            ("keyings", (Unit.objects.get(name="Mist and vents").pk,)),
            ("handover", (unit.pk,)),
            ("calculators", ()),
            ("account", ()),
            ("job", (self.job(unit),)),
            ("calculator", ("reading",)),
            ("calculator", ("cans",)),
            ("calculator", ("rate",)),
        ]

    def job(self, unit):
        """A piece of work that waits."""
        return printing.ask_pdf(unit, Membership.objects.get(user__username="kahu")).pk

    def test_axe_finds_nothing_serious_and_nothing_overflows(self):
        for name, args in self.pages():
            self.go(name, *args)
            if name == "unit":
                self.page.evaluate("for (const d of document.querySelectorAll('details.add')) d.open = true")
            for size in (PHONE, LAPTOP):
                self.page.set_viewport_size(size)
                where = f"{name} at {size['width']}"
                self.page.emulate_media(color_scheme="light")
                self.axe(where)
                self.fits_the_width(where)
                # The themes differ in nothing but their colours.
                self.page.emulate_media(color_scheme="dark")
                self.axe(f"{where} in dusk", "color-contrast")


class OwnerPagesTest(BrowserCase):
    user = "owner"

    def test_axe_on_the_crew_page_and_the_login(self):
        self.go("crew")
        self.axe("crew")
        self.page.get_by_role("button", name="Make the link").click()
        self.axe("crew with a link")
        self.page.set_viewport_size(PHONE)
        self.fits_the_width("crew with a link")
        self.page.set_viewport_size(LAPTOP)
        self.page.get_by_label("12 hours").check()
        self.page.get_by_role("button", name="Save").first.click()
        self.go("round")
        self.page.get_by_role("link", name="Path lights").first.click()
        self.sees("10:40 pm")
        self.page.get_by_role("button", name="Log out").click()
        self.page.get_by_label("User name").wait_for()
        self.axe("login")


class ToldTest(BrowserCase):
    """What goes wrong is told where one looks, above the bar of the thumb."""

    size, touch = PHONE, True

    def setUp(self):
        super().setUp()
        self.unit = Unit.objects.get(name="Path lights")
        self.go("unit", self.unit.pk)
        self.page.wait_for_load_state("networkidle")

    def tearDown(self):
        self.complaints = [c for c in self.complaints if "net::ERR_" not in c and "htmx:sendError" not in c]
        super().tearDown()

    def open_slot(self, number):
        self.page.locator(f".slots > li[data-slot='{number}'] summary").first.tap()

    def told(self):
        """What the bar says, once nothing lies over it."""
        self.page.locator("[data-fault]:not([hidden])").wait_for()
        on_top = """() => {
            const bar = document.querySelector("[data-fault]"), { x, y, width, height } = bar.getBoundingClientRect();
            return document.elementFromPoint(x + width / 2, y + height / 2) === bar;
        }"""
        self.assertTrue(self.page.evaluate(on_top))
        return self.page.locator("[data-fault]").inner_text()

    def test_somebody_else_was_there_first(self):
        self.open_slot(4)
        field = self.page.locator("input[name=at_offset]").first
        field.wait_for()
        revisions.edit(
            self.unit, Membership.objects.get(user__username="owner"), self.unit.head.number,
            lambda plan: edits.copy_entry(plan, 0), "copied", now=read_now(),
        )  # fmt: skip
        field.fill("20")
        field.press("Enter")
        self.assertIn("owner", self.told())
        self.assertEqual(self.page.locator("input[name=at_offset]").first.input_value(), "20")

    def test_no_signal(self):
        self.context.set_offline(True)
        self.open_slot(4)
        self.assertIn("did not answer", self.told())
        self.context.set_offline(False)
