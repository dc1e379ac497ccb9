"""A visit on the phone, its middle without signal; two people at one visit; and the telephone call before it."""

from browser_tests.browser import PASSWORD, PHONE, BrowserCase
from browser_tests.cable import Cable
from skavit.crews.models import Crew, Membership, User
from skavit.units.models import Tick, Unit
from skavit.visits.models import Photo, Visit
from skavit.visits.tests.builders import picture


class VisitCase(BrowserCase):
    size = PHONE
    touch = True

    def setUp(self):
        self.cable = Cable(int(self.live_server_url.rsplit(":", 1)[1]))
        self.addCleanup(self.cable.close)
        self.live_server_url = f"http://127.0.0.1:{self.cable.port}"
        super().setUp()
        self.unit = Unit.objects.get(name="Path lights")
        self.taps = 0

    def tearDown(self):
        self.complaints = [c for c in self.complaints if "net::ERR_" not in c]
        super().tearDown()

    def tap(self, found):
        found.tap()
        self.taps += 1

    def fill(self, label, text):
        """A tap into the field; letters are typed."""
        field = self.page.get_by_label(label, exact=True)
        self.tap(field)
        field.fill(text)

    def choose(self, name, choice):
        self.tap(self.page.locator(f"[data-field='{name}']").get_by_role("radio", name=choice, exact=True))

    def link(self, name):
        self.tap(self.page.get_by_role("link", name=name).first)

    def kept(self):
        self.page.locator("[data-visit][data-kept='1']").wait_for()

    def sent(self):
        self.page.locator("[data-visit][data-unsent='0']").wait_for()

    def reconnect(self):
        self.cable.mend()
        self.page.evaluate("dispatchEvent(new Event('online'))")


class WholeVisitTest(VisitCase):
    def test_from_as_found_to_its_end_in_fewer_than_forty_taps_the_middle_without_signal(self):
        self.go("unit", self.unit.pk)
        self.link("Visit")
        self.kept()
        self.fits_the_width("a visit")
        self.axe("a visit")
        self.tap(self.page.get_by_role("button", name="It does"))
        self.choose("mode", "on by hand")
        self.sent()
        self.assertEqual(Visit.objects.get().value("mode"), "on by hand")

        self.cable.cut()
        self.choose("battery", "low")
        self.fill("The entries it holds, a line each", "on sunset\noff 23:15")
        self.page.locator("[data-photo]").set_input_files(
            {"name": "lid.png", "mimeType": "image/png", "buffer": picture().read()}
        )
        self.taps += 2  # the button, and the camera's own
        self.page.get_by_text("No connection. Kept here, sent when it can be: written down: 2, photos: 1.").wait_for()
        self.tap(self.page.get_by_role("link", name="Entry sheet"))
        self.page.locator("[data-sheet]").wait_for()
        while not self.page.locator("[data-step-next]").is_disabled():
            self.tap(self.page.locator(".step-now .tick-box:visible"))
        self.tap(self.page.locator(".step-now .tick-box:visible"))
        self.link("Visit")
        self.page.locator("[data-visit][data-ready='1']").wait_for()
        self.assertEqual(
            self.page.get_by_label("The entries it holds, a line each").input_value(), "on sunset\noff 23:15"
        )
        self.page.locator("[data-photo-list] canvas").wait_for()
        self.choose("keyed", "all as the sheet says")
        self.choose("left_mode", "automatic")
        self.choose("tested", "on and off were seen")
        self.choose("after_cover", "as it must be")
        self.fill("Signed", "Kahu")
        self.tap(self.page.get_by_role("button", name="End the visit"))
        self.page.get_by_text("the end of the visit").wait_for()
        self.assertEqual((Photo.objects.count(), Tick.objects.count()), (0, 0))
        self.assertIsNone(Visit.objects.get().ended)

        self.reconnect()
        self.page.get_by_role("heading", name="Visit 1").wait_for()
        self.page.get_by_text("The plan keys the same today.").wait_for()
        visit = Visit.objects.get()
        self.assertEqual((visit.photos.count(), len(visit.as_found.entries)), (1, 2))
        self.assertEqual(visit.value("signed"), "Kahu")
        self.page.locator(".photos img").wait_for()
        self.fits_the_width("a visit that has ended")
        self.assertLess(self.taps, 40)
        # What was ticked on the sheet meanwhile went before it.
        self.assertGreater(Tick.objects.count(), 5)
        self.assertEqual(len(visit.steps), Tick.objects.count())

    def test_what_it_must_say_first_is_told_at_the_field(self):
        self.go("visit", self.unit.pk)
        self.fill("Time it shows", "half past")
        self.tap(self.page.get_by_role("button", name="End the visit"))
        self.page.get_by_text("Sign it with a name.").wait_for()
        self.page.get_by_text("Say in which mode it was left.").wait_for()
        self.assertEqual(self.page.get_by_label("Time it shows").input_value(), "half past")
        self.assertIsNone(Visit.objects.get().ended)


