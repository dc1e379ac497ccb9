"""Watering units: from a kind to programs, every edit with what it alters, refusals, as found, sheet and hand-over."""

import json
from datetime import UTC, date, datetime

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.urls import reverse

from skavit.background.models import Job
from skavit.background.tests.builders import work_off
from skavit.core.findings import audit
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.water import Station
from skavit.core.simulation.replay import replay
from skavit.core.water.tables import told_by
from skavit.crews.models import Role
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.server.now import read_now
from skavit.units import demo
from skavit.units.models import Unit
from skavit.units.services.revisions import edit
from skavit.units.tests.one_unit import OneUnitCase
from skavit.watering.pages.unit.program_form import starts_typed
from skavit.watering.tests.builders import LAWN, SHRUBS, A, make_watering

SUPPLY = {"hours": "between", "dry_from": "9 am", "dry_to": "8 pm", "dates": "even", "counts": "date", "price": "3.1"}


class WateringCase(OneUnitCase):
    @staticmethod
    def make(crew):
        return make_watering(crew)

    @property
    def water(self):
        return self.unit.plan.water

    def with_stations(self):
        for fields in (LAWN, SHRUBS):
            self.assertEqual(self.post("row", "station-new", **fields).status_code, 200)

    def climate(self):
        water = self.water
        return {
            **{f"et0_{n}": mm for n, mm in enumerate(water.climate.et0_mm_day, start=1)},
            **{f"rain_{n}": mm for n, mm in enumerate(water.climate.rain_mm_day, start=1)},
        }


class WholeJobTest(WateringCase):
    def test_the_customers_words_become_programs_that_keep_the_plants(self):
        self.assertContains(self.page(), "Say what the first valve waters")
        for fields in (LAWN | {"per_week": "3"}, SHRUBS | {"per_week": "2"}):
            self.post("row", "station-new", **fields)
        saved = self.post("supply", htmx=False, **SUPPLY, **self.climate())
        self.assertRedirects(saved, reverse("unit", args=[self.unit_pk]))
        fitted = self.post("fit")
        self.assertContains(fitted, "Every station keeps its plants well")
        self.assertContains(fitted, "Shrubs: asked for 2 times a week, waters 3.4 times")
        self.assertTrue(all(p.days.to_json() == {"parity": "even"} for p in self.water.programs))
        page = self.page()
        self.assertContains(page, "the months save")
        self.assertEqual(page.context["saved"].money != "", True)
        self.assertNotContains(page, "too-dry")
        self.assertContains(self.page("saved"), "The same run times all year")
        sheet = self.page("sheet")
        self.assertContains(sheet, "Program A: starts")
        self.assertContains(sheet, "Take every weekday out first")
        self.assertContains(self.page("handover"), "Program A")

    def test_water_flows_on_even_dates_and_in_the_allowed_hours_only(self):
        self.with_stations()
        self.post("supply", **SUPPLY, **self.climate())
        allowed = [window.to_json() for window in self.water.allowed]
        self.assertEqual(
            [(w["from"], w["to"], w["days"]) for w in allowed],
            [("00:00", "09:00", {"parity": "even"}), ("20:00", "24:00", {"parity": "even"})],
        )
        form = self.page("supply").context["form"]
        shown = {name: form.initial[name] for name in ("hours", "dry_from", "dry_to", "dates", "counts")}
        self.assertEqual(
            shown, {"hours": "between", "dry_from": "09:00", "dry_to": "20:00", "dates": "even", "counts": "date"}
        )

    def test_the_supply_by_a_bucket_and_its_pressure(self):
        self.with_stations()
        self.post("supply", hours="always", bucket="10", seconds="20", pressure="2 bar", **self.climate())
        self.assertEqual((self.water.supply_l_min, self.water.supply_kpa), (30.0, 200.0))
        page = self.page()
        self.assertContains(page, "30 l/min at once, 200 kPa left")
        self.assertContains(page, "usually wanted: rotors 300 kPa")
        refused = self.post("supply", htmx=False, hours="between", bucket="10", dates="house", **self.climate())
        self.assertEqual(set(refused.context["form"].errors), {"dry_from", "dry_to", "seconds", "house"})

    def test_a_winter_is_laid_up(self):
        self.with_stations()
        self.post("supply", hours="always", winter_first="15 May", winter_last="10 Sep", **self.climate())
        self.assertEqual(self.water.lay_up.to_json(), {"from": "05-15", "days": 119})
        form = self.page("supply").context["form"]
        self.assertEqual((form.initial["winter_first"], form.initial["winter_last"]), ("15 May", "10 Sep"))
        stop_clock(self, int(datetime(2027, 1, 20, tzinfo=UTC).timestamp()))
        self.assertNotContains(self.page("sheet"), "Laying up for the winter")
        stop_clock(self, int(datetime(2027, 5, 10, tzinfo=UTC).timestamp()))
        self.assertContains(self.page("sheet"), "Laying up for the winter")

    def test_before_there_is_a_station_nothing_can_be_fitted(self):
        refused = self.post("fit")
        self.assertEqual(refused.status_code, 422)
        self.assertContains(refused, "There is no station yet", status_code=422)


