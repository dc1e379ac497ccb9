"""The library of kinds: copied, adjusted to a manual, put in another order, carried in a file, chosen for a unit."""

import json
from dataclasses import replace
from datetime import date

from django.core.files.uploadedfile import SimpleUploadedFile
from django.forms import Textarea
from django.test import TestCase
from django.urls import reverse

from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.parts import Press
from skavit.core.sheet import played
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.kinds.models import Kind
from skavit.kinds.pages.edit.forms import KindForm
from skavit.kinds.pages.edit.views import FORMS
from skavit.units.models import Unit

TODAY = date(2026, 12, 24)


class LibraryTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.unit_pk = make_unit(cls.crew).pk

    def setUp(self):
        self.client.force_login(member(self.crew).user)

    def copied(self, slug="panel-switch-one-channel-by-coordinates"):
        self.client.post(reverse("kind-copy", args=[slug]))
        return Kind.objects.latest("pk")

    def typed(self, row, form_class=KindForm, **changes):
        """What the form shows, as a browser would send it back."""
        form = form_class(kind=row.kind, version=row.version, today=TODAY)
        sent = {}
        for name, field in form.fields.items():
            value = form.initial.get(name, field.initial)
            if value is not None and value is not False and value != "":  # 0 is a number that was typed
                sent[name] = "on" if value is True else value
        return {**sent, **changes}

    def edit(self, row, **changes):
        return self.client.post(reverse("kind-edit", args=[row.pk]), self.typed(row, **changes))

    def edit_part(self, row, part, **changes):
        sent = self.typed(row, FORMS[part], **changes)
        answer = self.client.post(reverse("kind-edit-part", args=[row.pk, part]), sent)
        row.refresh_from_db()
        return answer

    def test_a_copy_kept_unchanged_is_the_same_kind(self):
        shown = set()  # the page that one is led to has hundreds of fields: it is looked at once a trade
        for kind in shipped_kinds():
            row, look = self.copied(kind.slug), kind.trade not in shown
            shown.add(kind.trade)
            for part in ("memory", "keys", "contact", *["water"] * bool(kind.watering), *["heat"] * bool(kind.heating)):
                with self.subTest(kind.name, part=part):
                    page = reverse("kind-edit-part", args=[row.pk, part])
                    self.assertRedirects(self.edit_part(row, part), page, fetch_redirect_response=look)
                    self.assertEqual(row.kind, kind)
            with self.subTest(kind.name):
                page = reverse("kind-edit", args=[row.pk])
                self.assertRedirects(self.edit(row), page, fetch_redirect_response=look)
                row.refresh_from_db()
                self.assertEqual(row.kind, kind)

    def test_what_has_several_lines_stands_in_a_field_that_keeps_them(self):
        """A browser drops the line breaks of a field of one line."""
        for kind in shipped_kinds():
            for form_class in FORMS.values():
                form = form_class(kind=kind, version=1, today=TODAY)
                for name, field in form.fields.items():
                    if "\n" in str(form.initial.get(name, "")):
                        with self.subTest(kind=kind.name, name=name):
                            self.assertIsInstance(field.widget, Textarea)

    def test_a_region_is_told_by_a_site_or_by_the_sun_times_it_shows(self):
        """Whoever keys a region knows no degrees: the crew's site stands for it, or a date and what the unit shows."""
        row = self.copied("wall-switch-by-region")
        # 21 June 2027 at 41.3 S, 174.8 E: sunrise 07:46, sunset 16:58 (by the project's own sun, whose tests stand behind it).
        told = "A, -36.9, 174.8\nB, Harbour walk\nC, 21 Jun 2027, 7:46, 4.58pm, harbour walk"
        self.edit_part(row, "memory", regions=told)
        a, b, c = row.kind.sun.regions
        self.assertEqual((a.latitude, b.latitude, b.longitude), (-36.9, -39.5, 176.9))
        self.assertAlmostEqual(c.latitude, -41.3, delta=0.3)
        self.assertAlmostEqual(c.longitude, 174.8, delta=0.2)
        refused = self.edit_part(row, "memory", regions="NORTH")
        self.assertContains(refused, "NORTH has no coordinates yet", status_code=422)

    def test_seven_ons_and_seven_offs_made_by_forms_alone(self):
        """A landscape switch whose memory is in two parts, one of seven ONs and one of seven OFFs."""
        row = self.copied("wall-switch-weekly")
        self.edit(row, name="Landscape switch", entries="14")
        row.refresh_from_db()
        self.edit_part(row, "memory", bank_1_shape="on", bank_1_count="7", bank_2_shape="off", bank_2_count="7",
                       mode_1_word="RUN", mode_2_word="HAND", mode_2_means="on")  # fmt: skip
        made = row.kind
        self.assertEqual([(bank.shape, bank.count) for bank in made.limits.slots], [("on", 7), ("off", 7)])
        self.assertEqual([(m.word, m.means) for m in made.modes.cycle], [("RUN", "auto"), ("HAND", "on")])
        self.edit_part(row, "keys", keys="set, plus, next, onoff, mode, wipe")
        self.edit_part(row, "memory", reset_press="wipe + set 4 s", reset_shows="12:00 AM", slot_cleared_by="key",
                       slot_clear="wipe")  # fmt: skip
        self.assertEqual(row.kind.reset.press, (Press(keys=("wipe", "set"), hold_s=4),))
        self.assertEqual(played(row.kind).wrong, ())
        self.assertNotContains(self.client.get(reverse("kind-own", args=[row.pk])), "does not play through")

    def test_more_outputs_and_another_place_bring_their_likely_keys(self):
        row = self.copied("panel-switch-one-channel-by-coordinates")
        self.edit(row, channels="2")
        self.assertContains(self.client.get(reverse("kind-edit", args=[row.pk])), "Its keys changed with it: slot.")
        row.refresh_from_db()
        self.assertEqual(row.kind.slot_dialogue.fields[0].field, "channel")
        regions = "North, -36.8, 174.7\nSouth, -45.9, 170.5"
        self.edit_part(row, "memory", place="region", regions=regions)
        self.assertEqual([turned.field for turned in row.kind.place_dialogue.fields], ["region"])
        self.assertEqual(played(row.kind).wrong, ())
        self.edit(row, channels="1")
        row.refresh_from_db()
        self.assertNotIn("channel", [turned.field for turned in row.kind.slot_dialogue.fields])

    def test_what_the_keys_do_not_say_stands_on_its_page(self):
        row = self.copied("panel-switch-two-channels-by-region")
        slot = replace(row.kind.slot_dialogue, fields=row.kind.slot_dialogue.fields[1:])
        row.document = replace(row.kind, slot_dialogue=slot).to_json()
        row.save()
        page = self.client.get(reverse("kind-own", args=[row.pk]))
        self.assertContains(page, "The keys do not say how output 2 is chosen.")
        for part in ("memory", "keys", "contact"):
            self.assertContains(page, reverse("kind-edit-part", args=[row.pk, part]))

    def test_a_field_that_does_nothing_is_not_offered(self):
        row = self.copied("garden-controller-eight-stations")
        self.assertNotContains(self.client.get(reverse("kind-edit", args=[row.pk])), "Outputs")

    def test_a_controller_is_adjusted_to_its_manual(self):
        row = self.copied("garden-controller-eight-stations")
        curve = "dry coast; 100 90 70 45 20 5 5 20 45 65 85 95"
        self.edit_part(
            row, "water", stations="12", programs="2", starts="6", anchor="reset", curves=curve, parts="days"
        )
        has = row.kind.watering
        self.assertEqual((has.stations, has.limits.programs, has.limits.starts, has.anchor), (12, 2, 6, "reset"))
        self.assertEqual((has.parts, has.curves[0].pct[11]), (("days", "starts", "runs", "season", "months"), 95.0))
        self.assertEqual(played(row.kind).wrong, ())
        self.assertContains(self.client.get(reverse("kind-own", args=[row.pk])), "from the last reset")
        for wrong, told in ((curve[:-3], "Accepted"), ("dry coast; many", "is not twelve numbers")):
            with self.subTest(wrong=wrong):
                answer = self.edit_part(row, "water", curves=wrong)
                self.assertContains(answer, told, status_code=422)
                self.assertContains(answer, wrong, status_code=422)

    def test_a_thermostat_is_adjusted_to_its_manual(self):
        row = self.copied("room-thermostat-four-periods")
        self.edit_part(row, "heat", periods="6", period_words="", unused="skipped", holiday="today", c_max="28")
        has = row.kind.heating
        self.assertEqual((has.periods, has.period_words, has.unused, has.holiday), (6, (), "skipped", "today"))
        self.edit_part(row, "contact", opens="Y", hands="holiday | holiday | Frost protection by days.")
        self.assertEqual((row.kind.contact.opens, [hand.does for hand in row.kind.hand_keys]), ("Y", ["holiday"]))
        self.assertEqual(played(row.kind).wrong, ())
        page = self.client.get(reverse("kind-own", args=[row.pk]))
        self.assertContains(page, "by days, today counted")
        for wrong, told in (
            ("dance | mode | Nothing.", "cannot be read"),
            ("hold | nokey | Nothing.", "not among its keys"),
        ):
            with self.subTest(wrong=wrong):
                self.assertContains(self.edit_part(row, "contact", hands=wrong), told, status_code=422)

    def test_a_kind_that_switches_has_no_form_of_water(self):
        row = self.copied()
        self.assertEqual(self.client.get(reverse("kind-edit-part", args=[row.pk, "water"])).status_code, 404)

    def test_regions_and_table_are_typed(self):
        row = self.copied()
        self.edit_part(row, "memory", place="region", regions="North, -36.8, 174.7\nSouth, -45.9, 170.5")
        self.edit_part(row, "keys", place_1_field="region", place_2_field="", place_3_field="")
        self.assertEqual([region.name for region in row.kind.sun.regions], ["North", "South"])
        self.assertEqual(played(row.kind).wrong, ())
        answer = self.edit_part(row, "memory", regions="North -36.8")
        self.assertContains(answer, "its latitude and longitude (B, -39.5, 176.5)", status_code=422)
        self.assertContains(answer, "North -36.8", status_code=422)

    def test_another_way_of_offset_brings_its_keys(self):
        row = self.copied()
        self.edit(row, offset="minutes")
        row.refresh_from_db()
        self.assertEqual([t.field for t in row.kind.correction_dialogue.fields], ["rise_min", "set_min"])
        self.assertNotIn("offset", [t.field for t in row.kind.slot_dialogue.fields])

    def test_keys_that_lead_nowhere_are_told_on_the_kinds_page(self):
        row = self.copied()
        answer = self.edit_part(row, "keys", date_enter="menu, ok")
        self.assertRedirects(answer, reverse("kind-edit-part", args=[row.pk, "keys"]))
        self.assertContains(self.client.get(answer.url), "It does not play through")
        play = self.client.get(reverse("kind-own-play", args=[row.pk]), {"at": "9999"})
        self.assertContains(play, "shows no")
        for typed, said in [
            ({"clock_enter": "menu +"}, "is no press"),
            ({"clock_enter": "dance"}, "is not among its keys"),
            ({"clock_accept": ""}, "is missing"),
            ({"clock_1_key": ""}, "has no key"),
        ]:
            with self.subTest(typed=typed):
                self.assertContains(self.edit_part(row, "keys", **typed), said, status_code=422)

    def test_a_shipped_kind_is_played_key_by_key(self):
        address = reverse("kind-play", args=["plug-in-weekly-switch"])
        first = self.client.get(address)
        self.assertContains(first, "Every key of its sheet does what it must")
        for at in range(1, first.context["total"] + 1):
            page = self.client.get(address, {"at": at})
            if page.context["frame"].press:
                self.assertContains(page, "face-pressed")
        self.assertEqual(self.client.get(address, {"at": "x"}).context["at"], 1)

    def test_a_second_copy_gets_a_number(self):
        self.copied()
        self.assertTrue(self.copied().name.endswith(" 2"))

    def test_adjusted_to_the_manual_and_named_on_the_units_sheet(self):
        row = self.copied()
        self.edit(row, name="Depot switch", entries="20", **{"key-menu": "PROG"}, before="Look at the fuse.")
        row.refresh_from_db()
        self.assertEqual((row.name, row.kind.limits.entries), ("Depot switch", 20))
        self.assertEqual([press.keys for press in row.kind.clock_dialogue.enter], [("PROG",), ("ok",)])
        unit = Unit.objects.get(pk=self.unit_pk)
        sent = {"kind": f"own-{row.pk}", "revision": unit.head.number}
        self.client.post(reverse("unit-kind", args=[unit.pk]), sent)
        unit = Unit.objects.get(pk=self.unit_pk)
        self.assertEqual((unit.kind, unit.plan.unit.limits.entries), (row, 20))
        self.assertEqual((unit.plan.unit.sun.source, unit.plan.unit.sun.latitude), ("coordinates", -39))
        self.assertContains(self.client.get(reverse("sheet", args=[unit.pk])), "<kbd>PROG</kbd>")

    def test_refused_with_what_was_typed(self):
        row = self.copied()
        answer = self.edit(row, channels="0", says="Typed and kept")
        self.assertContains(answer, "Typed and kept", status_code=422)
        answer = self.edit(row, rules=["dance"])
        self.assertContains(answer, "dance", status_code=422)
        self.copied()
        answer = self.edit(Kind.objects.latest("pk"), name=row.name)
        self.assertContains(answer, "another name", status_code=422)

    def test_the_steps_take_another_order(self):
        row = self.copied()
        first, second = row.kind.order[:2]
        self.client.post(reverse("kind-order", args=[row.pk]), {"section": first, "by": "down"})
        row.refresh_from_db()
        self.assertEqual(row.kind.order[:2], (second, first))
        for _ in range(3):
            self.client.post(reverse("kind-order", args=[row.pk]), {"section": second, "by": "up"})
        row.refresh_from_db()
        self.assertEqual(row.kind.order[0], second)
        self.client.post(reverse("kind-order", args=[row.pk]), {"section": "nonsense", "by": "up"})

    def test_a_file_carries_a_kind_and_a_bad_one_is_refused_at_its_path(self):
        row = self.copied()
        data = self.client.get(reverse("kind-own-file", args=[row.pk])).content
        self.client.post(reverse("kind-import"), {"file": SimpleUploadedFile("kind.json", data)})
        self.assertEqual(Kind.objects.latest("pk").kind.clock, row.kind.clock)
        bad = {**json.loads(data), "clock": {"hours": 13}}
        answer = self.client.post(
            reverse("kind-import"), {"file": SimpleUploadedFile("kind.json", json.dumps(bad).encode())}
        )
        self.assertContains(answer, "clock.hours", status_code=422)

    def test_a_plan_that_a_kind_cannot_hold_is_said_on_the_sheet(self):
        unit = Unit.objects.get(pk=self.unit_pk)
        sent = {"kind": "tap-timer-four-outlets", "revision": unit.head.number}
        self.client.post(reverse("unit-kind", args=[unit.pk]), sent)
        page = self.client.get(reverse("sheet", args=[unit.pk]))
        self.assertContains(page, "This unit cannot be keyed so: Pair 1")
        self.assertContains(page, "entry 1: its slots take no sunset")
        # The other steps keep their keys; one that is refused has nothing to tick.
        self.assertContains(page, "<kbd>set</kbd>")
        rows = page.context["rows"]
        self.assertEqual({row.step.key == "" for row in rows if row.step.refused}, {True})
        self.assertNotContains(page, 'name="key" value=""')
        answer = self.client.post(reverse("unit-kind", args=[unit.pk]), {"revision": 1})
        self.assertContains(answer, "No kind was chosen", status_code=422)
