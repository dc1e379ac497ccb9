"""A unit as found, and its clock and sun beside what they must show."""

from datetime import date

from django.test import TestCase
from django.urls import reverse
from weasyprint.urls import FatalURLFetchingError

from skavit.background.tests.builders import work_off
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number
from skavit.core.tests.builders import local_instant
from skavit.crews.models import Crew
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.units.models import AsFound, Unit
from skavit.units.pages.sheet.pdf import pdf_of
from skavit.units.services.revisions import edit
from skavit.units.tests.counting import counted

# Tuesday 16 February 2027, 14:25 New Zealand daylight time: 01:25 UTC.
NOW = 1_802_741_100


class LookingCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit_pk = make_unit(cls.crew).pk

    def setUp(self):
        self.client.force_login(member(self.crew).user)
        stop_clock(self, NOW)

    @property
    def unit(self):
        return Unit.objects.select_related("site", "head", "kind").get(pk=self.unit_pk)


class ClockPageTest(LookingCase):
    def answers(self, **shown):
        return self.client.get(reverse("unit-clock", args=[self.unit_pk]), shown, headers={"HX-Request": "true"})

    def test_what_it_must_show_now(self):
        page = self.client.get(reverse("unit-clock", args=[self.unit_pk]))
        self.assertContains(page, "14:25")
        self.assertContains(page, "Tuesday, 16 Feb 2027")
        self.assertContains(page, "It shows true time on every day of 2027")
        self.assertContains(page, "Longest night")

    def test_slips_are_answered_at_once(self):
        for shown, text in [
            ({"time": "2:25 am"}, "Twelve hours out. It is after noon: PM."),
            ({"time": "15:25"}, "An hour ahead"),
            ({"weekday": "Monday"}, "It shows Monday, it is Tuesday"),
            ({"date": "16 Feb 2026", "weekday": "Monday"}, "The year is 2026, it must be 2027"),
            ({"time": "14:25", "date": "16 Feb", "weekday": "Tuesday"}, "Clock and date are right."),
        ]:
            with self.subTest(shown):
                self.assertContains(self.answers(**shown), text)
        self.assertContains(self.answers(time="25:99"), "Accepted", status_code=200)

    def test_sun_times_are_judged_by_the_units_own_clock(self):
        """16 February 2027: sunset 20:13 by PyEphem, to the minute, and sunrise 06:40 by the core."""
        right = self.answers(sunrise="06:40", sunset="20:13", time="14:25").context["answers"].sun
        self.assertEqual((right.clock_first, right.correction), ("", ("0", "0")))
        behind = self.answers(sunrise="05:40", sunset="19:13", time="13:25")
        self.assertContains(behind, "By its own clock these sun times are right. Set the clock; they move with it.")
        self.assertNotContains(behind, "Save this")
        both = self.answers(sunrise="06:12", sunset="19:40", time="13:25")
        self.assertContains(both, "Set the clock first. Then read the sun times again")
        self.assertNotContains(both, "Save this")
        slipped = self.answers(sunrise="06:40", sunset="20:13", time="13:25")
        self.assertContains(slipped, "Its sun times are right. Set the clock.")

    def test_a_displayed_rule_is_held_against_the_law(self):
        # NZ Daylight Time Order 2007: last Sunday of September to first Sunday of April.
        law = {"from_month": "9", "from_week": "5", "to_month": "4", "to_week": "1"}
        self.assertContains(self.answers(**law), "Its daylight saving is right for here")
        self.assertContains(
            self.answers(**{**law, "from_month": "10", "from_week": "1"}), "1 h behind from 26 Sep to 3 Oct 2027"
        )
        self.assertContains(
            self.answers(starts="26 Sep 2027", ends="2 Apr 2028"), "Its daylight saving is right for here"
        )
        Crew.objects.update(summer_time=True)
        self.assertContains(self.answers(**law), "Its summer time is right for here")
        self.assertContains(
            self.answers(starts="19 Sep 2027", ends="2 Apr 2028"), "1 h ahead from 19 Sep to 25 Sep 2027"
        )

    def test_a_sun_reading_gives_correction_and_place_and_is_kept(self):
        # The table of 44 S at 180 E on that day, by PyEphem: see the core's test of readings.
        page = self.answers(sunrise="06:19", sunset="20:08")
        self.assertContains(page, "It behaves as if it stood at 4")
        self.assertContains(page, "own meridian: a zone table")
        self.assertContains(page, "Save this correction")
        adjust = page.context["answers"].sun.adjust
        sent = {"revision": self.unit.head.number, "sunrise_min": adjust.sunrise_min, "sunset_min": adjust.sunset_min}
        self.client.post(reverse("clock-keep", args=[self.unit_pk]), sent)
        self.assertEqual(self.unit.plan.unit.sun.adjust, adjust)
        self.client.post(reverse("clock-keep", args=[self.unit_pk]), {**sent, "error_s": "600"})
        self.assertEqual(self.unit.plan.unit.clock.error_s, 0, "a stale page changes nothing")
        self.client.post(
            reverse("clock-keep", args=[self.unit_pk]), {"revision": self.unit.head.number, "error_s": "600"}
        )
        self.assertEqual(self.unit.plan.unit.clock.error_s, 600)
        self.client.post(reverse("clock-keep", args=[self.unit_pk]), {"revision": "x"})

    def test_a_correction_acts_where_a_channel_has_its_own_and_a_place_is_taken_in_one_step(self):
        plan = self.unit.plan.to_json()
        plan["channels"][0]["adjust"] = {"sunrise_min": 3, "sunset_min": 3}
        made = read_plan(Node(plan))
        edit(self.unit, member(self.crew), self.unit.head.number, lambda _: made, "own correction", now=NOW)
        page = self.answers(sunrise="06:19", sunset="20:08")
        takes = page.context["answers"].sun.takes
        # The table of 44 S, read to the minute: the latitude within half a degree.
        self.assertAlmostEqual(takes.latitude, -44, delta=0.6)
        self.assertIsNone(takes.longitude)
        self.assertContains(page, takes.words)
        sent = {"revision": self.unit.head.number, "sunrise_min": "-4", "sunset_min": "12"}
        answer = self.client.post(reverse("clock-keep", args=[self.unit_pk]), sent, follow=True)
        self.assertContains(answer, "The year sheet runs with it.")
        self.assertEqual(self.unit.plan.adjust_of(1).sunset_min, 12)
        self.client.post(
            reverse("clock-keep", args=[self.unit_pk]),
            {"revision": self.unit.head.number, "latitude": f"{takes.latitude:.1f}"},
        )
        sun = self.unit.plan.unit.sun
        self.assertEqual((sun.source, sun.latitude, sun.adjust), ("table", takes.latitude, None))

    def test_a_kind_with_a_margin_shows_sunset_once_its_correction_takes_that_off(self):
        sent = {"kind": "wall-switch-astronomic", "revision": self.unit.head.number}
        self.client.post(reverse("unit-kind", args=[self.unit_pk]), sent)
        page = self.client.get(reverse("unit-clock", args=[self.unit_pk]))
        dusk = next(sun for sun in page.context["must"].sun if sun.name == "DUSK")
        # Its coordinates are whole degrees: a minute or two from the true sunset, and not fifteen.
        self.assertEqual(dusk.true[:4], "8:13")
        self.assertIn(dusk.shows[:4], ("8:11", "8:12", "8:13", "8:14"))
        sheet = self.client.get(reverse("sheet", args=[self.unit_pk]))
        step = next(row.step for row in sheet.context["rows"] if row.step.kind == "correction")
        self.assertEqual([row.value for row in step.display.rows], ["+15 min", "-15 min"])
        self.assertIn("DAWN and DUSK lie 15 min outside the day", step.say)

    def test_a_day_evenly_too_long_first_asks_what_its_words_mean(self):
        # 16 February 2027 here: sunrise 06:40, sunset 20:13 (the sun's own tests stand behind it), a quarter of an hour outside.
        shown = {"sunrise": "06:25", "sunset": "20:28"}
        page = self.answers(**shown)
        self.assertContains(page, "What does it mean by its words")
        self.assertContains(page, "<summary>Neither: its table is another place")
        found = self.client.post(reverse("as-found-keep", args=[self.unit_pk]), shown, follow=True)
        self.assertContains(found, "What does it mean by its words")
        self.assertNotContains(found, "needs a correction of")

    def test_the_us_rule_is_told_with_its_dates_and_the_sheet_keys_the_law(self):
        sent = {"revision": self.unit.head.number, "dst": "us", "on_return_to_auto": "computes"}
        self.client.post(reverse("behaviour", args=[self.unit_pk]), sent)
        page = self.client.get(reverse("unit-clock", args=[self.unit_pk]))
        self.assertContains(page, "1 h behind 1 Jan to 14 Mar, 7 Nov to 31 Dec; 1 h ahead 4 Apr to 26 Sep")
        self.assertContains(page, "True time here: 14:25")
        self.assertContains(page, "13:25")
        # The sheet keys the rule of the law here, never another country's: so it sets the true time.
        shown = day_number(date(2027, 2, 16)) * 86400 + 14 * 3600 + 25 * 60
        sheet = self.client.get(reverse("sheet", args=[self.unit_pk]))
        self.assertContains(sheet, f'data-clock="[[{NOW}, {shown}]]"')
        true, believed = (
            self.client.get(reverse("unit", args=[self.unit_pk]), {"year": "2027", **by}) for by in ({}, {"by": "unit"})
        )
        self.assertContains(true, "clocks back 4 Apr")
        self.assertContains(believed, "clocks on 14 Mar")
        self.assertNotContains(believed, "clocks back 4 Apr")

    def behaviour(self, **sent):
        usual = {"revision": self.unit.head.number, "on_return_to_auto": "computes"}
        return self.client.post(reverse("behaviour", args=[self.unit_pk]), usual | sent)

    def test_a_clock_set_an_hour_ahead_without_summer_time_is_told_by_what_it_shows(self):
        self.behaviour(dst="none", error_s="3600")
        page = self.client.get(reverse("unit-clock", args=[self.unit_pk]))
        self.assertContains(page, "<dd>1 h ahead 4 Apr–25 Sep</dd>")
        self.assertNotContains(page, "1 h behind 1 Jan")
        sheet = self.client.get(reverse("sheet", args=[self.unit_pk]))
        self.assertContains(sheet, "By its own rule it is 1 h behind now")

    def test_of_a_unit_moved_by_hand_nobody_may_come(self):
        sent = {"kind": "plug-in-weekly-switch", "revision": self.unit.head.number}
        self.client.post(reverse("unit-kind", args=[self.unit_pk]), sent)
        page = self.client.get(reverse("behaviour", args=[self.unit_pk]))
        told = [text for _, text in page.context["form"].fields["dst"].choices]
        self.assertEqual(told, ["Moved by hand, on the dates of the law", "Nobody puts it on: standard time all year",
                                "Nobody puts it back: daylight saving all year"])  # fmt: skip
        clock = self.client.get(reverse("unit-clock", args=[self.unit_pk]))
        self.assertContains(clock, "Moved by hand, on the dates of the law.")
        self.assertContains(clock, "Move the unit&#x27;s by hand.", count=2)
        self.behaviour(dst="stays-on")
        self.assertEqual(self.unit.plan.unit.clock.dst.initial_min, 60)
        page = self.client.get(reverse("behaviour", args=[self.unit_pk]))
        self.assertEqual(page.context["form"]["dst"].value(), "stays-on")
        # It runs an hour ahead of the law from April to September.
        self.assertContains(self.client.get(reverse("unit", args=[self.unit_pk])), "1 h ahead 4 Apr–26 Sep")


