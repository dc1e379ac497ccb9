"""What a person types, and the reverse job from entries to windows."""

import unittest
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import WEEKDAYS, Dates, Yearly, read_days
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.simulation.replay import replay
from skavit.core.simulation.reverse import as_found, windows_of
from skavit.core.tests.builders import clock_text, entry, make_plan
from skavit.core.text.typed import (
    clock_word,
    date_typed,
    dated_words,
    dates_typed,
    entry_line,
    month_day_word,
    slot_typed,
    weekday_of,
)
from skavit.core.text.wording import Words, days_text

TODAY = date(2027, 2, 16)


class SlotTest(unittest.TestCase):
    def test_the_number_before_an_entry(self):
        for text, number in (
            ("14 off 03:00", 14),
            ("3. on sunset", 3),
            ("on 18:00", None),
            ("c2 on 6:15", None),
            ("7", None),
        ):
            with self.subTest(text):
                self.assertEqual(slot_typed(text), number)


class EntryLineTest(unittest.TestCase):
    def read(self, text, channels=1):
        raw = entry_line(text, "line 1", channels, SunSettings()).to_json()
        return raw["channels"], raw["action"], raw["at"], raw["days"]

    def test_lines_as_people_key_them(self):
        for text, expected in [
            ("on sunset+10", ([1], "on", "sunset+10", "daily")),
            ("3 OFF 22:40 mo-fr", ([1], "off", "22:40", "weekdays")),
            ("4. on 6:15 am sa su", ([1], "on", "06:15", "weekends")),
            ("on 0615 every day", ([1], "on", "06:15", "daily")),
            ("off Sunrise - 20 fri-mon", ([1], "off", "sunrise-20", ["mon", "fri", "sat", "sun"])),
            ("on 11pm tuesday", ([1], "on", "23:00", ["tue"])),
        ]:
            with self.subTest(text):
                self.assertEqual(self.read(text), expected)
        self.assertEqual(self.read("c2 on 18:00", channels=2)[0], [2])
        self.assertEqual(self.read("c1+2 on 18:00", channels=2)[0], [1, 2])
        self.assertEqual(self.read("on 18:00", channels=2)[0], [1, 2])

    def test_what_is_none_is_refused_with_its_line(self):
        for text in ("", "on", "18:00 on", "on 25:00", "on 18:00 someday", "on sunset+800", "c3 on 18:00", "on noon"):
            with self.subTest(text), self.assertRaises(PlanError) as caught:
                entry_line(text, "line 7", 2, SunSettings())
            self.assertEqual(caught.exception.path, "line 7")


class DateTypedTest(unittest.TestCase):
    def test_dates_as_people_write_them(self):
        for text in ("2027-02-15", "15 Feb 2027", "15 february 27", "15. Feb", "15/Feb/2027", "15.2.2027", "15/02/27"):
            with self.subTest(text=text):
                self.assertEqual(date_typed(text, "date", TODAY), date(2027, 2, 15))
        for text in ("30 Feb", "Feb", "15 Foo 2027"):
            with self.subTest(text=text), self.assertRaises(PlanError):
                date_typed(text, "date", TODAY)

    def test_stretches_of_dates(self):
        ten = ["12-24", "12-25", "12-26", "12-27", "12-28", "12-29", "12-30", "12-31", "01-01", "01-02"]
        for text, dates in (
            ("24 Dec for 10 days", [{"from": "12-24", "days": 10}]),
            ("Dec 24 to 2 Jan, 6 Feb", [*ten, "02-06"]),
            ("27 Feb for 3 days", [{"from": "02-27", "days": 3}]),
            ("30 Dec 2026 for 3 days", [{"from": "2026-12-30", "days": 3}]),
            ("6.2.2027 to 7.2.2027, 25 Dec", ["2027-02-06", "2027-02-07", "12-25"]),
            ("24 Dec for 0 days", ["24 Dec for 0 days"]),
            ("24 Dec to noon", ["24 Dec to noon"]),
            ("7 Feb 2027 to 6 Feb 2027", ["7 Feb 2027 to 6 Feb 2027"]),
        ):
            with self.subTest(text):
                self.assertEqual(dates_typed(text), dates)

    @given(st.lists(st.integers(0, 365), min_size=1, max_size=60, unique=True))
    def test_dates_are_read_as_they_are_shown(self, days):
        dates = [date.fromordinal(date(2028, 1, 1).toordinal() + n) for n in days]
        rule = Dates(tuple(Yearly(d.month * 100 + d.day) for d in dates))
        self.assertEqual(dates_typed(days_text(rule)), [f"{d.month:02d}-{d.day:02d}" for d in dates])

    def test_a_rule_with_a_span_is_read_as_it_is_shown(self):
        rule = {"dates": ["02-06", {"from": "12-24", "days": 10}, {"from": "2027-03-01", "days": 2}, "2027-06-05"]}
        read = read_days(Node(rule))
        self.assertEqual(days_text(read), "6 Feb, 24 Dec for 10 days, 1 Mar 2027 for 2 days, 5 Jun 2027")
        self.assertEqual({"dates": dates_typed(days_text(read))}, rule)
        self.assertEqual(read.to_json(), rule)

    def test_weekdays(self):
        self.assertEqual([weekday_of(name) for name in WEEKDAYS], list(range(7)))
        self.assertEqual((weekday_of("Tuesday"), weekday_of("t"), weekday_of("moon")), (1, None, None))


