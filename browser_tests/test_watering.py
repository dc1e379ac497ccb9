"""The whole watering job in the browser, at laptop and phone width: from an empty controller to a sheet and a hand-over."""

from dataclasses import replace

from browser_tests.browser import PHONE, NewUnitCase
from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.place import plan_for_kind
from skavit.core.plan.times import ClockTime
from skavit.core.plan.water import Program, Run, Station, Water
from skavit.crews.models import Membership
from skavit.server.now import read_now
from skavit.sites.models import Site
from skavit.units.models import Unit
from skavit.units.services.revisions import edit
from skavit.watering.tests.builders import make_watering


class WateringCase(NewUnitCase):
    begins = "#station-new form"

    def station(self, name, area, **chosen):
        form = self.open("station-new")
        form.get_by_label("Station", exact=True).fill(name)
        form.get_by_label("Area").fill(area)
        for label, value in chosen.items():
            form.get_by_label(label.replace("_", " "), exact=True).select_option(value)
        form.get_by_role("button", name="Add the station").click()
        self.page.locator(".station-name", has_text=name).wait_for()

    def rules(self):
        self.page.locator("#wanted").get_by_role("link", name="Supply and rules").click()
        self.page.get_by_label("not between two times of the day").check()
        self.page.get_by_label("Not from").fill("9 am")
        self.page.get_by_label("until", exact=True).first.fill("8 pm")
        self.page.get_by_label("Dates", exact=True).select_option("even")
        self.page.get_by_label("A cubic metre costs").fill("3.10")

    def saved(self):
        self.page.get_by_role("button", name="Save", exact=True).click()
        self.page.locator("#unit-work").wait_for()


class LaptopTest(WateringCase):
    def test_a_customers_words_become_programs_and_a_sheet(self):
        self.site()
        self.unit("Garden controller, eight stations", "Front garden")
        self.axe("an empty controller")
        self.station("Front lawn", "120", Asked_for="3")
        self.station("Shrubs", "40", What_grows="shrubs and beds", Watered_by="drip lines", Asked_for="2")
        self.rules()
        self.axe("supply and rules")
        self.saved()
        self.page.get_by_role("button", name="Fit the programs").first.click()
        self.sees("Every station keeps its plants well")
        self.sees("the months save")
        self.axe("programs fitted")
        self.assertEqual(self.page.locator(".program").count(), 2)
        self.page.get_by_role("link", name="Other ways beside it").click()
        self.assertEqual(self.page.locator(".ways-of-water meter").count(), 5)
        self.axe("ways of watering")
        self.page.get_by_role("link", name="Back to the unit").click()
        self.press("s")
        self.sees("Before mounting")
        titles = self.page.locator(".step h2").all_text_contents()
        self.assertIn("Program A: starts", titles)
        self.assertEqual(titles[-1], "Cover shut, valves seen")
        self.page.keyboard.press("ArrowRight")
        self.page.locator("[data-step-now]", has_text="2").wait_for()

    def test_a_third_start_is_told_before_it_is_keyed(self):
        self.site()
        self.unit("Wizard controller, six stations", "Back garden")
        self.station("Lawn", "80")
        form = self.open("program-new")
        form.get_by_label("Starts").fill("4 am, 5 am")
        form.get_by_label("1 Lawn").fill("12")
        self.page.locator(".preview", has_text="12 min in all, 2 times on its days").wait_for()
        form.get_by_label("Starts").fill("4 am, 5 am, 5:05 am")
        self.page.locator(".preview", has_text="05:05 start of program A waits up to 7 min").wait_for()
        form.get_by_label("Starts").fill("4 am, 5 am")
        form.get_by_role("button", name="Add the program").click()
        self.page.locator(".program-starts", has_text="05:00").wait_for()
        self.press("u")
        self.sees("No program holds anything")
        self.press("y")
        self.page.locator(".program-starts", has_text="05:00").wait_for()

    def test_eighteen_and_twenty_four_minutes_at_a_hundred_and_thirty(self):
        self.site()
        self.unit("Garden controller, eight stations", "Front garden")
        self.station("One", "50")
        self.station("Two", "60")
        form = self.open("program-new")
        form.get_by_label("Starts").fill("4:30 am")
        form.get_by_label("1 One").fill("18")
        form.get_by_label("2 Two").fill("24")
        self.page.locator(".preview", has_text="42 min in all").wait_for()
        form.get_by_label("Season, %").fill("130")
        self.page.locator(".preview", has_text="at 130 % 54.6 min, runs as 54").wait_for()

    def test_the_terrace_that_stacks_is_mended_by_one_button(self):
        terrace = Unit.objects.get(name="Tubs and herbs")
        self.go("unit", terrace.pk)
        self.sees("The 06:15 start of program A waits up to 8 min")
        self.page.get_by_role("button", name="Program A: start at 05:30, 06:23").first.click()
        self.page.locator(".program-starts", has_text="06:23").wait_for()
        self.press("ArrowRight")
        before = self.page.locator("#night h2").inner_text()
        self.press("ArrowRight")
        self.page.wait_for_function("old => document.querySelector('#night h2').innerText !== old", arg=before)
        self.page.locator("#night .turn-time").first.wait_for()

    def test_two_tabs(self):
        pitches = Unit.objects.get(name="Pitches")
        self.go("unit", pitches.pk)
        form = self.open("program-0")
        form.get_by_label("1 North pitch, goal").fill("25")
        other = self.context.new_page()
        other.goto(self.url("unit", pitches.pk))
        other.wait_for_load_state("networkidle")
        other.locator("#program-1 summary").click()
        other.get_by_role("button", name="Clear program B").click()
        other.locator(".program").nth(1).wait_for(state="detached")
        other.close()
        form.get_by_role("button", name="Save the program").click()
        self.sees("changed this unit meanwhile")
        again = self.page.locator("#program-0 form").first
        self.assertEqual(again.get_by_label("1 North pitch, goal").input_value(), "25")
        again.get_by_role("button", name="Save the program").click()
        self.page.locator(".program-runs", has_text="25 min").wait_for()

    def test_as_found_by_the_line(self):
        self.site()
        self.unit("Garden controller, eight stations", "Front garden")
        self.page.get_by_role("link", name="As found").click()
        lines = self.page.get_by_label("The programs it holds, a line each")
        lines.fill("A 04:30 05:50 tue thu sat; 1 18")
        self.page.get_by_role("button", name="Write it down").click()
        self.sees("04:30 to 04:48")
        self.page.get_by_role("button", name="Take these programs").click()
        self.page.locator(".station-name", has_text="Station 1").wait_for()


