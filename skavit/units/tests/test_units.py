"""Units: every edit with undo and redo, stale pages, refusals that keep what was typed, fit, remedy, files, ticks."""

import json
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.urls import reverse

from skavit.apart.switch import TO_WORKER, TakesLong
from skavit.background.tests.builders import work_off
from skavit.core.text.wording import Words
from skavit.crews.tests.builders import TRAP, make_crew, make_unit, member, stop_clock
from skavit.round.cards import unit_cards
from skavit.round.listing import units_in
from skavit.server.now import read_now
from skavit.sites.models import Site
from skavit.units import demo
from skavit.units.computing import KEPT, searched_year, unit_year
from skavit.units.models import Tick, Unit, YearResult
from skavit.units.results import year_result

AFTERNOON = 1_802_739_600  # of 16 February 2027 in New Zealand
WINDOW = {
    "from_kind": "sunset", "from_offset": "10", "to_kind": "clock", "to_clock": "10:40 pm", "days_kind": "chosen",
    "days_chosen": ["mon", "fri"],
}  # fmt: skip
ENTRY = {"action": "off", "channels": ["1"], "at_kind": "clock", "at_clock": "02:00", "days_kind": "daily"}


class UnitCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit_pk = make_unit(cls.crew).pk

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    @property
    def unit(self):
        return Unit.objects.select_related("site", "head").get(pk=self.unit_pk)

    def post(self, name, /, *args, revision=None, htmx=True, **data):
        sent = {"revision": self.unit.head.number if revision is None else revision, **data}
        headers = {"HX-Request": "true"} if htmx else {}
        return self.client.post(reverse(name, args=[self.unit_pk, *args]), sent, headers=headers)

    def page(self, **query):
        return self.client.get(reverse("unit", args=[self.unit_pk]), query)