class NoteWithoutSignalTest(VisitCase):
    def test_a_note_waits_here_and_is_sent_later_once(self):
        self.go("record", self.unit.pk)
        self.cable.cut()
        self.page.get_by_label("A note", exact=True).fill("Key safe moved to the gate")
        self.page.get_by_label("Photos").set_input_files(
            {"name": "gate.png", "mimeType": "image/png", "buffer": picture().read()}
        )
        write = self.page.get_by_role("button", name="Write the note")
        write.tap()
        self.page.get_by_text("Key safe moved to the gate (photos: 1) Not sent yet: no connection.").wait_for()
        self.fits_the_width("a note that waits")
        self.page.get_by_role("button", name="Change it").tap()
        field = self.page.get_by_label("A note", exact=True)
        self.assertEqual(field.input_value(), "Key safe moved to the gate")
        field.fill("Key safe moved to the shed")
        write.tap()
        self.page.get_by_text("Key safe moved to the shed (photos: 1) Not sent yet: no connection.").wait_for()
        self.assertEqual(self.unit.notes.count(), 0)
        self.reconnect()
        self.page.locator(".note .photos img").wait_for()
        note = self.unit.notes.get()
        self.assertEqual((note.text, note.photos.count()), ("Key safe moved to the shed", 1))

    def test_what_the_server_refuses_is_told_and_can_be_changed(self):
        self.go("record", self.unit.pk)
        self.page.get_by_label("Photos").set_input_files(
            {"name": "gate.png", "mimeType": "image/png", "buffer": b"no picture at all"}
        )
        self.page.get_by_role("button", name="Write the note").tap()
        self.page.locator("[data-notes-waiting]", has_text="Accepted: ").wait_for()
        self.page.get_by_role("button", name="Change it").tap()
        self.assertEqual(self.unit.notes.count(), 0)


class TwoPeopleTest(VisitCase):
    def second(self):
        ana = User.objects.create_user("Ana", password=PASSWORD)
        Membership.objects.create(crew=Crew.objects.get(), user=ana, role="installer")
        context = self.browser.new_context(viewport=PHONE, has_touch=True)
        self.addCleanup(context.close)
        page = context.new_page()
        page.goto(self.url("login"))
        page.get_by_label("User name").fill("Ana")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Log in").click()
        page.wait_for_url(self.url("round"))
        return page

    def test_one_begins_the_other_goes_on_and_what_both_wrote_is_asked(self):
        self.go("visit", self.unit.pk)
        self.choose("battery", "low")
        self.sent()
        first, self.page = self.page, self.second()
        self.go("visit", self.unit.pk)
        self.page.get_by_role("heading", name="Visit 1").wait_for()
        self.choose("battery", "flat")
        self.sent()
        second, self.page = self.page, first
        self.choose("battery", "good")
        self.page.get_by_text("Ana wrote flat").wait_for()
        self.assertEqual(Visit.objects.get().value("battery"), "flat")
        self.tap(self.page.get_by_role("button", name="Keep mine"))
        self.sent()
        self.assertEqual(Visit.objects.get().value("battery"), "good")

        self.page = second
        for name, choice in (("keyed", "nothing was keyed"), ("left_mode", "automatic")):
            self.choose(name, choice)
        self.fill("Signed", "Ana")
        self.tap(self.page.get_by_role("button", name="End the visit"))
        self.page.get_by_text("Nothing was keyed.").wait_for()
        self.page = first
        self.fill("What else was done", "hinge oiled")
        self.page.get_by_text("Ana ended visit 1 meanwhile").wait_for()
        self.tap(self.page.get_by_role("button", name="Put it into a new visit"))
        self.sent()
        self.assertEqual(Visit.objects.get(ended=None).value("done"), "hinge oiled")


class TelephoneTest(VisitCase):
    def test_what_the_customer_says_leads_to_a_cause(self):
        self.go("unit", self.unit.pk)
        self.link("What is wrong?")
        # At midnight the path is dark all year: so it is at noon by a clock that is half a day out.
        look = self.page.locator(".look").first
        look.get_by_label("Day").select_option(index=1)
        look.get_by_label("At", exact=True).fill("12:00")
        look.get_by_role("radio", name="off", exact=True).check()
        look.get_by_label("Display reads").fill("0:00")
        self.page.get_by_text("The clock is twelve hours out: AM is set for PM.").wait_for()
        self.fits_the_width("what is wrong")
        self.axe("what is wrong")
        self.page.reload()
        self.page.get_by_text("The clock is twelve hours out: AM is set for PM.").wait_for()