class AsFoundTest(LookingCase):
    def keep(self, **typed):
        return self.client.post(reverse("as-found-keep", args=[self.unit_pk]), typed, follow=True)

    def test_a_page_that_shows_no_remedy_tries_none(self):
        with counted() as seen:
            page = self.keep(lines="on 18:00\noff 22:00 mo-fr")
        worst = page.context["findings"][0].finding
        self.assertEqual((worst.code, worst.remedy, seen["audits"]), ("days-uncovered", None, 1))
        # Taken into the plan the same is told with what mends it.
        taken = {"revision": self.unit.head.number, "windows": "1"}
        record = AsFound.objects.get(unit_id=self.unit_pk).pk
        self.client.post(reverse("as-found-take", args=[self.unit_pk, record]), taken)
        whole = self.client.get(reverse("unit", args=[self.unit_pk])).context["findings"][0].finding
        self.assertIsNotNone(whole.remedy)
        self.assertNotContains(page, "Not every remedy")

    def test_slots_keep_the_numbers_that_were_typed(self):
        page = self.keep(lines="3 on 18:00\n14 off 22:00\n15 off 03:00 thu")
        self.assertContains(page, '<li value="14"><b>OFF</b> 22:00, every day</li>', html=True)
        # At three in the morning nothing is on: the last one does nothing, and is called as it was typed.
        self.assertContains(page, "Slot 15 changes nothing all year")

    def test_lines_become_windows_a_year_and_findings_and_are_taken(self):
        page = self.keep(
            lines="1 ON sunset+10\n2. off 22:40\non 5:50 am mo-fr\noff sunrise mon tue wed thu fri",
            time="14:25",
            mode="automatic",
            note="left open",
        )
        self.assertContains(page, "On from sunset + 10 min until 22:40, every day")
        self.assertContains(page, "On from 05:50 until sunrise, Mon to Fri")
        self.assertContains(page, "comes before")
        kept = AsFound.objects.get()
        self.assertEqual(kept.shown, {"time": "14:25", "mode": "automatic", "note": "left open"})
        self.assertEqual(kept.looked_at, NOW)
        sent = {"revision": self.unit.head.number, "windows": "1"}
        self.client.post(reverse("as-found-take", args=[self.unit_pk, kept.pk]), sent)
        plan = self.unit.plan
        self.assertEqual([str(e.at) for e in plan.unit.entries], ["sunset+10", "22:40", "05:50", "sunrise"])
        self.assertEqual(len(plan.channels[0].windows), 2)
        self.client.post(reverse("undo", args=[self.unit_pk]), {"revision": self.unit.head.number})
        self.assertNotEqual(self.unit.plan.channels[0].windows, plan.channels[0].windows)

    def test_a_wrong_line_is_named_and_nothing_is_lost(self):
        page = self.keep(lines="on sunset\nof 22:40\noff 25:00", time="9 o'clock")
        self.assertEqual(page.status_code, 422)
        for text in ("Line 2", "Line 3", "of 22:40", "9 o&#x27;clock"):
            with self.subTest(text=text):
                self.assertContains(page, text, status_code=422)
        self.assertFalse(AsFound.objects.exists())

    def test_a_clock_twelve_hours_out_runs_the_year_so(self):
        page = self.keep(lines="on 18:00\noff 22:00", time="2:25 am")
        self.assertContains(page, "Twelve hours out")
        self.assertEqual(page.context["findings"][0].finding.code, "clock-out")

    def test_sun_times_as_found_say_the_correction(self):
        page = self.keep(sunrise="6:28", sunset="20:31")
        self.assertContains(page, "Its sun needs a correction of sunrise")

    def test_the_time_is_that_of_the_look(self):
        self.assertEqual(
            NOW, local_instant(self.unit.plan, day_number(date(2027, 2, 16)) * 86400 + 14 * 3600 + 25 * 60)
        )


class PdfTest(LookingCase):
    def test_the_sheet_as_a_pdf(self):
        self.client.post(reverse("sheet-pdf", args=[self.unit_pk]))
        (job,) = work_off()
        self.assertContains(self.client.get(reverse("job", args=[job.pk])), "harbour-walk-path-lights-entry-sheet.pdf")
        answer = self.client.get(reverse("job-answer", args=[job.pk]))
        self.assertEqual(answer["Content-Type"], "application/pdf")
        self.assertTrue(answer.content.startswith(b"%PDF-"))
        self.assertGreater(len(answer.content), 8000)

    def test_nothing_is_fetched_from_outside(self):
        for source in ("http://127.0.0.1:9/x.png", "file:///etc/hostname"):
            with self.subTest(source=source), self.assertRaises(FatalURLFetchingError):
                pdf_of(f'<img src="{source}">')