class UnknownTest(WateringCase):
    def test_a_controller_of_no_known_kind_goes_the_whole_way(self):
        site = self.unit.site
        added = self.client.post(reverse("unit-new", args=[site.pk]), {"kind": "unknown-waters", "name": "Old box"})
        self.unit_pk = Unit.objects.get(name="Old box").pk
        self.assertRedirects(added, reverse("unit", args=[self.unit_pk]))
        self.with_stations()
        self.assertContains(self.post("fit"), "Every station keeps its plants well")
        self.assertContains(self.page("sheet"), "Program A: run times")
        self.assertEqual(self.page("handover").status_code, 200)
        kinds = self.page("unit-kind").context["listed"]
        self.assertTrue(all(found.trade.slug == "waters" for found in kinds))


class StationTest(WateringCase):
    def test_the_tables_fill_a_station_in_and_the_form_shows_them_again(self):
        self.post("row", "station-new", **LAWN)
        station = self.water.stations[0]
        self.assertEqual((station.flow_l_min, station.rate, station.du), (26.0, 13.0, 0.7))
        self.assertEqual((station.soil.available_mm_m, station.soil.root_m, station.crop), (155.0, 0.2, (0.95,)))
        form = self.client.get(reverse("row", args=[self.unit_pk, "station-0"])).context["form"]
        self.assertEqual(
            (form.initial["plant"], form.initial["ground"], form.initial["flow"]), (LAWN["plant"], "loam", None)
        )

    def test_what_was_measured_goes_before_the_tables(self):
        self.post("row", "station-new", **LAWN, rate="0.75 in/h", du="62", root="10 cm", depletion="50")
        station = self.water.stations[0]
        self.assertAlmostEqual(station.rate, 19.05)
        self.assertEqual((station.du, station.soil.root_m, station.soil.depletion), (0.62, 0.1, 0.5))
        self.assertEqual(told_by(station).plant, "")

    def test_us_units_are_taken(self):
        self.post("row", "station-new", **LAWN | {"area": "1300 sq ft", "flow": "10 gpm", "head": ""})
        station = self.water.stations[0]
        self.assertAlmostEqual(station.flow_l_min, 37.85, places=2)
        self.assertAlmostEqual(station.area_m2, 120.77, places=2)

    def test_what_is_missing_is_said_at_its_field_and_nothing_is_lost(self):
        for wrong, told in (
            ({"area": ""}, "Its area or its flow is needed"),
            ({"ground": ""}, "Which ground is it?"),
            ({"name": ""}, "Fill this in"),
            ({"area": "many"}, "is no area"),
            ({"plant": "", "ground": "", "root": "0.2"}, "Fill this in, or choose plant and ground above"),
        ):
            with self.subTest(wrong=wrong):
                refused = self.post("row", "station-new", **LAWN | {"slope": "steeper"} | wrong)
                self.assertContains(refused, told, status_code=422)
                self.assertContains(refused, 'value="steeper" selected', status_code=422)
        self.assertEqual(self.water.stations, ())

    def test_a_station_leaves_with_its_runs_and_the_others_move_up(self):
        self.with_stations()
        self.post("row", "program-new", **A)
        self.post("row-action", "station-1", "copy")
        self.post("row-action", "station-0", "remove")
        self.assertEqual([s.name for s in self.water.stations], ["Shrubs", "Shrubs copy"])
        self.assertEqual([r.to_json() for r in self.water.programs[0].runs], [{"station": 1, "run_min": 24.0}])
        self.post("undo")
        self.assertEqual(len(self.water.stations), 3)

    def test_a_station_without_plants_runs_all_the_same(self):
        self.post("row", "station-new", name="Bench", flow="11", plant="", ground="", head="")
        self.assertIsNone(self.water.stations[0].soil)
        self.assertContains(self.page(), "What the plants need is not known")


