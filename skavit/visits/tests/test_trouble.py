"""What the customer says on the telephone, and the causes that the page names."""

from datetime import UTC, datetime

from skavit.core.plan.times import day_of
from skavit.core.tests.test_heat import heating, points
from skavit.core.tests.test_pairs import garden
from skavit.crews.tests.builders import make_unit, member, stop_clock
from skavit.units.tests.one_unit import OneUnitCase
from skavit.visits.models import Visit
from skavit.visits.tests.builders import make_visit

# Wednesday 12 May 2027, 09:00 in Hawke's Bay.
NOW = int(datetime(2027, 5, 11, 21, tzinfo=UTC).timestamp())


class TroubleCase(OneUnitCase):
    def setUp(self):
        super().setUp()
        stop_clock(self, NOW)

    def answer(self, *, htmx=False, **query):
        address = {"data": query} | ({"headers": {"HX-Request": "true"}} if htmx else {})
        return self.client.get(f"/units/{self.unit_pk}/trouble/", **address)


class TroubleTest(TroubleCase):
    def test_the_page_asks_before_it_answers(self):
        page = self.answer()
        self.assertContains(page, "What is wrong?")
        self.assertContains(page, "today, Wed 12 May")
        self.assertContains(page, "Ask three things")

    def test_an_hour_slow_is_read_off_the_display_and_drawn_over_the_looks(self):
        seen = {
            "day0": "2027-05-11", "time0": "22:50", "out0-1": "on",
            "day1": "2027-05-12", "time1": "08:40", "out1-1": "off", "shows1": "07:40",
        }  # fmt: skip
        page = self.answer(**seen)
        self.assertContains(page, "The clock is 1 h behind.")
        first = page.context["found"].first[0]
        self.assertEqual(first.explains, "explains 2 of 2 looks")
        self.assertIn('class="seen seen-on"', first.strip)
        self.assertNotIn("seen-not", first.strip)
        part = self.answer(htmx=True, **seen)
        self.assertContains(part, "The clock is 1 h behind.")
        self.assertNotContains(part, "<html")

    def test_all_right_is_said_and_what_no_replay_shows_is_asked(self):
        self.assertContains(self.answer(day0="2027-05-11", time0="20:00", **{"out0-1": "on"}), "no fault is seen here")
        dark = self.answer(day0="2027-05-11", time0="20:00", **{"out0-1": "off"})
        self.assertContains(dark, "breaker has tripped")
        blank = self.answer(day0="2027-05-11", time0="20:00", blank0="on", **{"out0-1": "off"})
        self.assertContains(blank, "The clock has lost its time")
        self.assertContains(blank, "battery is flat")

    def test_what_is_refused_stands_where_it_was_typed(self):
        page = self.answer(day0="2027-05-11", time0="quarter past", **{"out0-1": "on"})
        self.assertContains(page, "Accepted: ", status_code=422)
        self.assertContains(page, "quarter past", status_code=422)

    def test_more_looks_keep_what_was_typed_and_end_somewhere(self):
        page = self.answer(rows="6", time0="20:00")
        self.assertContains(page, "Look 6")
        self.assertContains(page, 'value="20:00"')
        self.assertNotContains(self.answer(rows="9999"), "Look 61")


