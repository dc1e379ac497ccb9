"""Programs of a unit in the app: rows copied and moved, usual programs, previews, pulses, keyings, holidays, hand-over."""

import unittest
from datetime import date
from unittest import mock

from django.urls import reverse

from skavit.background.models import Job
from skavit.background.tests.builders import work_off
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.usual_programs import USUAL_PROGRAMS
from skavit.core.tests.builders import document, entry, window
from skavit.core.text.wording import Words
from skavit.crews.tests.builders import member, stop_clock
from skavit.server.now import read_now
from skavit.switching.trade import PAGES as SWITCHING
from skavit.units.computing import unit_year
from skavit.units.pages.view import chosen_view
from skavit.units.public_holidays import country_names, country_of, public_holidays, region_names
from skavit.units.services.revisions import edit
from skavit.units.tests.test_units import ENTRY, WINDOW, UnitCase

# 2027-06-15 10:00 in New Zealand standard time.
JUNE = 1_813_010_400


class ProgramCase(UnitCase):
    def have(self, plan):
        edit(
            self.unit,
            member(self.crew),
            self.unit.head.number,
            lambda _: read_plan(Node(plan)),
            "test plan",
            now=read_now(),
        )

    def lines(self, keying=0):
        return [(e.action, str(e.at)) for e in self.unit.plan.unit.sets[keying]]

    def get(self, name, *args, **query):
        return self.client.get(reverse(name, args=[self.unit_pk, *args]), query)


class RowsTest(ProgramCase):
    def test_slots_are_copied_and_moved(self):
        self.post("row-action", "entry-1", "copy")
        self.assertEqual([at for _, at in self.lines()], ["sunset+10", "22:40", "22:40", "05:50", "sunrise"])
        self.post("row-action", "entry-4", "move", to=1)
        self.assertEqual([at for _, at in self.lines()], ["sunrise", "sunset+10", "22:40", "22:40", "05:50"])
        self.assertEqual(self.post("row-action", "entry-9", "move", to=1).status_code, 422)
        self.assertEqual(self.post("row-action", "entry-9", "copy").status_code, 422)

    def test_windows_and_channels_are_copied(self):
        self.post("row-action", "window-1-0", "copy")
        self.assertEqual(len(self.unit.plan.channels[0].windows), 3)
        self.post("channel-copy", 1)
        plan = self.unit.plan
        self.assertEqual(plan.channels[1].name, "Channel 1 copy")
        self.assertEqual(plan.channels[1].windows, plan.channels[0].windows)
        self.assertEqual({e.channels for e in plan.unit.entries}, {(1, 2)})
        self.assertEqual(self.post("row-action", "window-1-9", "copy").status_code, 422)

    def test_a_usual_program_is_added_and_does_no_harm_to_others(self):
        for program in USUAL_PROGRAMS:
            self.post("usual-program-add", 1, program=program.slug)
        windows = self.unit.plan.channels[0].windows
        self.assertEqual(len(windows), 2 + sum(len(program.windows) for program in USUAL_PROGRAMS))
        self.assertEqual(self.post("usual-program-add", 1, program="none").status_code, 404)
        self.assertContains(self.page(), "An escape door must open from inside at any hour")

    def test_pulses_are_typed_shown_and_refused(self):
        self.post("row", "window-1-new", **WINDOW, pulse_on_s="8", pulse_every_s="240")
        self.assertEqual(self.unit.plan.channels[0].windows[-1].repeat.every_s, 240)
        self.assertContains(self.page(), "8 s every 4 min")
        answer = self.post("row", "window-1-new", **WINDOW, pulse_on_s="9", pulse_every_s="9")
        self.assertContains(answer, "fewer seconds than the whole cycle takes", status_code=422)
        pulse = ENTRY | {"action": "pulse", "seconds": "5"}
        self.post("row", "entry-new", **pulse)
        self.assertEqual(self.unit.plan.unit.entries[-1].pulse_s, 5)
        train = ENTRY | {"action": "on", "repeat_on_s": "8", "repeat_off_s": "240", "repeat_until": "4:25 pm"}
        self.post("row", "entry-new", **train)
        self.assertEqual(str(self.unit.plan.unit.entries[-1].repeat.until), "16:25")
        self.assertContains(self.page(edit="entry-5"), "16:25")
        answer = self.post("row", "entry-new", **(train | {"repeat_until": "01:00"}))
        self.assertContains(answer, "a clock time after 02:00", status_code=422)

    def test_dates_and_exceptions_are_typed(self):
        dated = WINDOW | {"days_kind": "dates", "days_dates": "25 Dec, 6 Feb 2027"}
        self.post("row", "window-1-new", **dated)
        self.assertEqual(self.unit.plan.channels[0].windows[-1].days.to_json(), {"dates": ["12-25", "2027-02-06"]})
        self.post("row", "window-1-new", **WINDOW, except_dates="1 Jan")
        days = self.unit.plan.channels[0].windows[-1].days.to_json()
        self.assertEqual(days, {"days": ["mon", "fri"], "except": [{"dates": ["01-01"]}]})
        self.post("row", "window-1-new", **WINDOW, except_dates="24 Dec for 10 days, good friday")
        (dates,) = self.unit.plan.channels[0].windows[-1].days.to_json()["except"]
        # Easter of 2027 is on 28 March and of 2028 on 16 April (Meeus, Astronomical Algorithms, chapter 8, from memory).
        self.assertIn({"from": "12-24", "days": 10}, dates["dates"])
        self.assertLessEqual({"2027-03-26", "2028-04-14"}, {d for d in dates["dates"] if isinstance(d, str)})
        answer = self.post("row", "window-1-new", **WINDOW, except_dates="Bad Friday")
        self.assertContains(answer, "Bad Friday", status_code=422)