class ProgramTest(WateringCase):
    def setUp(self):
        super().setUp()
        self.with_stations()

    def test_eighteen_and_twenty_four_minutes(self):
        self.assertContains(self.post("row", "program-new", **A), "42 min in all")
        self.assertContains(self.post("row", "program-0", **A | {"adjust": "130"}), "at 130 % 54.6 min, runs as 54")

    def test_a_preview_tells_millimetres_litres_dry_days_and_a_start_that_would_run_into_another(self):
        twelve = A | {"run_1": "12", "run_2": "", "starts": "4 am, 5 am"}
        shown = self.post("preview", "program-new", **twelve)
        self.assertContains(shown, "12 min in all, 2 times on its days")
        self.assertContains(shown, "mm instead of 0 mm reach the plants")
        self.assertContains(shown, " a year more, ")
        third = self.post("preview", "program-new", **twelve | {"starts": "4 am, 5 am, 5:05 am"})
        self.assertContains(third, "The 05:05 start of program A waits up to 7 min")

    def test_a_preview_of_a_station(self):
        self.post("row", "program-new", **A)
        shown = self.post("preview", "station-0", **LAWN | {"head": "sprays"})
        self.assertContains(shown, "Front lawn:")

    def test_what_the_unit_cannot_hold_is_refused_at_its_field(self):
        for wrong, told in (
            ({"starts": "1 am, 2 am, 3 am, 4 am, 5 am"}, "at most 4"),
            ({"starts": "late"}, "Accepted"),
            ({"run_1": "500"}, "At most 240 min"),
            ({"run_1": "2.5"}, "In steps of 1 min"),
            ({"adjust": "300"}, "At most 200 %"),
        ):
            with self.subTest(wrong=wrong):
                self.assertContains(self.post("row", "program-new", **A | wrong), told, status_code=422)
        self.post("row", "program-new", **A)
        self.assertContains(self.post("row", "program-new", **A), "Another program is called that", status_code=422)
        summer, winter = ({"season_first": a, "season_last": b} for a, b in (("1 Oct", "4 Apr"), ("5 Apr", "30 Sep")))
        self.post("row", "program-0", **A | summer)
        self.assertEqual(self.post("row", "program-new", **A | winter).status_code, 200)

    def test_what_no_form_shows_outlives_an_edit(self):
        raw = self.page("export").json()
        raw["water"]["stations"][0] |= {"id": "lawn", "crop": [0.5 + n / 100 for n in range(12)]}
        limited = {"at": "sunrise-60", "not_before": "04:00"}
        runs = [{"station": 2, "run_min": 24}, {"station": 1, "run_min": 9}, {"station": 2, "run_min": 6}]
        raw["water"]["programs"] = [{"id": "a", "name": "A", "starts": [limited], "runs": runs}]
        change = read_plan(Node(raw))
        edit(self.unit, member(self.crew), self.unit.head.number, lambda _: change, "by file", now=read_now())
        for place in ("station-0", "program-0"):
            form = self.client.get(reverse("row", args=[self.unit_pk, place])).context["form"]
            shown = {name: form[name].value() for name in form.fields}
            sent = {name: value for name, value in shown.items() if value not in (None, "", False)}
            self.assertEqual(self.post("row", place, **{**sent, "revision": self.unit.head.number}).status_code, 200)
        self.assertEqual(self.water, change.water)
        self.post("row", "program-0", **{**sent, "run_1": "12"})
        self.assertEqual([(r.station, r.run_min) for r in self.water.programs[0].runs], [(2, 30.0), (1, 12.0)])

    def test_starts_as_people_type_them(self):
        self.assertEqual(starts_typed("4:30 am, 5:50pm and 22:10"), ["04:30", "17:50", "22:10"])
        self.assertEqual(starts_typed("Sunset +30; sunrise"), ["sunset+30", "sunrise"])

    def test_a_program_is_copied_under_the_next_letter_and_cleared(self):
        self.post("row", "program-new", **A)
        self.post("row-action", "program-0", "copy")
        self.assertEqual([p.name for p in self.water.programs], ["A", "B"])
        self.post("row-action", "program-0", "remove")
        self.assertEqual([p.name for p in self.water.programs], ["B"])

    def test_an_edit_of_an_older_page_is_kept_open_beside_the_newer(self):
        self.post("row", "program-new", **A)
        old = self.unit.head.number
        self.post("row", "program-0", **A | {"run_1": "20"})
        stale = self.post("row", "program-0", revision=old, **A | {"run_1": "33"})
        self.assertEqual(stale.status_code, 409)
        self.assertContains(stale, 'value="33"', status_code=409)
        self.assertContains(stale, "changed this unit meanwhile", status_code=409)

    def test_a_finding_is_mended_by_its_remedy(self):
        self.post("row", "program-new", **A | {"starts": "4:30 am, 5 am"})
        finding = next(n for n in self.page().context["findings"] if n.finding.code == "starts-stack")
        self.assertContains(self.post("remedy", remedy=finding.finding.remedy.key), "05:12")
        self.assertEqual([str(at) for at in self.water.programs[0].starts], ["04:30", "05:12"])