class EditTest(UnitCase):
    def test_a_window_is_added_changed_and_taken_out(self):
        self.assertContains(self.post("row", "window-1-new", **WINDOW), "22:40")
        window = self.unit.plan.channels[0].windows[-1].to_json()
        self.assertEqual(
            window,
            {"from": "sunset+10", "to": "22:40", "days": ["mon", "fri"], "ends": "same-day"},
        )
        changed = WINDOW | {"to_kind": "for", "for_min": "90", "season_first": "1 Nov", "season_last": "03-31"}
        self.post("row", "window-1-2", **changed)
        window = self.unit.plan.channels[0].windows[-1].to_json()
        self.assertEqual(window["for_min"], 90)
        self.assertEqual(window["days"], {"days": ["mon", "fri"], "between": ["11-01", "03-31"]})
        self.post("row-action", "window-1-2", "remove")
        self.assertEqual(len(self.unit.plan.channels[0].windows), 2)

    def test_every_edit_can_be_undone_and_done_again(self):
        before = self.unit.plan
        edits = [
            ("row", ("window-1-new",), WINDOW),
            ("row-action", ("window-1-0", "remove"), {}),
            ("row", ("entry-new",), ENTRY),
            ("row", ("entry-0",), ENTRY | {"action": "on"}),
            ("row-action", ("entry-1", "remove"), {}),
            ("channel-add", (), {"name": "Sign"}),
            ("channel-rename", (1,), {"name": "Bollards"}),
            ("fit", (), {}),
        ]
        after = []
        for name, args, data in edits:
            self.assertEqual(self.post(name, *args, **data).status_code, 200, name)
            after.append(self.unit.plan)
        self.assertEqual(len(set(map(str, after))), len(edits))
        for expected in [*after[-2::-1], before]:
            with self.subTest(expected=expected):
                self.post("undo")
                self.assertEqual(self.unit.plan, expected)
        self.post("undo")
        self.assertContains(self.post("undo"), "nothing to undo", status_code=422)
        self.post("redo")
        for expected in after:
            self.post("redo")
            self.assertEqual(self.unit.plan, expected)
        self.assertContains(self.post("redo"), "nothing to redo", status_code=422)
        numbers = list(self.unit.revisions.values_list("number", flat=True))
        self.assertEqual(numbers, list(range(1, len(numbers) + 1)))

    def test_an_edit_on_a_stale_page_is_refused_and_keeps_what_was_typed(self):
        old = self.unit.head.number
        self.post("row-action", "entry-0", "remove")
        plan = self.unit.plan
        answer = self.post("row", "window-1-new", revision=old, **WINDOW)
        self.assertContains(answer, "changed this unit meanwhile", status_code=409)
        self.assertContains(answer, 'value="10:40 pm"', status_code=409)
        self.assertEqual(self.unit.plan, plan)
        self.assertEqual(self.post("row-action", "entry-0", "remove", revision=old).status_code, 409)
        self.assertEqual(self.post("row-action", "entry-0", "remove", revision="").status_code, 409)

    def test_refusals_say_what_is_accepted_and_keep_what_was_typed(self):
        for data, said, kept in [
            ({"to_clock": "25:99"}, "Accepted: a clock time such as 06:40", 'value="25:99"'),
            ({"to_clock": ""}, "Accepted: a clock time", 'value="10"'),
            ({"from_offset": "900"}, "0 to 720 whole minutes", 'value="900"'),
            ({"days_chosen": []}, "Accepted: one weekday or more", ""),
            ({"from_not_before": "20:00", "from_not_after": "18:00"}, "&quot;not before&quot; comes later", "18:00"),
            ({"pulse_on_s": "8", "pulse_every_s": "5"}, "fewer seconds than the whole cycle takes", 'value="5"'),
            ({"days_kind": "every", "days_every": "3", "days_from": "2027-02-30"}, "does not exist", "2027-02-30"),
            ({"season_first": "31 Feb", "season_last": "1 Mar"}, "does not exist", 'value="31 Feb"'),
            ({"to_kind": "for", "for_min": ""}, "1 to 527040", ""),
        ]:
            with self.subTest(data=data, said=said, kept=kept):
                answer = self.post("row", "window-1-new", **(WINDOW | data))
                self.assertContains(answer, said, status_code=422)
                self.assertContains(answer, kept, status_code=422)
        answer = self.post("row", "entry-new", **(ENTRY | {"at_clock": "noonish"}))
        self.assertContains(answer, 'value="noonish"', status_code=422)
        self.assertEqual(self.post("row-action", "entry-44", "remove").status_code, 422)

    def test_plain_post_without_htmx_redirects_and_pages_reload(self):
        answer = self.post("row", "window-1-new", htmx=False, **WINDOW)
        self.assertEqual(answer.status_code, 302)
        self.assertContains(self.client.get(answer.url), "Mon, Fri")

    def test_clock_and_memory(self):
        data = {
            "dst": "us", "error_s": "3600", "on_return_to_auto": "waits", "entries": "6", "clock_step_s": "60",
            "day_groups": ["daily", "weekdays"], "sun_offset_max_min": "", "sun_events": [], "limited_times": "on",
        }  # fmt: skip
        self.assertEqual(self.post("behaviour", htmx=False, **data).status_code, 302)
        unit = self.unit.plan.unit.to_json()
        self.assertEqual(unit["clock"], {"dst": "us", "error_s": 3600})
        self.assertEqual(unit["on_return_to_auto"], "waits")
        self.assertEqual(
            unit["limits"],
            {"entries": 6, "day_groups": ["daily", "weekdays"], "clock_step_s": 60, "limited_times": True},
        )
        self.assertContains(
            self.post("behaviour", htmx=False, **(data | {"entries": "-1"})), "entries", status_code=422
        )

    def test_the_units_own_sun(self):
        page = self.post("sun", htmx=False, source="table", latitude="44 S", when_no_sun="limit")
        self.assertEqual(page.status_code, 302)
        self.assertEqual(self.unit.plan.unit.sun.to_json(), {"source": "table", "latitude": -44.0})
        self.assertContains(self.page(), "sun is out by up to")
        for data, said in [
            ({"source": "coordinates", "latitude": "1"}, "Is missing"),
            ({"source": "table", "latitude": "95"}, "beyond 90 degrees"),
            ({"source": "site", "latitude": "12"}, "Latitude here"),
            ({"source": "photocell", "altitude_deg": "-3", "delay_min": "4"}, "a sun time without offset and limits"),
            ({"source": "none"}, "Slot 1:"),
        ]:
            with self.subTest(data=data, said=said):
                page = self.post("sun", htmx=False, when_no_sun="limit", **data)
                self.assertContains(page, said, status_code=422)

    def test_channels_come_and_go_with_their_entries(self):
        self.post("channel-add", name="Sign")
        self.post("row", "entry-new", **(ENTRY | {"channels": ["1", "2"]}))
        self.assertContains(self.page(channel=2), "Sign")
        self.post("channel-remove", 1)
        plan = self.unit.plan
        self.assertEqual([c.name for c in plan.channels], ["Sign"])
        self.assertEqual([e.channels for e in plan.unit.entries], [(1,)])
        self.assertContains(self.post("channel-remove", 1), "at least one channel", status_code=422)


