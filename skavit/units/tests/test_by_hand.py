"""What was done by hand as dated lines, its mark on the year sheet, and findings judged under a tolerance."""

from datetime import UTC, datetime

from django.test import TestCase
from django.urls import reverse

from skavit.core.plan.overrides import Boost, Mode, PowerCut
from skavit.core.tests.builders import document, entry, window
from skavit.crews.tests.builders import make_crew, make_unit, member, stop_clock
from skavit.units.models import Unit

NOW = int(datetime(2027, 7, 20, 9, 0, tzinfo=UTC).timestamp())  # 21:00 at the bay
CLEAN = document(
    [window("sunset", "22:40")], [entry("on", "sunset"), entry("off", "22:40")], limits={"limited_times": True}
)
LATE = document([window("18:00", "22:40")], [entry("on", "18:03"), entry("off", "22:40")])


class ByHandTest(TestCase):
    def setUp(self):
        stop_clock(self, NOW)
        self.crew = make_crew()
        self.unit_pk = make_unit(self.crew, CLEAN).pk
        self.client.force_login(member(self.crew).user)

    @property
    def unit(self):
        return Unit.objects.get(pk=self.unit_pk)

    def page(self, **query):
        return self.client.get(reverse("unit", args=[self.unit_pk]), query)

    def add(self, **typed):
        sent = {"revision": self.unit.head.number, "date": "14 Jul", "time": "18:10", "on_channel": "1", **typed}
        return self.client.post(reverse("by-hand-add", args=[self.unit_pk]), sent, follow=True)

    def test_left_on_by_hand_is_replayed_marked_and_told_at_once(self):
        page = self.add(what="on")
        self.assertEqual(self.unit.plan.overrides[0].setting, Mode(word="on"))
        self.assertContains(page, "by-hand-mark", count=2)  # on both sheets
        self.assertContains(page, "14 Jul 2027")
        # It is nine in the evening of 20 July: wanted on, and on; but no entry acts.
        self.assertContains(page, "no entry acts until it is in automatic")
        self.assertContains(page, "its entries do not act until it is in automatic again")
        stop_clock(self, NOW + 6 * 3600)
        self.assertContains(self.page(), "On, not wanted")
        self.assertContains(self.client.get(reverse("round")), '<b class="alarm-ink">On, not wanted')

    def test_lines_are_added_in_order_and_removed(self):
        self.add(what="power_cut_h", length="3")
        self.add(what="boost_min", length="45", date="1 Jul")
        found = [o.setting for o in self.unit.plan.overrides]
        self.assertEqual(found, [Boost(minutes=45), PowerCut(hours=3)])
        remove = reverse("by-hand-remove", args=[self.unit_pk, 0])
        self.client.post(remove, {"revision": self.unit.head.number})
        self.assertEqual([o.setting for o in self.unit.plan.overrides], [PowerCut(hours=3)])
        gone = reverse("by-hand-remove", args=[self.unit_pk, 7])
        self.assertContains(
            self.client.post(gone, {"revision": self.unit.head.number}), "that line is gone", status_code=422
        )

    def test_what_cannot_be_is_refused_with_what_was_typed(self):
        for typed, said in [
            ({"what": "boost_min"}, "How long did it last?"),
            ({"what": "on", "time": "25:00"}, "Accepted: a clock time"),
            ({"what": "on", "date": "31 Feb"}, "Accepted"),
            ({"what": "holiday_days", "length": "2.5"}, "Accepted: a whole number"),
            ({"what": "boost_min", "length": "9999999"}, "Accepted"),
        ]:
            with self.subTest(typed=typed):
                page = self.add(**typed)
                self.assertContains(page, said, status_code=422)
                self.assertContains(page, f'value="{typed.get("time", "18:10")}"', status_code=422)
        self.assertEqual(self.unit.plan.overrides, ())


class ToleranceTest(TestCase):
    def test_a_difference_within_what_is_allowed_is_no_finding(self):
        stop_clock(self, NOW)
        crew = make_crew()
        unit = make_unit(crew, LATE)
        self.client.force_login(member(crew).user)
        address = reverse("unit", args=[unit.pk])
        self.assertNotContains(self.client.get(address), "Does what is wanted, all")
        allowed = self.client.get(address, {"clock_min": "5", "sun_min": "0"})
        self.assertContains(allowed, "Does what is wanted, all")
        self.assertContains(allowed, "Judged with 5 min of clock and 0 min of sun")
        # What is done from there is shown judged the same way.
        self.assertContains(allowed, '<input type="hidden" name="clock_min" value="5">')
        self.assertNotContains(
            self.client.get(address, {"clock_min": "-4", "sun_min": "x"}), "Does what is wanted, all"
        )