class ByHandTest(WateringCase):
    def test_suspended_and_let_go_on(self):
        self.with_stations()
        self.post("row", "program-new", **A)
        said = {"date": "3 Jan 2026", "time": "7 pm", "what": "off"}
        self.assertContains(self.post("by-hand-add", **said), "Watering suspended")
        finding = next(n for n in self.page(year=2026).context["findings"] if n.finding.code == "left-off")
        self.assertIn("since 3 Jan", finding.headline)
        self.post("remedy", year=2026, remedy=finding.finding.remedy.key)
        self.assertEqual(self.water.by_hand, ())

    def test_a_station_run_by_hand_is_refused_until_it_says_which_and_how_long(self):
        self.with_stations()
        said = {"date": "3 Jan 2026", "time": "7 pm", "what": "station"}
        self.assertContains(self.post("by-hand-add", **said), "Which station?", status_code=422)
        self.post("by-hand-add", **said, which="station-2", length="5")
        self.assertEqual(self.water.by_hand[0].station, 2)
        self.post("by-hand-remove", 0)
        self.assertEqual(self.water.by_hand, ())


class AsFoundTest(WateringCase):
    def test_programs_typed_by_the_line_are_shown_and_taken(self):
        lines = "A 04:30 05:50 tue thu sat; 1 18, 2 24; 130 %\nB 10pm even; 2 5"
        kept = self.post("as-found-keep", htmx=False, lines=lines, time="11:20")
        page = self.client.get(kept.url)
        self.assertContains(
            page, "04:30 to 05:24, 05:50 to 06:44, Tue, Thu, Sat: station 1 18 min, station 2 24 min, at 130 %"
        )
        self.assertContains(page, "litres a year")
        taken = self.client.post(kept.url + "take/", {"revision": self.unit.head.number})
        self.assertRedirects(taken, reverse("unit", args=[self.unit_pk]))
        self.assertEqual([s.name for s in self.water.stations], ["Station 1", "Station 2"])
        self.assertEqual(self.water.programs[0].adjust_pct, 130)

    def test_a_line_that_is_no_program_is_told(self):
        refused = self.post("as-found-keep", lines="A tue; 1 18")
        self.assertContains(refused, "Line 1: ", status_code=422)


class FileTest(WateringCase):
    def upload(self, unit, raw):
        file = SimpleUploadedFile("plan.json", json.dumps(raw).encode())
        sent = {"revision": unit.head.number, "file": file}
        return self.client.post(reverse("import", args=[unit.pk]), sent, headers={"HX-Request": "true"})

    def test_a_plan_goes_out_and_comes_back(self):
        self.with_stations()
        self.post("row", "program-new", **A)
        raw = self.page("export").json()
        before = self.water
        self.post("row-action", "program-0", "remove")
        self.assertEqual(self.upload(self.unit, raw).status_code, 200)
        self.assertEqual(self.water, before)

    def test_the_file_of_another_sort_of_unit_is_refused(self):
        raw = self.page("export").json()
        switching = make_unit(self.crew, name="Yard")
        exported = self.client.get(reverse("export", args=[switching.pk])).json()
        self.assertContains(self.upload(self.unit, exported), "another sort of unit", status_code=422)
        station = {"name": "x", "flow_l_min": 1}
        raw["water"]["stations"] = [station] * 200
        self.assertContains(self.upload(self.unit, raw), "too many", status_code=422)
        raw["water"]["stations"] = [station] * 40
        starts, runs = [f"{hour:02d}:00" for hour in range(20)], [{"station": n, "run_min": 1} for n in range(1, 41)]
        raw["water"]["programs"] = [{"name": "A", "starts": starts, "runs": runs}]
        self.assertContains(self.upload(self.unit, raw), "at most 600 turns of stations a day", status_code=422)