class TrapTest(UnitCase):
    def setUp(self):
        super().setUp()
        stop_clock(self, AFTERNOON)

    def remedy_key(self, label):
        found = unit_year(self.unit.plan, 2027).findings
        return next(f.remedy.key for f in found if f.remedy and f.remedy.label == label)

    def test_the_page_says_when_how_long_and_why_and_the_remedy_mends_it(self):
        page = self.page(year=2027)
        self.assertContains(page, "On, not wanted, from 05:50 to 20:14–20:53 on 51 days, 1–3 Jan, 14 Nov–31 Dec")
        self.assertContains(page, "slot 4 (OFF sunrise) comes before slot 3 (ON 05:50)")
        self.assertContains(page, "755 h")
        after = self.post("remedy", year=2027, remedy=self.remedy_key("Slot 4: not before 05:50"))
        self.assertNotContains(after, "On, not wanted, from")
        self.assertContains(after, "Does what is wanted, all through 2027")
        self.assertContains(self.post("undo", year=2027), "On, not wanted, from 05:50")
        self.assertEqual(self.post("remedy", year=2027, remedy="0" * 16).status_code, 422)

    def test_what_mends_it_comes_after_the_page(self):
        """From November to January sunrise comes before 05:50: no weekdays help, an OFF more does."""
        groups = TRAP | {"unit": TRAP["unit"] | {"limits": {"entries": 16, "day_groups": ["any"]}}}
        unit = make_unit(self.crew, groups, name="Yard lights")
        page = self.client.get(reverse("unit", args=[unit.pk]), {"year": 2027})
        self.assertContains(page, "Looking for what mends it")
        after = self.client.get(reverse("searched", args=[unit.pk]), {"year": 2027}, headers={"HX-Request": "true"})
        self.assertNotContains(after, "Looking for what mends it")
        self.assertContains(after, "Add OFF sunrise + 15 min, every day")
        remedy = next(f.remedy for f in unit_year(unit.plan, 2027).findings if f.remedy)
        KEPT.clear()  # another process answers
        sent = {"revision": unit.head.number, "year": 2027, "remedy": remedy.key}
        taken = self.client.post(reverse("remedy", args=[unit.pk]), sent, headers={"HX-Request": "true"})
        self.assertContains(taken, "OFF sunrise + 15 min")
        self.assertEqual(len(Unit.objects.get(pk=unit.pk).plan.unit.entries), 5)

    def test_nothing_follows_a_year_judged_with_some_error(self):
        groups = TRAP | {"unit": TRAP["unit"] | {"limits": {"entries": 16, "day_groups": ["any"]}}}
        unit = make_unit(self.crew, groups, name="Yard lights")
        query = {"year": 2027, "clock_min": 2, "sun_min": 5}
        page = self.client.get(reverse("unit", args=[unit.pk]), query)
        self.assertContains(page, "Judged with 2 min of clock and 5 min of sun either way")
        self.assertNotContains(page, "Looking for what mends it")

    def test_a_search_is_left_to_the_worker(self):
        plan = self.unit.plan
        with mock.patch.object(TO_WORKER, "on", True), self.assertRaises(TakesLong):
            searched_year(plan, 2027)

    def test_fit_says_what_is_lost(self):
        self.assertContains(self.post("fit"), "nothing is lost")
        self.assertEqual(len(self.unit.plan.unit.entries), 4)

    def test_the_page_stands_for_other_years_nights_and_odd_queries(self):
        for query in ({"year": "2032"}, {"year": "1"}, {"day": "x", "channel": "9"}, {"day": "99999999"}):
            with self.subTest(query=query):
                self.assertEqual(self.page(**query).status_code, 200, query)
        night = self.client.get(reverse("day", args=[self.unit_pk]), {"year": 2027, "day": 21149})
        self.assertContains(night, "slot 3, not wanted")
        self.assertContains(night, "slot 4, off already")

    def test_a_units_page_takes_few_queries_whatever_it_holds(self):
        self.page()
        with self.assertNumQueries(6):
            self.page()


class FileTest(UnitCase):
    def test_export_is_imported_as_it_was(self):
        text = self.client.get(reverse("export", args=[self.unit_pk])).content
        other = make_unit(self.crew, plan=None, name="Copy")
        file = SimpleUploadedFile("plan.json", text)
        self.client.post(reverse("import", args=[other.pk]), {"revision": 1, "file": file})
        other = Unit.objects.get(pk=other.pk)
        self.assertEqual(other.plan, self.unit.plan)

    def test_a_malformed_file_is_refused_with_its_path_and_changes_nothing(self):
        bad = json.dumps(TRAP).replace('"22:40"', '"22:61"', 1).encode()
        for data, said in [(bad, "unit.entries[1].at"), (b"\xff", "UTF-8"), (b"", "empty")]:
            with self.subTest(data=data, said=said):
                answer = self.post("import", file=SimpleUploadedFile("plan.json", data))
                self.assertContains(answer, said, status_code=422)
        self.assertEqual(self.unit.head.number, 2)

    def test_schema_is_served(self):
        self.assertEqual(self.client.get(reverse("schema")).json()["title"], "Skavit plan file, skavit-plan/1")