class PreviewTest(ProgramCase):
    def test_what_an_edit_alters_is_told_and_nothing_is_kept(self):
        stop_clock(self, JUNE)
        before = self.unit.head.number
        changed = {
            "from_kind": "sunset",
            "from_offset": "10",
            "to_kind": "clock",
            "to_clock": "21:40",
            "days_kind": "daily",
        }
        answer = self.post("preview", "window-1-0", year=2027, **changed)
        # An hour less each evening, but where sunset+10 comes later than 21:40 nowhere in Hawke's Bay.
        self.assertContains(answer, "365 h less wanted, on 365 days, 1 Jan–31 Dec")
        self.assertContains(
            self.post("preview", "entry-1", year=2027, **(ENTRY | {"at_clock": "23:40"})), "365 h more on"
        )
        same = changed | {"to_clock": "22:40"}
        self.assertContains(self.post("preview", "window-1-0", year=2027, **same), "Alters nothing this year")
        broken = changed | {"to_clock": "25:00"}
        self.assertContains(self.post("preview", "window-1-0", year=2027, **broken), "Not complete yet")
        self.assertEqual(self.unit.head.number, before)


class KeyingsTest(ProgramCase):
    def test_a_keying_is_begun_as_a_copy_edited_shown_and_taken_out(self):
        answer = self.post("keying-add", htmx=False, name="Winter", **{"from": "5 Apr"})
        self.assertRedirects(answer, f"{reverse('unit', args=[self.unit_pk])}?keying=1", fetch_redirect_response=False)
        self.post("row-action", "entry-2", "remove", keying=1)
        self.assertEqual((len(self.lines()), len(self.lines(1))), (4, 3))
        page = self.page(year=2027, keying=1)
        self.assertContains(page, "Winter, from 5 Apr each year")
        self.assertContains(page, "keyed anew 5 Apr")
        self.assertContains(self.get("keyings"), "Slot 4: cleared")
        for typed in ("5 Apr", "yesterday", ""):
            with self.subTest(typed=typed):
                refused = self.post("keying-add", htmx=False, name="Again", **{"from": typed})
                self.assertContains(refused, "Accepted", status_code=422)
                self.assertContains(refused, "Again", status_code=422)
        self.post("keying-remove", 1)
        self.assertEqual(self.unit.plan.unit.keyings, ())

    def test_the_keying_of_the_day_is_shown_and_the_sheet_says_what_changes(self):
        stop_clock(self, JUNE)
        self.post("keying-add", name="Winter", **{"from": "5 Apr"})
        self.post("row-action", "entry-2", "remove", keying=1)
        self.assertEqual(chosen_view(self.unit.plan, {}, read_now()).keying, 1)
        sheet = self.get("sheet")
        self.assertContains(sheet, "Slot 3")
        self.assertNotIn("05:50", " ".join(row.step.say for row in sheet.context["rows"]))

    def test_the_sheet_tells_of_the_next_keying(self):
        stop_clock(self, JUNE)
        self.post("keying-add", name="Spring", **{"from": "26 Sep 2027"})
        self.post("row-action", "entry-2", "remove", keying=1)
        sheet = self.get("sheet")
        self.assertContains(sheet, "Key anew on 26 Sep 2027: Spring")
        self.assertContains(sheet, "Slot 3: OFF sunrise, every day; Slot 4: cleared")

    def test_a_remedy_mends_the_keying_that_it_is_told_for(self):
        stray = [entry("on", "18:00"), entry("off", "23:00"), entry("off", "20:00", ["thu"])]
        keyings = [{"from": "04-05", "entries": stray}, {"from": "09-26", "entries": stray}]
        self.have(document([window("18:00", "23:00")], stray[:2], keyings=keyings))
        self.assertContains(self.page(year=2027), "Clear slot 3")
        listed = unit_year(self.unit.plan, 2027).findings
        remedies = [f.remedy for f in listed if f.remedy and f.remedy.label == "Clear slot 3"]
        (second,) = [remedy.key for remedy in remedies if remedy.change.keying == 2]
        self.post("remedy", year=2027, remedy=second)
        self.assertEqual([len(entries) for entries in self.unit.plan.unit.sets], [2, 3, 2])