class OthersTest(WateringCase):
    def test_another_crew_and_a_viewer(self):
        other = make_crew("South crew")
        self.client.force_login(member(other).user)
        for name, args in (
            ("unit", ()),
            ("supply", ()),
            ("saved", ()),
            ("day", ()),
            ("row", ("station-new",)),
        ):
            with self.subTest(name):
                self.assertEqual(self.page(name, *args).status_code, 404)
        self.client.force_login(member(self.crew, role=Role.VIEWER).user)
        self.assertEqual(self.page().status_code, 200)
        self.assertEqual(self.post("row", "station-new", **LAWN).status_code, 403)

    def test_a_switching_unit_has_no_page_of_water(self):
        switching = make_unit(self.crew, name="Yard")
        for name in ("supply", "saved"):
            self.assertEqual(self.client.get(reverse(name, args=[switching.pk])).status_code, 404)

    def test_places_that_no_plan_has(self):
        for place in ("station-0", "program-7", "window-1-0", "other"):
            self.assertEqual(self.page("row", place).status_code, 404)

    def test_the_round_shows_its_picture_and_its_next_start(self):
        self.with_stations()
        self.post("row", "program-new", **A | {"starts": "4:30 am, 5 am"})
        page = self.client.get(reverse("round"))
        self.assertContains(page, "water-thumb")
        self.assertContains(page, "times the water that it needs")

    def test_the_peak_week_is_a_page_and_a_table(self):
        self.assertContains(self.page("peak-week"), "Nothing waters in")
        self.with_stations()
        self.post("row", "program-new", **A)
        page = self.page("peak-week")
        self.assertContains(page, "The longest night")
        self.assertContains(page, "of 7 days")
        table = self.page("peak-csv")
        self.assertIn("text/csv", table["Content-Type"])
        head, *rows = table.content.decode().splitlines()
        self.assertEqual(head, "station,name,minutes,days,minutes_a_day,mm,litres,supply_pct")
        self.assertEqual(len(rows), len(self.unit.plan.water.stations))
        edit = {"name": "=1+1", "area": "100", "plant": "", "head": "rotors"}
        self.assertEqual(self.post("row", "station-0", **edit).status_code, 200)
        self.assertIn("1,'=1+1,", self.page("peak-csv").content.decode())

    def test_the_night_tells_each_turn(self):
        self.with_stations()
        self.post("row", "program-new", **A | {"days_kind": "daily", "starts": "4:30 am, 5 am"})
        shown = self.page("day", year=2027, day=20_850)
        self.assertContains(shown, "1 Front lawn")
        self.assertContains(shown, "waits 12 min: the one before still runs")

    def test_a_station_made_from_tables_reads_as_the_plan_file_has_it(self):
        self.with_stations()
        raw = self.water.stations[0].to_json()
        self.assertEqual(
            Station(**{**{k: v for k, v in raw.items() if k not in ("soil", "crop")}, "crop": (raw["crop"],)}).rate,
            13.0,
        )


