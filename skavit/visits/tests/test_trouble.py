"""What the customer says on the telephone, and the causes that the page names."""

from datetime import UTC, datetime

from skavit.crews.tests.builders import stop_clock
from skavit.units.tests.one_unit import OneUnitCase

# Wednesday 12 May 2027, 09:00 in Hawke's Bay.
NOW = int(datetime(2027, 5, 11, 21, tzinfo=UTC).timestamp())


class TroubleTest(OneUnitCase):
    def setUp(self):
        super().setUp()
        stop_clock(self, NOW)

    def answer(self, *, htmx=False, **query):
        address = {"data": query} | ({"headers": {"HX-Request": "true"}} if htmx else {})
        return self.client.get(f"/units/{self.unit_pk}/trouble/", **address)

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
