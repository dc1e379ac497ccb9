"""The page of a load: typed, refused, kept, previewed, mended; and the sheet of an escape door."""

from django.urls import reverse

from skavit.background.models import State
from skavit.background.tests.builders import work_off
from skavit.units.tests.one_unit import OneUnitCase

LAMPS = {
    "sort": "transformer", "wired": "open", "character": "led", "volts": "230", "supply": "12", "rating": "100",
    "taps": "12, 13", "low": "10.8", "high": "12.6", "cable": "2.5 mm²", "draws_as": "current", "price": "0.3",
    **{f"va_{n}": "12" for n in range(1, 8)}, **{f"m_{n}": m for n, m in enumerate((18, 6, 6, 6, 7, 7, 9), start=1)},
}  # fmt: skip
DOOR = {
    "sort": "lock-holds",
    "wired": "closed",
    "character": "inductive",
    "volts": "24",
    "watts": "12",
    "draws_as": "current",
    "escape": "1",
}


class LoadCase(OneUnitCase):
    @property
    def load(self):
        return self.unit.plan.channels[0].load

    def keep(self, name="load-save", revision=None, **data):
        return self.post(name, 1, revision=revision, htmx=False, **data)

    def load_page(self):
        return self.page("load", 1)


class LampsTest(LoadCase):
    def test_seven_lamps_too_low_and_the_way_that_mends_them(self):
        self.assertContains(self.load_page(), "what hangs on channel 1")
        self.assertRedirects(self.keep(**LAMPS), reverse("load", args=[self.unit_pk, 1]))
        page = self.load_page()
        self.assertContains(page, "8.1 to 10.1 V, wanted 10.8 to 12.6")
        self.assertContains(page, "84 of 100 VA, 84%")
        unit = self.client.get(reverse("unit", args=[self.unit_pk]))
        self.assertContains(unit, "7 lamps out of band")
        self.assertContains(unit, "fed in the middle too")
        self.keep("load-mend", way="0")
        self.assertContains(self.load_page(), "10.9 to 12.0 V")
        self.assertNotContains(self.client.get(reverse("unit", args=[self.unit_pk])), "lamps out of band")
        # What was mended shows in the form as it was laid.
        self.assertContains(self.load_page(), "0-4 36 m")

    def test_a_preview_follows_what_is_typed(self):
        self.assertContains(self.keep("load-preview", **LAMPS), "8.1 to 10.1 V")
        self.assertEqual(self.keep("load-preview", **LAMPS | {"m_3": ""}).status_code, 204)
        self.assertIsNone(self.load)

    def test_what_is_refused_keeps_what_was_typed(self):
        for change, told in (
            ({"cable": "3 mm²"}, "is no cable"),
            ({"m_3": ""}, "How far is it"),
            ({"va_3": "", "m_3": ""}, "Lamp 3 is missing"),
            ({"from_2": "9"}, "from 0 to 7"),
            ({"extra": "7 to"}, "is no length"),
            ({"taps": "twelve"}, "cannot be read"),
            ({"litres": "180"}, "How many watts"),
            ({"litres": "180", "heater": "3000", "draws": "early 90"}, "is not accepted"),
            ({"litres": "180", "heater": "3000", "hot": "10"}, "No warmer than the cold water"),
        ):
            with self.subTest(told=told):
                answer = self.keep(**LAMPS | change)
                self.assertContains(answer, told, status_code=422)
                self.assertContains(answer, 'value="10.8"', status_code=422)
        self.assertIsNone(self.load)

    def test_a_stale_page(self):
        before = self.unit.head.number
        self.keep(**LAMPS)
        self.assertEqual(self.keep(revision=before, **LAMPS | {"rating": "200"}).status_code, 409)
        self.keep("load-remove")
        self.assertIsNone(self.load)


class HeaterTest(LoadCase):
    STORE = {
        "sort": "heater",
        "character": "resistive",
        "draws_as": "current",
        "litres": "180",
        "heater": "30",
        "draws": "7:00 90",
    }

    def test_a_figure_that_may_be_a_slip_is_asked_about_and_kept_on_a_second_word(self):
        answer = self.keep(**self.STORE)
        self.assertContains(answer, "From cold it would take", status_code=422)
        self.assertIsNone(self.load)
        self.assertContains(answer, "It is as typed: keep it", status_code=422)
        self.keep(**self.STORE, surely="on")
        self.assertEqual(self.load.store.heater_w, 30)

    def test_the_watts_are_said_once(self):
        answer = self.keep(**self.STORE | {"heater": "3000", "watts": "1200"})
        self.assertContains(answer, "The heater below says it", status_code=422)

    def test_the_year_of_a_store_is_what_is_drawn_and_lost(self):
        self.keep(**self.STORE | {"heater": "3000"})
        page = self.load_page()
        # 90 litres by 45 K are 4.7 kWh a day: as much as the hours of ON let it take.
        self.assertContains(page, "for what is drawn and lost")


class DoorTest(LoadCase):
    def test_a_lock_that_holds_with_power(self):
        self.keep(**DOOR)
        page = self.load_page()
        self.assertContains(page, "Escape route")
        self.assertContains(page, "Relay off: the door is held. Wired to NC.")
        self.assertContains(page, "Switch the lock&#x27;s supply off: the door is free at once.")
        self.keep(**DOOR | {"wired": "open"})
        self.assertContains(self.load_page(), "On the wrong contact")
        self.assertContains(self.client.get(reverse("unit", args=[self.unit_pk])), "on the wrong contact")

    def test_the_sheet_is_not_printed_before_its_caution_is_ticked(self):
        self.keep(**DOOR)
        sheet = self.client.get(reverse("sheet", args=[self.unit_pk]))
        self.assertContains(sheet, "Not printed before its caution is seen")
        refused = self.client.post(reverse("sheet-pdf", args=[self.unit_pk]), follow=True)
        self.assertContains(refused, "Not printed yet: Escape door")
        self.client.post(reverse("sheets-pdf"), {"unit": [self.unit_pk]})
        (job,) = work_off()
        self.assertEqual(job.state, State.REFUSED)
        self.assertIn("Left out, caution not read yet: ", job.told)
        step = next(row.step for row in sheet.context["rows"] if row.step.kind == "escape")
        self.client.post(reverse("tick", args=[self.unit_pk]), {"key": step.key, "done": "1", "number": "1"})
        self.assertNotContains(self.client.get(reverse("sheet", args=[self.unit_pk])), "Not printed before")
        self.assertEqual(self.client.post(reverse("sheet-pdf", args=[self.unit_pk])).status_code, 302)

    def test_the_first_person_and_the_pin(self):
        self.keep(**DOOR | {"first_in": "1"})
        self.assertTrue(self.unit.plan.channels[0].first_in)
        self.keep(**DOOR)
        self.assertFalse(self.unit.plan.channels[0].first_in)
        self.assertContains(self.post("unit-pin", pin="factory"), "The PIN is still the one from the factory")
        self.post("unit-pin", pin="set")
        self.assertEqual(self.unit.plan.unit.pin, "set")