class HolidaysTest(ProgramCase):
    def test_each_country_stands_once_and_by_its_name(self):
        names = dict(country_names())
        self.assertEqual(names["NZ"], "New Zealand")
        self.assertEqual([code for code, name in names.items() if len(code) != 2 or len(name) < 4], [])

    def test_public_holidays_are_ticked_and_others_typed(self):
        stop_clock(self, JUNE)
        page = self.get("holidays", region="HKB")
        self.assertContains(page, "Hawke&#x27;s Bay Anniversary Day")
        chosen = {
            "country": "NZ",
            "region": "HKB",
            "holiday": ["Christmas Day", "Good Friday"],
            "own": "24 Dec for 10; 6 Feb 2028",
        }
        self.assertEqual(self.post("holidays", htmx=False, **chosen).status_code, 302)
        held = [h.to_json() for h in self.unit.plan.unit.holidays]
        self.assertIn({"from": "12-25", "days": 1}, held)
        self.assertIn({"from": "12-24", "days": 10}, held)
        # Good Friday by the tables of Easter: 26 March 2027 lies behind, then 14 April 2028, 30 March 2029, 19 April 2030.
        self.assertLessEqual({"2028-04-14", "2029-03-30", "2030-04-19"}, {h["from"] for h in held})
        page = self.get("holidays", region="HKB")
        self.assertContains(page, "24 Dec for 10; 6 Feb 2028")
        self.assertContains(page, 'value="Christmas Day" checked')
        refused = self.post("holidays", htmx=False, **(chosen | {"own": "someday"}))
        self.assertContains(refused, "Other dates: &#x27;someday&#x27; is none. Accepted: 24 Dec;", status_code=422)
        self.assertContains(refused, "someday", status_code=422)
        unticked = self.post("holidays", htmx=False, **(chosen | {"own": "someday", "holiday": ["Labour Day"]}))
        self.assertContains(unticked, 'value="Labour Day" checked', status_code=422)
        self.assertNotContains(unticked, 'value="Christmas Day" checked', status_code=422)

    def test_those_that_move_are_told_from_those_that_do_not(self):
        rows = {row.name: row for row in public_holidays("NZ", "HKB", date(2027, 1, 1))}
        self.assertFalse(rows["Christmas Day"].moves)
        self.assertTrue(rows["Good Friday"].moves)
        self.assertEqual(rows["Good Friday"].dates[0], date(2027, 3, 26))
        self.assertEqual((country_of("Pacific/Auckland"), country_of("Etc/UTC")), ("NZ", ""))
        self.assertIn(("HKB", "Hawke's Bay"), region_names("NZ"))


