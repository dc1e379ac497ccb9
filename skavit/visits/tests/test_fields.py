"""A visit, and a look at a unit, ask what the unit has: no date of one without, no sun where none is used."""

from dataclasses import replace
from datetime import date

import numpy as np
from django.test import TestCase
from django.urls import reverse

from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.place import place_values, plan_for_kind
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import day_number
from skavit.core.site.almanac import sun_on
from skavit.core.site.clock import zone_clock
from skavit.core.site.sun_table import SunReading, read_table
from skavit.core.tests.builders import BAY, entry, make_plan, window
from skavit.core.text.wording import PLAIN
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.switching.pages.unit.by_hand import ByHandForm
from skavit.units.models import Unit
from skavit.units.pages.clock.forms import ClockForm
from skavit.units.pages.clock.reading import table_answer
from skavit.units.pages.settings.forms import SunForm
from skavit.visits.pages.visit.forms import VisitForm

TODAY = date(2027, 5, 11)
KINDS = {kind.slug: kind for kind in shipped_kinds()}
WATER = {
    "format": "skavit-plan/1",
    "site": BAY,
    "water": {"stations": [{"name": "Lawn", "flow_l_min": 30.0}], "programs": []},
}


class FieldsTest(TestCase):
    def fields(self, plan, slug=None, form=VisitForm):
        kind = KINDS[slug] if slug else None
        more = {"words": PLAIN} if form is VisitForm else {}
        return set(form(plan=plan_for_kind(plan, kind) if kind else plan, kind=kind, today=TODAY, **more).fields)

    def test_a_date_and_sun_times_are_asked_where_the_unit_has_them_and_uses_them(self):
        sun = make_plan([window("sunset", "22:00")], [entry("on", "sunset"), entry("off", "22:00")])
        clock = make_plan([window("18:00", "22:00")], [entry("on", "18:00"), entry("off", "22:00")])
        for plan, slug, has in (
            (sun, None, {"date", "sunrise", "sunset"}),
            (make_plan(), None, {"date", "sunrise", "sunset"}),  # nothing is known of it yet
            (clock, None, {"date"}),
            (clock, "plug-in-weekly-switch", set()),  # it knows no date
            (sun, "panel-switch-one-channel-by-coordinates", {"date", "sunrise", "sunset"}),
            (clock, "panel-switch-one-channel-by-coordinates", {"date"}),
        ):
            for form in (VisitForm, ClockForm):
                with self.subTest(slug=slug, form=form.__name__):
                    self.assertEqual(self.fields(plan, slug, form) & {"date", "sunrise", "sunset"}, has)

    def test_a_photocell_shows_no_sun_times_to_correct(self):
        plan = make_plan(
            [window("dusk", "22:00")],
            [entry("on", "dusk")],
            sun={"source": "photocell", "altitude_deg": -3, "delay_min": 1},
        )
        self.assertFalse(self.fields(plan, form=ClockForm) & {"sunrise", "sunset"})

    def test_a_region_and_a_table_are_picked_from_the_units_list(self):
        sun = make_plan([window("sunset", "22:00")], [entry("on", "sunset")])
        for slug in ("wall-switch-by-region", "panel-switch-two-channels-by-zone-table"):
            with self.subTest(slug):
                kind = KINDS[slug]
                plan = plan_for_kind(sun, kind)
                form = SunForm.showing(plan, 1, kind)
                self.assertNotIn("latitude", form.fields)
                self.assertIn(form.initial["place"], dict(form.fields["place"].choices))
                name = next(n for n in dict(form.fields["place"].choices) if n != form.initial["place"])
                sent = {"revision": 1, "source": form.initial["source"], "place": name, "when_no_sun": "limit"}
                chosen = SunForm(sent, plan=plan, kind=kind)
                self.assertTrue(chosen.is_valid(), chosen.errors)
                told = place_values(kind, plan.site, chosen.edit(plan).unit.sun, 2027)[0]
                self.assertEqual(list(told.values()), [name])

    def test_the_sun_times_it_shows_name_the_region(self):
        """A switch in region A of its list, hung in Hawke's Bay (region B): what it shows says so."""
        kind = KINDS["wall-switch-by-region"]
        plan = plan_for_kind(make_plan([window("sunset", "22:00")], [entry("on", "sunset")]), kind)
        region = next(r for r in kind.sun.regions if r.latitude != plan.unit.sun.latitude)
        there = replace(plan.site, latitude=region.latitude, longitude=region.longitude)
        day = date(2027, 6, 21)
        sun, clock = sun_on(there, day_number(day)), zone_clock("Pacific/Auckland", 2026, 2028)
        shown = [int(clock.digits(np.array([sun[event]]))[0]) % 86_400 for event in ("sunrise", "sunset")]
        reading = SunReading(day=day, sunrise_s=shown[0] // 60 * 60, sunset_s=shown[1] // 60 * 60)
        answer = table_answer(plan.site, read_table(plan.site, (reading,)), kind)
        self.assertEqual(answer.takes.words, f"Take region {region.name}")

    def test_what_is_not_asked_was_not_seen(self):
        plan = make_plan([window("18:00", "22:00")])
        form = ClockForm({"time": "12:00"}, plan=plan, kind=KINDS["plug-in-weekly-switch"], today=TODAY)
        self.assertTrue(form.is_valid())
        self.assertEqual([form.cleaned_data[name] for name in ("date", "sunrise", "sunset")], [None] * 3)

    def test_an_exit_button_is_pressed_at_doors_alone(self):
        boiler, door = make_plan([window("06:00", "08:00")]), make_plan([window("06:00", "08:00")]).to_json()
        door["channels"][0]["load"] = {"sort": "lock-holds"}
        for plan, has in ((boiler, False), (make_plan(channels=[[]]), False), (door, True)):
            plan = read_plan(Node(plan)) if has else plan  # noqa: PLW2901
            offered = {value for value, _ in ByHandForm(plan=plan).fields["what"].choices}
            self.assertEqual("exit_s" in offered and "first_in" in offered, has)

    def test_a_unit_that_waters_is_asked_for_pressure_meter_leaks_and_the_stations_walked(self):
        crew = make_crew()
        unit = make_unit(crew, plan=WATER)
        Unit.objects.filter(pk=unit.pk).update(shipped_kind="garden-controller-eight-stations")
        self.client.force_login(member(crew).user)
        page = self.client.get(reverse("visit", args=[unit.pk]))
        for text in ("Pressure", "Water meter, as found", "Leaks", "Stations walked", "Water meter, as left"):
            self.assertContains(page, text)
        self.assertNotContains(page, "Sunrise it shows")
        sent = {"token": page.context["token"], "revision": page.context["revision"], "pressure": "2.5 bar",
                "leaks": "none", "walked": "all", "meter_left": "1204.5", "keyed": "nothing", "left_mode": "automatic",
                "signed": "Kahu", "end": "1"}  # fmt: skip
        ended = self.client.post(reverse("visit-save", args=[unit.pk]), sent, follow=True)
        for text in ("2.5 bar", "none seen", "all of them", "1204.5"):
            self.assertContains(ended, text)
        self.assertNotContains(self.client.get(reverse("visit", args=[make_unit(crew, name="Lights").pk])), "Pressure")