class BesideTest(WateringCase):
    """The pages beside the unit's own: ways to fit, the walk, a built-in year, and another crew's units."""

    def test_each_way_to_fit_is_shown_and_one_is_taken(self):
        self.with_stations()
        page = self.page("options")
        names = ["As the soil asks", "On weekdays", "One program", "Without months"]
        self.assertEqual([option.name for option in page.context["options"]], names)
        self.assertContains(page, "no plant runs dry")
        taken = self.post("option-take", option=2, htmx=False)
        self.assertRedirects(taken, reverse("unit", args=[self.unit_pk]))
        self.assertEqual(len(self.water.programs), 1)
        self.assertEqual(self.water.limits.programs, 3)
        self.assertEqual(self.post("option-take", option=9).status_code, 404)
        self.assertContains(
            self.post("option-take", option=0, revision=1), "changed this unit meanwhile", status_code=409
        )

    def test_a_large_garden_is_fitted_in_the_background(self):
        raw = self.page("export").json()
        self.with_stations()
        lawn = self.water.stations[0].to_json()
        raw["water"]["stations"] = [lawn | {"name": f"Bed {n}"} for n in range(30)]
        change = read_plan(Node(raw))
        edit(self.unit, member(self.crew), self.unit.head.number, lambda _: change, "many", now=read_now())
        asked = self.post("fit")
        self.assertIn("HX-Redirect", asked.headers)
        work_off()
        self.assertEqual(Job.objects.get().state, "done", Job.objects.get().told)
        self.assertEqual(sum(len(p.runs) for p in self.water.programs), 30)

    def test_a_large_garden_is_told_so(self):
        raw = self.page("export").json()
        raw["water"]["stations"] = [{"name": f"Bed {n}", "flow_l_min": 10} for n in range(7)]  # six are done at once
        change = read_plan(Node(raw))
        edit(self.unit, member(self.crew), self.unit.head.number, lambda _: change, "many", now=read_now())
        self.assertContains(self.page("options"), "Not worked out yet")
        self.assertContains(self.page("water-walk"), "Bed 6")

    def test_the_walk_names_each_station(self):
        self.with_stations()
        page = self.page("water-walk")
        self.assertContains(page, "rotors, lawn, cool-season grass, loam")
        self.assertContains(page, "4 min in all")

    def test_a_built_in_year_and_its_displays(self):
        self.assertEqual(self.page("water-curve").status_code, 404)
        own = make_watering(self.crew, "controller-with-a-built-in-year-twelve-stations", name="Curved")
        url = reverse("water-curve", args=[own.pk])
        rows = self.client.get(url, {"curve": "0", "minutes": "20", "budget": "150"}).context["page"].rows
        self.assertEqual([row.display for row in rows][:4], [30, 27, 21, 14])
        read = self.client.get(url, {"minutes": "20", "shown": "20 18 14 9 4 1 1 4 9 13 17 19"}).context["page"]
        self.assertEqual((read.read_off, [row.pct for row in read.rows][:3]), (True, [100, 90, 70]))
        refused = self.client.get(url, {"minutes": "20", "shown": "20 18"})
        self.assertContains(refused, "2 numbers. Accepted: twelve", status_code=422)

    def test_a_crew_that_measures_in_gallons(self):
        self.crew.us_units = True
        self.crew.save()
        self.post("row", "station-new", **LAWN | {"area": "1300", "flow": "10"})
        station = self.water.stations[0]
        self.assertEqual((station.flow_l_min, station.area_m2), (37.85, 120.8))
        form = self.client.get(reverse("row", args=[self.unit_pk, "station-0"])).context["form"]
        self.assertEqual(form.initial["area"], "1300.3")
        self.post("row", "station-0", **LAWN | {"area": "1300.3", "flow": form.initial["flow"]})
        self.assertEqual(self.water.stations[0].area_m2, 120.8)
        before = self.water.climate
        supply = self.page("supply").context["form"]
        sent = {name: value for name, value in supply.initial.items() if value is not None}
        self.post("supply", **sent | {"price": "11.36", "bucket": "5", "seconds": "30"})
        self.assertEqual(self.water.climate, before)
        self.assertAlmostEqual(self.water.price_m3, 3.001, places=4)
        self.assertEqual(self.water.supply_l_min, 37.86)
        self.post("row", "program-new", **A | {"run_2": ""})
        page = self.page()
        self.assertContains(page, "gal</b> this year")
        self.assertContains(page, "in/h")
        self.assertContains(
            self.client.get(reverse("calculator", args=["rate"]), {"flow": "10", "area": "1300"}), "0.74 in/h"
        )


class DemoTest(TestCase):
    def test_the_terrace_stacks_at_a_hundred_and_forty_per_cent(self):
        found = {unit.unit: unit for unit in demo.UNITS if unit.water}
        self.assertEqual(len(found), 5)
        plan = demo.plan_of(found["Tubs and herbs"])
        codes = [f.code for f in audit(replay(plan, date(2027, 1, 1), date(2027, 12, 31)))]
        # What wastes most is told first.
        self.assertEqual(codes[:4], ["too-wet", "too-wet", "too-wet", "starts-stack"])
        pitches = demo.plan_of(found["Pitches"])
        clean = audit(replay(pitches, date(2026, 1, 1), date(2026, 12, 31)))
        self.assertEqual([f.code for f in clean if f.severity != "note"], [])