class WaysTest(ProgramCase):
    def test_ways_stand_side_by_side_and_one_is_taken(self):
        rows = [
            window("sunset", "22:40", ["mon", "tue", "wed", "thu"]),
            window("sunset", "23:30", ["fri", "sat", "sun"]),
        ]
        self.have(document(rows, [], limits={"entries": 2, "day_groups": ["daily", "weekdays", "weekends"]}))
        self.assertContains(self.get("options"), "Nearest to what is wanted")  # at once: it is a light one
        large = mock.patch.object(SWITCHING, "options_size", return_value=2)
        large.start()
        self.addCleanup(large.stop)
        self.assertContains(self.get("options"), "Not worked out yet")
        self.assertEqual(self.post("option-take", option=1).status_code, 404)
        asked = self.post("options-ask")
        self.assertEqual(asked.headers["HX-Redirect"], reverse("job", args=[Job.objects.get().pk]))
        (job,) = work_off()
        self.assertRedirects(self.client.get(reverse("job", args=[job.pk])), reverse("options", args=[self.unit.pk]))
        page = self.get("options")
        self.assertContains(page, "Nearest to what is wanted")
        self.assertContains(page, "Another way, 1")
        self.post("option-take", option=1)
        self.assertEqual(len(self.lines()), 2)
        self.assertEqual(self.post("option-take", option=7).status_code, 404)

    def test_pairs_show_their_halves_and_how_many_are_used(self):
        bank = {"shape": "pair", "count": 4, "off_days": "same"}
        rows = [window("05:10", "06:50"), window("15:20", "17:40")]
        self.have(document(rows, [], limits={"slots": [bank]}))
        page = self.post("fit")
        self.assertContains(page, "2 of 4 pairs")
        self.assertContains(page, "slot-first", 2)
        half = [entry("on", "05:10")]
        self.have(document(rows, half, limits={"slots": [bank]}))
        self.assertContains(self.page(), "half a pair is none")


class HandoverTest(ProgramCase):
    def test_what_each_mode_means_at_the_moment_of_leaving(self):
        # A water heater in two pairs, 20:20 of 15 June 2027 UTC less 12 h: 06:20 of 16 June at the site is in its morning.
        stop_clock(self, JUNE + (20 * 60 + 20) * 60)
        rows = [window("05:10", "06:50"), window("15:20", "17:40")]
        entries = [entry("on", "05:10"), entry("off", "06:50"), entry("on", "15:20"), entry("off", "17:40")]
        self.have(document(rows, entries, on_return_to_auto="waits"))
        page = self.get("handover")
        self.assertContains(page, "Wed 16 Jun 06:20")
        for text in (
            "automatic, with the output switched on by hand now",
            "<dt>Automatic</dt><dd>on until Wed 16 Jun 06:50, slot 2</dd>",
            "<dt>Automatic, on now</dt><dd>on until Wed 16 Jun 06:50, slot 2</dd>",
            "<dt>Automatic, off now</dt><dd>off until Wed 16 Jun 15:20, slot 3</dd>",
            "<dt>On by hand</dt><dd>stays on</dd>",
            "<dt>Boost 1 h</dt><dd>on until Wed 16 Jun 07:20, the timer</dd>",
            "<dt>Countdown 1 h, then off</dt><dd>on until Wed 16 Jun 07:20, the timer</dd>",
            "<dt>Away 7 days</dt><dd>off until Wed 23 Jun 06:20, the timer</dd>",
            "The cover can press a key",
        ):
            with self.subTest(text=text):
                self.assertContains(page, text)

    def test_entries_that_do_otherwise_are_told_before_one_leaves(self):
        stop_clock(self, JUNE)
        rows = [window("05:10", "06:50")]
        self.have(document(rows, [entry("on", "05:10"), entry("off", "11:00")]))
        self.assertContains(self.get("handover"), "Its entries have it ON, and OFF is wanted")
        self.assertNotContains(self.get("handover", at="06:00"), "Its entries have it")

    def test_for_a_time_to_come_in_the_kinds_own_words(self):
        # 15 June 2027, 10:00 in New Zealand.
        stop_clock(self, JUNE)
        rows = [window("05:10", "06:50"), window("15:20", "17:40")]
        entries = [entry("on", "05:10"), entry("off", "06:50"), entry("on", "15:20"), entry("off", "17:40")]
        self.have(document(rows, entries))
        self.post("unit-kind", kind="plug-in-weekly-switch", htmx=False)
        morning = self.get("handover", at="06:20")
        self.assertContains(morning, "Wed 16 Jun 06:20")
        self.assertContains(morning, "is what it must be doing then. Leave it in ON first, then AUTO.")
        self.assertContains(morning, "bring it to ON again, ON first, then AUTO")
        self.assertContains(morning, "<dt>ON</dt><dd>stays on</dd>")
        self.assertNotContains(morning, "<dt>Boost")
        self.assertNotContains(morning, "<dt>Away")
        self.assertContains(self.get("handover", at="16:00"), "Tue 15 Jun 16:00")
        self.assertContains(self.get("handover"), "Leave it in OFF first, then AUTO.")
        wrong = self.get("handover", at="25:99")
        self.assertContains(wrong, "Accepted:")
        self.assertContains(wrong, 'value="25:99"')

    def test_a_photocell_is_tried_by_day(self):
        sun = {"source": "photocell", "altitude_deg": -3, "delay_min": 2}
        self.have(document([window("sunset", "sunrise")], [entry("on", "sunset"), entry("off", "sunrise")], sun=sun))
        self.assertContains(self.get("handover"), "cover the cell with something dark and wait 2 min")


