"""Units that hold temperatures, relays and loads in the browser, at laptop and phone width: whole jobs from an empty site."""

from browser_tests.browser import PHONE, NewUnitCase
from skavit.core.kinds import shipped_kinds
from skavit.crews.models import Membership
from skavit.heating.tests.builders import make_heating
from skavit.units.models import Unit

WORKDAYS = (("6:30", "20.5"), ("8:30", "16"), ("16:30", "21"), ("22:00", "15"))
WEEKENDS = (("8:00", "20"), ("23:00", "15"))


class HeatingCase(NewUnitCase):
    begins = "#wanted-1-new form"

    def days(self, kind, points):
        """A group of days with its set points."""
        form = self.open("wanted-1-new")
        form.get_by_label(kind, exact=True).check()
        for number, (at, c) in enumerate(points, start=1):
            form.locator(f"[name=at_{number}]").fill(at)
            form.locator(f"[name=c_{number}]").fill(c)
        form.get_by_role("button", name="Add the set points").click()
        self.page.locator("#wanted .group-days", has_text=kind).wait_for()
        self.page.wait_for_load_state("networkidle")

    def by_hand(self, what, date, time, **more):
        panel = self.page.locator("#by-hand details")
        if panel.get_attribute("open") is None:
            panel.locator("summary").click()
        panel.get_by_label("Date").fill(date)
        panel.get_by_label("Time").fill(time)
        panel.get_by_label("What").select_option(what)
        for label, value in more.items():
            panel.get_by_label(label.replace("_", " "), exact=True).fill(value)
        panel.get_by_role("button", name="Add", exact=True).click()


class LaptopTest(HeatingCase):
    def test_a_thermostat_from_nothing_to_its_sheet(self):
        self.site("Lantern lane")
        self.unit("Room thermostat, four periods", "Reading room")
        self.axe("an empty thermostat")
        self.days("Mon to Fri", WORKDAYS)
        self.days("Sat, Sun", WEEKENDS)
        self.page.get_by_role("button", name="Fit the set points").first.click()
        self.sees("the unit holds just what is wanted")
        self.axe("set points fitted")
        self.page.get_by_role("link", name="Rooms and frost protection").click()
        self.page.get_by_label("Frost protection at").fill("8")
        self.page.get_by_label("Loses, watts a degree").fill("150")
        self.page.get_by_label("Stores, watt hours a degree").fill("3000")
        self.page.get_by_label("Heater, watts").fill("7000")
        self.axe("rooms")
        self.page.get_by_role("button", name="Save", exact=True).click()
        # When the heat must start on the coldest morning.
        self.page.locator(".mornings tbody tr").first.wait_for()
        self.assertIn("06:30", self.page.locator(".mornings").inner_text())
        self.by_hand("hold_min", "7 Jun 2027", "12:00", Temperature="22", How_long="120")
        self.page.locator(".by-hand-rows", has_text="22 °C for 2 h").wait_for()
        self.by_hand("holiday_until", "8 Jun 2027", "9:00", Back_on="10 Jun 2027", Back_at="18:00")
        self.page.locator(".by-hand-rows", has_text="Holiday until 10 Jun 2027").wait_for()
        unit = Unit.objects.get(name="Reading room", site__name="Lantern lane")
        self.page.goto(f"{self.url('unit', unit.pk)}?year=2027&channel=1&day=20976")  # 7 June 2027
        lines = self.page.locator("#night .turns li").all_inner_texts()
        told = [line.split("\n")[0:1] + line.split("\n")[-1:] for line in lines]
        self.assertEqual([first for first, _ in told], ["00:00", "06:30", "08:30", "12:00", "14:00", "16:30", "22:00"])
        self.press("ArrowRight")
        self.page.locator("#night .turns", has_text="8 °C").wait_for()
        self.press("s")
        self.sees("Before mounting")
        titles = self.page.locator(".step h2").all_text_contents()
        self.assertEqual([t for t in titles if t in ("Mon to Fri", "Sat, Sun")], ["Mon to Fri", "Sat, Sun"])
        self.assertEqual(titles[-1], "Held now, relay heard")

    def test_weekends_that_nobody_keyed_are_mended_by_one_button(self):
        room = Unit.objects.get(name="Reading room")
        self.go("unit", room.pk)
        self.sees("Reading room is held up to 6 °C colder than wanted")
        self.page.get_by_role("button", name="Fit all set points anew").first.click()
        self.page.locator("#keyed .group-days", has_text="Sat, Sun").wait_for()
        self.press("u")
        self.page.locator("#keyed .group-days", has_text="Sat, Sun").wait_for(state="detached")

    def test_what_is_typed_is_told_before_it_is_kept_and_wrong_input_stays(self):
        room = Unit.objects.get(name="Reading room")
        self.go("unit", room.pk)
        form = self.open("keyed-1-0")
        form.locator("[name=c_1]").fill("23")
        self.page.locator(".preview", has_text="too warm a year").wait_for()
        form.locator("[name=at_2]").fill("25:00")
        form.get_by_role("button", name="Save the set points").click()
        self.sees("a clock time such as")
        again = self.page.locator("#keyed-1-0 form").first
        self.assertEqual(again.locator("[name=at_2]").input_value(), "25:00")
        self.assertEqual(again.locator("[name=c_1]").input_value(), "23")

    def test_lamps_that_are_dim_are_mended(self):
        path = Unit.objects.get(name="Path lamps")
        self.go("unit", path.pk)
        self.sees("7 lamps out of band")
        self.page.get_by_role("link", name="low-voltage transformer, 7 lamps").click()
        self.page.locator(".cable-run.stack-wide").wait_for()
        self.axe("a load")
        self.page.get_by_label("At least, volts at a lamp").fill("7")
        self.page.locator("#load-shown dd", has_text="wanted 7 to").wait_for()
        self.page.get_by_label("At least, volts at a lamp").fill("10.8")
        self.page.locator("#load-shown dd", has_text="wanted 10.8 to").wait_for()
        self.page.reload()
        self.page.get_by_role("button", name="Take it").first.click()
        self.page.locator("#load-shown dd", has_text="10.9 to 12.0 V").wait_for()

    def test_an_escape_door_from_wiring_to_the_sheet(self):
        depot = Unit.objects.get(name="Gate and side door")
        self.go("load", depot.pk, 2)
        self.page.get_by_role("img", name="Relay off: the door is held. Wired to NC.").wait_for()
        self.page.get_by_role("img", name="Relay on: the door is free. Wired to NC.").wait_for()
        self.page.locator("#load-shown .supply div", has_text="Its own power lost").get_by_text(
            "The door is free"
        ).wait_for()
        self.go("sheet", depot.pk)
        self.sees("Escape door: Side door")
        self.sees("Not printed before its caution is seen")
        self.assertEqual(self.page.locator("[data-print]").count(), 0)
        self.page.locator(".step-escape .tick-box:visible").click()
        self.ticks_sent()
        self.page.reload()
        self.page.locator("[data-print]").wait_for(state="attached")
        titles = self.page.locator(".step h2").all_text_contents()
        self.assertLessEqual({"Wiring: Gate", "Wiring: Side door", "Try it: Side door"}, set(titles))