class PhoneTest(WateringCase):
    size, touch = PHONE, True

    def test_the_whole_job_with_the_thumb(self):
        self.site("Quay lane")
        self.unit("Hose timer, one outlet, four starts", "Hose")
        self.fits_the_width("an empty controller")
        self.station("Beds", "30", What_grows="thirsty beds", Watered_by="micro-sprays")
        self.fits_the_width("a station")
        self.page.locator(".thumb-bar").get_by_role("button", name="Fit the programs").tap()
        self.sees("Every station keeps its plants well")
        self.axe("programs fitted, phone")
        self.fits_the_width("programs fitted")
        self.page.locator(".thumb-bar").get_by_role("link", name="Entry sheet").tap()
        titles = self.ticked_to_the_last_step()
        self.ticks_sent()
        self.assertIn("Program A: run times", titles)
        unit = Unit.objects.get(name="Hose")
        self.page.locator(".step-now .tick-box:visible").tap()
        self.ticks_sent()
        self.go("handover", unit.pk)
        self.sees("Watch it switch")
        self.fits_the_width("hand-over")
        self.go("supply", unit.pk)
        self.fits_the_width("supply and rules")
        self.go("saved", unit.pk)
        self.fits_the_width("other ways")
        self.go("round")
        self.fits_the_width("the round")

    def test_wrong_input_stays_and_is_told_at_its_field(self):
        self.site("Quay lane")
        self.unit("Tap timer, two outlets", "Tap")
        form = self.open("station-new")
        form.get_by_label("Station", exact=True).fill("Lawn")
        form.get_by_label("Area").fill("much")
        form.get_by_role("button", name="Add the station").tap()
        self.sees("is no area")
        self.assertEqual(self.page.get_by_label("Station", exact=True).input_value(), "Lawn")
        self.fits_the_width("refused")


class EveryKindTest(WateringCase):
    size, touch = PHONE, True

    def test_the_sheet_of_every_kind_that_waters_is_walked(self):
        crew = Membership.objects.get(user__username="kahu").crew
        program = Program(name="A", starts=(ClockTime(4 * 3600),), runs=(Run(station=1, run_min=15.0),))
        for kind in (kind for kind in shipped_kinds() if kind.watering):
            unit = make_watering(crew, kind.slug, name=kind.name[:60])
            water = Water(stations=(Station(name="Lawn", flow_l_min=20.0),), programs=(program,))
            who = Membership.objects.get(user__username="kahu")
            plan = plan_for_kind(replace(unit.plan, water=water), kind)
            edit(unit, who, unit.head.number, lambda _, plan=plan: plan, "a program", now=read_now())
            self.go("sheet", unit.pk)
            self.assertEqual(self.page.locator(".said-error:visible").count(), 0, kind.name)
            while not self.page.locator("[data-step-next]").is_disabled():
                self.fits_the_width(f"{kind.name}: {self.page.locator('.step-now h2').inner_text()}")
                self.page.locator("[data-step-next]").tap()


class DemoTest(WateringCase):
    def test_every_watering_unit_of_the_demo_has_its_page_and_its_sheet(self):
        crew = Membership.objects.get(user__username="kahu").crew
        self.assertGreater(Site.objects.filter(crew=crew).count(), 5)
        for unit in Unit.objects.filter(site__crew=crew):
            if unit.plan.water is None:
                continue
            self.go("unit", unit.pk)
            self.page.locator(".station").first.wait_for()
            self.axe(unit.name)
            self.go("sheet", unit.pk)
            self.assertIn("All read back", self.page.locator(".step h2").all_text_contents(), unit.name)
            self.assertEqual(self.page.locator(".said-error:visible").count(), 0, unit.name)