class SheetTest(UnitCase):
    def setUp(self):
        super().setUp()
        stop_clock(self, AFTERNOON)  # the slot that is changed acts later

    def test_ticks_are_remembered_and_a_changed_slot_is_open_again(self):
        page = self.client.get(reverse("sheet", args=[self.unit_pk]))
        self.assertContains(page, "Slot 3, morning begins")
        self.assertContains(page, "Step through slots 5 to 16")
        rows = page.context["rows"]
        for row in rows:
            self.post("tick", key=row.step.key, done="1")
        again = self.client.get(reverse("sheet", args=[self.unit_pk])).context["rows"]
        self.assertTrue(all(row.done for row in again))
        sent = {"key": rows[2].step.key, "done": "1", "number": "3"}
        self.assertTrue(self.client.post(reverse("tick", args=[self.unit_pk]), sent)["Location"].endswith("#step-4"))
        self.assertContains(self.page(), "left running")
        self.post("row", "entry-1", **(ENTRY | {"at_clock": "22:30"}))
        again = self.client.get(reverse("sheet", args=[self.unit_pk])).context["rows"]
        # Other entries: it is to be left in automatic, and looked at, once more.
        opened = ["Slot 2, evening ends", "The mode", "Cover shut, output seen"]
        self.assertEqual([row.step.title for row in again if not row.done], opened)
        self.post("tick", key=rows[0].step.key, done="0")
        self.assertEqual(Tick.objects.filter(done=True).count(), len(rows) - 1)
        self.post("ticks-clear", htmx=False)
        self.assertEqual(Tick.objects.filter(done=True).count(), 0)


class ListTest(UnitCase):
    def test_lists_use_kept_results_in_a_constant_number_of_queries(self):
        for number in range(3):
            make_unit(self.crew, name=f"Unit {number}")
        self.assertEqual(YearResult.objects.count(), 2)  # the empty plan and the trap: equal plans share a result
        with self.assertNumQueries(1):
            cards = unit_cards(units_in(self.crew), Words(), read_now())
        self.assertEqual([card.severity for card in cards], ["danger"] * 4)
        make_unit(self.crew, name="Unit 9")
        with self.assertNumQueries(1):
            unit_cards(units_in(self.crew), Words(), read_now())

    def test_a_result_is_made_anew_for_another_plan_only(self):
        unit = self.unit
        self.assertEqual(year_result(unit, unit.result.year).pk, unit.result.pk)
        self.assertIn("<path", unit.result.thumbnail)
        before = unit.result.pk
        self.client.post(reverse("row-action", args=[unit.pk, "entry-0", "remove"]), {"revision": unit.head.number})
        self.assertNotEqual(self.unit.result.pk, before)

    def test_a_result_of_another_year_place_or_release_is_made_anew_by_the_list(self):
        for stale in ({"year": 2001}, {"calculation": "core 0"}, None):
            with self.subTest(stale=stale):
                if stale:
                    YearResult.objects.filter(pk=self.unit.result.pk).update(**stale)
                else:
                    Site.objects.update(latitude=-38.0)
                old = self.unit.result.pk
                with mock.patch("skavit.units.results.unit_year", side_effect=AssertionError("a list computes")):
                    (card,) = unit_cards(units_in(self.crew), Words(), read_now())
                    self.assertContains(self.client.get(reverse("round")), "are being worked out again")
                self.assertTrue(card.stale)
                (job,) = work_off()
                self.assertEqual(job.told, "1 unit brought up to date.")
                (card,) = unit_cards(units_in(self.crew), Words(), read_now())
                self.assertEqual((card.severity, card.stale), ("danger", False))
                self.assertNotEqual(self.unit.result.pk, old)


class DemoTest(TestCase):
    def test_the_demo_is_loaded_once_and_is_what_it_says(self):
        self.assertTrue(demo.load("x"))
        self.assertFalse(demo.load("x"))
        crew = Unit.objects.first().site.crew
        self.client.force_login(member(crew, "owner").user)
        page = self.client.get(reverse("round"))
        self.assertContains(page, "Harbour walk")
        found = {}
        for unit in Unit.objects.select_related("site", "head"):
            found[unit.site.name] = {f["code"] for f in year_result(unit, 2027).findings if f["severity"] != "note"}
        self.assertEqual(found["Orchard Rise hall"], set())
        self.assertIn("order-flips", found["Harbour walk"])
        self.assertIn("days-uncovered", found["Station yard"])
        self.assertIn("dst-differs", found["Saltmarsh car park"])
        self.assertContains(self.client.get(reverse("find"), {"q": "saltm"}), "Sign")