class PhoneTest(HeatingCase):
    size, touch = PHONE, True

    def test_the_whole_job_with_the_thumb(self):
        self.site("Quay lane")
        self.unit("Room thermostat, four periods", "Shop")
        self.fits_the_width("an empty thermostat")
        self.days("Mon to Fri", WORKDAYS)
        self.page.locator(".thumb-bar").get_by_role("button", name="Fit the set points").tap()
        self.sees("the unit holds just what is wanted")
        self.axe("set points fitted, phone")
        self.fits_the_width("set points fitted")
        self.page.locator(".thumb-bar").get_by_role("link", name="Entry sheet").tap()
        titles = self.ticked_to_the_last_step()
        self.assertIn("How its holiday counts", titles)
        self.page.locator(".step-now .tick-box:visible").tap()
        self.ticks_sent()
        unit = Unit.objects.get(name="Shop")
        for name, args in (("handover", [unit.pk]), ("heat-rooms", [unit.pk]), ("options", [unit.pk]), ("round", [])):
            self.go(name, *args)
            self.fits_the_width(name)
        path = Unit.objects.get(name="Path lamps")
        self.go("load", path.pk, 1)
        self.fits_the_width("a load")
        self.axe("a load, phone")
        for slug in ("volts", "contact", "warm-up"):
            self.go("calculator", slug)
            self.fits_the_width(slug)

    def test_the_sheet_of_every_kind_that_holds_temperatures_is_walked(self):
        crew = Membership.objects.get(user__username="kahu").crew
        for kind in (kind for kind in shipped_kinds() if kind.heating):
            unit = make_heating(crew, kind.slug, name=kind.name[:60])
            self.go("sheet", unit.pk)
            self.assertEqual(self.page.locator(".said-error:visible").count(), 0, kind.name)
            while not self.page.locator("[data-step-next]").is_disabled():
                self.page.locator("[data-step-next]").tap()
