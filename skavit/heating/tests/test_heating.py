"""Units that hold temperatures: from a kind to set points, every edit with what it alters, refusals, sheet and hand-over."""

from django.urls import reverse

from skavit.heating.tests.builders import WEEKENDS, WORKDAYS, make_heating
from skavit.units.tests.one_unit import OneUnitCase


class HeatingCase(OneUnitCase):
    @staticmethod
    def make(crew):
        return make_heating(crew)

    @property
    def heat(self):
        return self.unit.plan.heat

    def wanted(self):
        for fields in (WORKDAYS, WEEKENDS):
            self.assertEqual(self.post("row", "wanted-1-new", **fields).status_code, 200)


class WholeJobTest(HeatingCase):
    def test_from_nothing_to_the_hand_over(self):
        self.assertContains(self.page(), "No temperature yet")
        self.wanted()
        self.assertContains(self.post("fit"), "the unit holds just what is wanted")
        self.assertEqual(
            [p.to_json() for p in self.heat.zones[0].keyed], [p.to_json() for p in self.heat.zones[0].wanted]
        )
        page = self.page()
        self.assertContains(page, "20.5 °C")
        self.assertContains(page, "In time")
        self.assertContains(self.page("sheet"), "WAKE")
        self.assertContains(self.page("handover"), "Turn the target a few degrees above the room")
        self.assertContains(self.page("options"), "Just what is wanted")
        self.assertContains(self.client.get(reverse("round")), "Reading room")

    def test_by_hand_a_hold_and_a_holiday(self):
        self.wanted()
        self.post("fit")
        line = {"date": "7 Jun 2027", "time": "12:00", "zone": "1"}
        self.assertContains(
            self.post("by-hand-add", **line, what="hold_min", degrees="22", length="120"), "22 °C for 2 h"
        )
        self.post("by-hand-add", **line, what="holiday_until", until="9 Jun 2027", until_time="18:00")
        day = self.page("day", year=2027, day=20977, channel=1)  # 8 June 2027
        self.assertContains(day, "7 °C")
        refused = self.post("by-hand-add", **line, what="holiday_until", until="6 Jun 2027", until_time="18:00")
        self.assertContains(refused, "ends before it begins", status_code=422)
        self.assertContains(self.post("by-hand-add", **line, what="c"), "How warm?", status_code=422)
        self.assertEqual(len(self.heat.overrides), 2)
        self.post("by-hand-remove", 0)
        self.assertEqual(len(self.heat.overrides), 1)


class RowTest(HeatingCase):
    def test_what_is_refused_keeps_what_was_typed(self):
        for fields, told in (
            (WORKDAYS | {"at_1": "25:00"}, "a clock time"),
            (WORKDAYS | {"c_1": "warm"}, "is no temperature"),
            (WORKDAYS | {"c_1": "-40"}, "out of range"),
            (WORKDAYS | {"c_2": ""}, "both, or neither"),
            (WORKDAYS | {"at_2": "7:10"}, "The same time twice"),
            ({"days_kind": "daily"}, "at least one time"),
        ):
            with self.subTest(told=told):
                answer = self.post("row", "wanted-1-new", **fields)
                self.assertContains(answer, told, status_code=422)
                for value in fields.values():
                    self.assertContains(answer, value, status_code=422)
        self.assertEqual(self.heat.zones[0].wanted, ())

    def test_the_same_days_twice(self):
        self.wanted()
        self.assertContains(self.post("row", "wanted-1-new", **WORKDAYS), "have set points already", status_code=422)

    def test_change_remove_and_a_stale_page(self):
        self.wanted()
        before = self.unit.head.number
        self.post("row", "wanted-1-0", **WORKDAYS | {"c_1": "21"})
        self.assertEqual(self.heat.zones[0].wanted[0].c, 21)
        stale = self.post("row", "wanted-1-0", revision=before, **WORKDAYS | {"c_1": "18"})
        self.assertContains(stale, 'value="18"', status_code=409)
        self.post("row-action", "wanted-1-1", "remove")
        self.assertEqual({p.days.to_json() for p in self.heat.zones[0].wanted}, {"weekdays"})
        self.assertEqual(self.page("row", "wanted-1-7").status_code, 404)
        self.assertEqual(self.page("row", "wanted-9-0").status_code, 404)
        # The form of a row opens with the page too, where nothing runs a script.
        self.assertContains(self.page(edit="wanted-1-0"), 'name="at_1" value="07:10"')
        self.assertEqual(self.page(edit="wanted-9-0").status_code, 404)

    def test_a_preview_says_what_it_alters(self):
        self.wanted()
        self.post("fit")
        told = self.post("preview", "keyed-1-0", **WORKDAYS | {"c_1": "22"})
        self.assertContains(told, "too warm a year, 0 degree hours before")
        self.assertContains(self.post("preview", "keyed-1-0", **WORKDAYS), "Alters nothing")

    def test_fahrenheit_for_a_crew_that_measures_so(self):
        self.crew.us_units = True
        self.crew.save()
        self.post("row", "wanted-1-new", **WORKDAYS | {"c_1": "68", "c_2": "59"})
        self.assertEqual([p.c for p in self.heat.zones[0].wanted], [20, 15])
        self.assertContains(self.page(), "68 °F")


class ZonesTest(HeatingCase):
    @staticmethod
    def make(crew):
        return make_heating(crew, "zone-programmer-four-zones", "Plant cupboard")

    def test_zones_and_rooms(self):
        self.wanted()
        self.post("zone-add", htmx=False)
        page = self.page(channel=2)
        self.assertContains(page, "As in Zone 1")
        self.post("zone-copy", channel=2, **{"from": "1"})
        self.assertEqual(self.heat.zones[0].wanted, self.heat.zones[1].wanted)
        room = {"frost": "8", "coldest": "-3", "usual": "4", "name_1": "Hall", "name_2": "Office",
                "loss_w_k_2": "150", "capacity_wh_k_2": "3000", "heater_w_2": "6000"}  # fmt: skip
        self.assertRedirects(self.post("heat-rooms", htmx=False, **room), reverse("unit", args=[self.unit_pk]))
        self.assertEqual(
            (self.heat.frost_c, self.heat.zones[1].name, self.heat.zones[1].room.loss_w_k), (8, "Office", 150)
        )
        half = self.post("heat-rooms", htmx=False, **room | {"heater_w_2": ""})
        self.assertContains(half, "told by all three", status_code=422)
        self.post("zone-remove", 0, htmx=False)
        self.assertEqual([zone.name for zone in self.heat.zones], ["Office"])
        self.assertContains(self.post("zone-remove", 0), "its only zone", status_code=422)
        for _ in range(3):
            self.post("zone-add")
        self.assertContains(self.post("zone-add"), "this unit has 4 zones", status_code=422)