class SaidTest(TroubleCase):
    def test_a_callers_words_become_looks(self):
        """ "An hour late since Monday": it was right the evening before, dark at its time then, and burned on after its end."""
        page = self.answer(say="late", say_day="2027-05-10", say_what="1")
        self.assertEqual(page.status_code, 302)
        shown = self.client.get(page.url)
        found = shown.context["form"].looks()
        self.assertEqual([look.outputs for look in found], [(True,), (False,), (True,)])
        self.assertContains(shown, "By itself" if shown.context["found"].pairs else "explains 3 of 3 looks")

    def test_each_week_on_one_day(self):
        page = self.answer(say="weekly", say_day="2027-05-08", say_what="1")
        shown = self.client.get(page.url)
        looks = shown.context["form"].looks()
        self.assertEqual([look.outputs for look in looks], [(False,), (True,), (False,)])
        days = [day_of(look.at // 86400).isoformat() for look in looks]
        self.assertEqual(days, ["2027-05-01", "2027-05-07", "2027-05-08"])

    def test_a_visit_or_a_power_cut_just_before_makes_what_it_lets_happen_likelier(self):
        """Dark since the evening of 10 May, lit the day before."""
        seen = {
            "day0": "2027-05-09", "time0": "20:00", "out0-1": "on", "day1": "2027-05-10", "time1": "20:00", "out1-1": "off",
        }  # fmt: skip
        plain = self.answer(**seen).context["found"]
        self.assertEqual({row.after for row in (*plain.first, *plain.rest)}, {""})
        visit, _ = make_visit(self.unit, member(self.crew))
        begun = datetime(2027, 5, 10, 2, tzinfo=UTC)
        Visit.objects.filter(pk=visit.pk).update(begun=begun, ended=begun)
        found = self.answer(**seen).context["found"]
        self.assertEqual(found.first[0].after, "Somebody was there on Mon 10 May.")
        self.assertIn("by hand", found.first[0].text)

    def test_two_faults_are_told_together_with_the_looks_of_each(self):
        looks = {
            "day0": "2027-05-10", "time0": "17:50", "out0-1": "off", "day1": "2027-05-10", "time1": "23:10", "out1-1": "on",
            "day2": "2027-05-08", "time2": "12:00", "out2-1": "on", "day3": "2027-05-11", "time3": "12:00", "out3-1": "off",
        }  # fmt: skip
        page = self.answer(rows="6", **looks)
        self.assertContains(page, "No single fault explains all of this. Two together do:")
        pair = page.context["found"].pairs[0]
        self.assertEqual(pair.explains, "explain 4 of 4 looks")
        self.assertEqual(len(pair.causes), 2)


class WaterTroubleTest(OneUnitCase):
    @staticmethod
    def make(crew):
        return make_unit(crew, plan=garden().to_json())

    def setUp(self):
        super().setUp()
        stop_clock(self, NOW)

    def test_it_watered_at_noon_and_the_far_end_is_dry(self):
        looks = {
            "day0": "2027-05-11", "time0": "12:20", "since0": "11:40", "station0": "any", "runs0": "on",
            "day1": "2027-05-12", "time1": "08:00", "bed1": "6", "ground1": "dry-far",
        }  # fmt: skip
        page = self.client.get(f"/units/{self.unit_pk}/trouble/", looks)
        self.assertContains(page, "Two together do:")
        told = [text for pair in page.context["found"].pairs for text, *_ in pair.causes]
        self.assertIn("The pressure is low: a leak, a tap half shut, or too many heads at once.", told)
        self.assertContains(page, "26 l/min")
        self.assertContains(page, "cans along the bed")
        # The same by the caller's words.
        said = self.client.get(
            f"/units/{self.unit_pk}/trouble/", {"say": "far", "say_day": "2027-05-12", "say_what": "6"}
        )
        shown = self.client.get(said.url)
        self.assertContains(shown, "The pressure is low")

    def test_more_looks_work_at_once(self):
        page = self.client.get(f"/units/{self.unit_pk}/trouble/", {"rows": "6", "time0": "12:00", "station0": "any"})
        self.assertContains(page, "Look 6")
        self.assertContains(page, "some station")


class RoomTroubleTest(OneUnitCase):
    @staticmethod
    def make(crew):
        return make_unit(crew, plan=heating(points([("07:00", 20), ("22:00", 15)])).to_json())

    def setUp(self):
        super().setUp()
        stop_clock(self, NOW)

    def test_it_stays_cold_on_a_day(self):
        address = f"/units/{self.unit_pk}/trouble/"
        page = self.client.get(address)
        self.assertContains(page, "It stays cold, on")
        said = self.client.get(address, {"say": "never", "say_day": "2027-05-11", "say_what": "1"})
        shown = self.client.get(said.url)
        self.assertEqual([look.warm for look in shown.context["form"].looks()], [(False,)])
        self.assertContains(shown, "07:00")
        warm = self.client.get(address, {"say": "night", "say_day": "2027-05-10", "say_what": "1"})
        self.assertEqual([look.warm for look in self.client.get(warm.url).context["form"].looks()], [(True,)])