class ClockWordTest(unittest.TestCase):
    def test_clock_times_as_people_type_them(self):
        for typed, word in (
            ("6:15 am", "06:15"),
            ("12am", "00:00"),
            ("12:05 p.m.", "12:05"),
            ("1130PM", "23:30"),
            ("6:15:30 pm", "18:15:30"),
            ("0615", "06:15"),
            ("6.15", "06:15"),
            ("22h40", "22:40"),
            (" 7:05 ", "07:05"),
            ("6", "06:00"),
            ("4.30pm", "16:30"),
            ("16.30", "16:30"),
            ("6:00:00", "06:00"),
            ("6:00:30", "06:00:30"),
        ):
            with self.subTest(typed):
                self.assertEqual(clock_word(typed), word)

    def test_what_is_none_stays_for_the_core_to_refuse(self):
        for typed in ("13:00 pm", "0 am", "6:75 am", "noon", "", "sunset+10"):
            with self.subTest(typed):
                self.assertEqual(clock_word(typed), typed)

    @given(st.integers(0, 1439))
    def test_every_minute_is_read_as_it_is_shown(self, minute):
        for words in (Words(), Words(twelve_hour=True)):
            self.assertEqual(clock_word(words.clock(minute * 60)), clock_text(minute))


class DayWordsTest(unittest.TestCase):
    def test_a_day_of_each_year(self):
        for typed, word in (("14 Nov", "11-14"), ("nov 14", "11-14"), ("3. march", "03-03"), ("11-14", "11-14")):
            with self.subTest(typed):
                self.assertEqual(month_day_word(typed), word)
        for typed in ("14 Foo", "someday", ""):
            with self.subTest(typed):
                self.assertEqual(month_day_word(typed), typed)

    def test_a_list_of_dates(self):
        self.assertEqual(
            dated_words("25 Dec, 6 Feb 2027; 1 jan 28,, soon"), ["12-25", "2027-02-06", "2028-01-01", "soon"]
        )
        self.assertEqual(dated_words(" "), [])


class ReverseTest(unittest.TestCase):
    def windows(self, *entries):
        made = windows_of(make_plan([], list(entries)).unit.entries, 1)
        return [(w.to_json()["from"], w.to_json()["to"], w.to_json()["days"], w.ends_next_day) for w in made]

    def test_each_on_until_its_off(self):
        self.assertEqual(
            self.windows(entry("on", "sunset"), entry("off", "22:40"), entry("on", "05:20", "weekdays"), entry("off", "sunrise")),
            [("sunset", "22:40", "daily", False), ("05:20", "sunrise", "weekdays", False)],
        )  # fmt: skip
        self.assertEqual(
            self.windows(entry("on", "19:15", ["fri"]), entry("off", "00:50", ["sat"])),
            [("19:15", "00:50", ["fri"], True)],
        )

    def test_a_stray_off_of_one_day_makes_no_window(self):
        found = self.windows(entry("on", "sunset"), entry("off", "19:15", ["fri"]), entry("off", "22:40", "weekdays"))
        self.assertEqual(found, [("sunset", "22:40", "daily", False)])

    def test_an_on_without_off_makes_none(self):
        self.assertEqual(self.windows(entry("on", "18:00")), [])

    def test_simple_entries_do_just_what_their_windows_say(self):
        plan = make_plan(
            [], [entry("on", "18:00"), entry("off", "23:15"), entry("on", "05:00", "weekends"), entry("off", "06:00")]
        )
        channel = replay(as_found(plan, plan.unit.entries), date(2027, 1, 1), date(2027, 12, 31)).channels[0]
        self.assertGreater(channel.wanted.total_s, 0)
        self.assertEqual((channel.extra_h, channel.missing_h), (0, 0))