class PulsesShownTest(ProgramCase):
    def test_a_train_is_one_line_of_the_night_and_a_texture_of_the_year(self):
        windows = [window("07:10", "16:25", repeat={"on_s": 8, "every_s": 240})]
        train = entry("on", "07:10") | {"repeat": {"on_s": 8, "off_s": 232, "until": "16:25"}}
        self.have(document(windows, [train]))
        page = self.page(year=2027)
        self.assertContains(page, "slot 1: 139 pulses to 16:22")
        self.assertContains(page, "lamp-pulses")
        self.assertLess(len(page.content), 400_000)
        self.assertContains(page, "week-strip")


class WordsTest(unittest.TestCase):
    def test_programs_have_names_and_cautions_where_they_can_hurt(self):
        for program in USUAL_PROGRAMS:
            self.assertTrue(program.name)
            self.assertTrue(program.when.endswith("."))
        self.assertEqual({p.slug for p in USUAL_PROGRAMS if p.caution} >= {"hot-water", "door", "mist"}, True)
        self.assertEqual(Words().time(USUAL_PROGRAMS[0].windows[0].start), "sunset")


class PairsTest(ProgramCase):
    def test_page_findings_handover_sheet_and_round_count_pairs_alike(self):
        pairs = {"slots": [{"shape": "pair", "count": 4, "off_days": "same"}]}
        rows = [entry("on", "05:00"), entry("off", "07:00"), entry("on", "14:00"), entry("off", "16:00")]
        rows += [entry("on", "15:00", ["thu"]), entry("off", "15:30", ["thu"])]
        self.have(document([window("05:00", "07:00"), window("14:00", "16:00")], rows, limits=pairs))
        page = self.page()
        self.assertEqual([row.shown for row in page.context["slots"]], list("112233"))
        self.assertContains(page, "Clear pair 2, its OFF")
        # The OFF of the third cuts into the afternoon on Thursdays.
        headlines = " ".join(item.headline + item.why + item.remedy for item in page.context["findings"])
        self.assertIn("pair 3", headlines)
        self.assertNotIn("slot", headlines)
        sheet = self.client.get(reverse("sheet", args=[self.unit_pk])).context["rows"]
        titles = [row.step.title.split(",")[0] for row in sheet if row.step.kind == "slot"]
        self.assertEqual(titles, ["Pair 1", "Pair 2", "Pair 3"])
        handed = self.client.get(reverse("handover", args=[self.unit_pk]))
        self.assertContains(handed, '<span class="quiet">pair 2</span>')
        self.assertNotContains(handed, "slot 3")
        self.post("row-action", "entry-5", "remove")
        self.assertEqual(self.unit.head.note, "pair 3, its OFF cleared")
