"""Where a unit takes its sun from: each source and correction against sun times that are worked out another way."""

import unittest
from datetime import UTC, date, datetime, timedelta

import ephem
import numpy as np

from skavit.core.findings import audit
from skavit.core.fitting import fit
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import read_plan
from skavit.core.plan.times import ClockTime, day_number
from skavit.core.simulation.replay import replay
from skavit.core.sun.days import SunEvent, sun_days
from skavit.core.tests.builders import BAY, document, entry, make_plan, window

SPAN = (date(2027, 2, 1), date(2027, 2, 28))
EVENING = [entry("on", "sunset"), entry("off", "23:30")]
NORTH = {"name": "Pier", "latitude": 69.6, "longitude": 18.9, "timezone": "Europe/Oslo"}


def switched_on(sun, entries=EVENING, *, span=SPAN, channels=None, **more):
    """The instants at which the first channel goes on."""
    plan = (
        make_plan([], entries, sun=sun, **more)
        if channels is None
        else make_plan(channels=channels, entries=entries, sun=sun, **more)
    )
    return replay(plan, *span).channels[0].actual.on


def sunsets(latitude, longitude, offset_h=12, span=SPAN):
    days = np.arange(day_number(span[0]), day_number(span[1]) + 1)
    return sun_days(latitude, longitude, days, offset_h * 3600).times[SunEvent.SUNSET]


class SourcesTest(unittest.TestCase):
    def test_coordinates_typed_wrong_give_that_places_sun(self):
        sun = {"source": "coordinates", "latitude": -36.85, "longitude": 174.76}
        self.assertEqual(switched_on(sun).tolist(), sunsets(-36.85, 174.76).tolist())

    def test_a_zone_tables_meridian_goes_by_each_dates_own_year(self):
        # Kazakhstan went from UTC+6 to UTC+5 on 1 March 2024 (IANA tzdata, Asia/Almaty).
        almaty = {"name": "Almaty", "latitude": 43.24, "longitude": 76.9, "timezone": "Asia/Almaty"}
        plan = make_plan([], [entry("on", "sunset"), entry("off", "23:00")], site=almaty,
                         sun={"source": "table", "latitude": 44})  # fmt: skip
        first = date(2023, 12, 1)
        short, long = (
            replay(plan, first, last).channels[0].actual.on for last in (date(2023, 12, 31), date(2024, 6, 30))
        )
        self.assertEqual(long[: short.size].tolist(), short.tolist())

    def test_a_zone_table_stands_at_the_zones_own_meridian(self):
        # UTC+12 x 15 degrees: the date line itself, three degrees east of Hawke's Bay, some twelve minutes early.
        found = switched_on({"source": "table", "latitude": -39.49})
        self.assertEqual(found.tolist(), sunsets(-39.49, 180.0).tolist())
        early = (sunsets(BAY["latitude"], BAY["longitude"]) - found).mean() / 60
        self.assertAlmostEqual(early, (180 - 176.91) * 4, delta=0.1)

    def test_corrections_shift_dusk_with_sunset_and_dawn_with_sunrise(self):
        for event, key, other in [("sunset", "sunset_min", "sunrise_min"), ("dusk", "sunset_min", "sunrise_min"),
                                  ("sunrise", "sunrise_min", "sunset_min"), ("dawn", "sunrise_min", "sunset_min")]:  # fmt: skip
            with self.subTest(event=event, key=key, other=other):
                rows = [entry("on", event), entry("off", "12:00"), entry("off", "23:59")]
                plain = switched_on({"source": "site"}, rows)
                self.assertEqual(
                    (switched_on({"source": "site", "adjust": {key: 21}}, rows) - plain).tolist(), [1260] * 28
                )
                self.assertEqual(switched_on({"source": "site", "adjust": {other: 21}}, rows).tolist(), plain.tolist())

    def test_a_channels_own_correction_replaces_the_units(self):
        raw = document(channels=[[], []], entries=[entry("on", "sunset", channels=[1, 2]), entry("off", "23:30", channels=[1, 2])],
                       sun={"source": "site", "adjust": {"sunset_min": 10}})  # fmt: skip
        raw["channels"][1]["adjust"] = {"sunset_min": -5}
        plan = read_plan(Node(raw))
        one, two = (channel.actual.on for channel in replay(plan, *SPAN).channels)
        self.assertEqual((one - two).tolist(), [900] * 28)
        self.assertEqual(read_plan(Node(plan.to_json())), plan)
        self.assertEqual({int(s) for s in replay(plan, *SPAN).events.slot}, {0, 1})

    def test_the_wrong_zone_makes_its_sun_late_by_the_difference(self):
        found = switched_on({"source": "site", "utc_offset_min": 600})
        self.assertEqual((found - sunsets(BAY["latitude"], BAY["longitude"])).tolist(), [-7200] * 28)

    def test_a_photocell_follows_the_altitude_whatever_its_clock_shows(self):
        sun = {"source": "photocell", "altitude_deg": -3.0, "delay_min": 4}
        # PyEphem (libastro): the setting of the sun's centre through -3 degrees, without refraction.
        place = ephem.Observer()
        place.lat, place.lon, place.pressure, place.horizon = str(BAY["latitude"]), str(BAY["longitude"]), 0, "-3"
        for clock in ({}, {"error_s": 3600}, {"dst": "us"}):
            with self.subTest(clock=clock):
                found = switched_on(sun, [entry("on", "sunset"), entry("off", "sunrise")], clock=clock)
                for moment in found[1::9]:  # the first is the night that the range begins in
                    place.date = datetime.fromtimestamp(int(moment), UTC).replace(tzinfo=None) - timedelta(hours=3)
                    setting = (
                        place.next_setting(ephem.Sun(), use_center=True).datetime().replace(tzinfo=UTC).timestamp()
                    )
                    self.assertAlmostEqual(float(moment) - 240, setting, delta=6)

    def test_a_photocell_keeps_its_days_and_holidays_by_true_dates(self):
        sun = {"source": "photocell", "altitude_deg": -3.0, "delay_min": 0}
        rows = [entry("on", "sunset", ["mon"]), entry("off", "sunrise")]
        found = switched_on(sun, rows, clock={"error_s": 86400}, holidays=[{"from": "2027-02-08", "days": 1}])
        local = [datetime.fromtimestamp(int(t) + 13 * 3600, UTC) for t in found]
        self.assertEqual([(t.month, t.day) for t in local], [(2, 1), (2, 15), (2, 22)])

    def test_an_event_that_cannot_be_placed_is_skipped_or_falls_on_the_limit(self):
        span = (date(2027, 6, 1), date(2027, 6, 30))
        rows = [entry("on", "sunset+10"), entry("off", "12:00")]
        self.assertEqual(len(switched_on({"source": "site"}, rows, span=span, site=NORTH)), 30)
        self.assertEqual(len(switched_on({"source": "site", "when_no_sun": "skip"}, rows, span=span, site=NORTH)), 0)


class RefusalsTest(unittest.TestCase):
    def test_what_light_switches_has_no_offset_limit_or_correction(self):
        sun = {"source": "photocell", "altitude_deg": -3.0, "delay_min": 4}
        for at in ("sunset+10", {"at": "sunset", "not_before": "18:00"}):
            with self.subTest(at=at):
                with self.assertRaises(PlanError) as caught:
                    make_plan([window("18:00", "22:00")], [entry("on", at)], sun=sun)
                self.assertEqual(caught.exception.path, "unit.entries[0].at")
        make_plan([window("sunset+10", "22:00")], [entry("on", {"at": "18:00", "not_before": "19:00"})], sun=sun)
        raw = document([], [], sun=sun)
        raw["channels"][0]["adjust"] = {"sunset_min": 1}
        with self.assertRaises(PlanError) as caught:
            read_plan(Node(raw))
        self.assertEqual(caught.exception.path, "channels[0].adjust")


class SunFindingsTest(unittest.TestCase):
    YEAR = (date(2027, 1, 1), date(2027, 12, 31))
    WANTED = (window("sunset", "23:00"),)
    KEYED = (entry("on", "sunset"), entry("off", "23:00"))

    def found(self, code, windows=WANTED, entries=KEYED, **more):
        return [f for f in audit(replay(make_plan(windows, entries, **more), *self.YEAR)) if f.code == code]

    def test_a_table_of_another_latitude_is_out_by_what_the_two_suns_differ(self):
        sun = {"source": "table", "latitude": -44}
        (finding,) = self.found("sun-differs", sun=sun)
        span = (date(2027, 1, 1), date(2027, 12, 31))
        away = (sunsets(-44, 180.0, span=span) - sunsets(BAY["latitude"], BAY["longitude"], span=span)) / 60
        self.assertIn(f"up to {np.abs(away).max():.0f} min", finding.headline)
        self.assertEqual(finding.days, int((np.abs(away) > 5).sum()))
        self.assertEqual((finding.channel, finding.slots), (None, ()))
        self.assertAlmostEqual(finding.hours, np.abs(away).sum() / 60, delta=3)
        self.assertEqual(self.found("extra", sun=sun), [])

    def test_a_place_nearby_is_a_note_and_no_fault_of_a_slot(self):
        sun = {"source": "coordinates", "latitude": BAY["latitude"], "longitude": BAY["longitude"] - 0.5}
        (near,) = self.found("sun-near", sun=sun)
        # Half a degree further west the sun sets two minutes later.
        self.assertEqual(near.headline, "The unit's sun is out by up to 2 min: within the 5 min that are usual")
        self.assertEqual(near.severity, "note")
        self.assertAlmostEqual(near.hours, 365 * 2 / 60, delta=0.2)
        self.assertEqual(self.found("missing", sun=sun), [])
        far = sun | {"longitude": BAY["longitude"] - 2}
        self.assertEqual((self.found("sun-near", sun=far), len(self.found("sun-differs", sun=far))), ([], 1))

    def test_a_small_correction_is_none_and_true_sun_is_none(self):
        for sun in (
            {"source": "site"},
            {"source": "site", "adjust": {"sunset_min": 5}},
            {"source": "site", "adjust": {}},
        ):
            with self.subTest(sun=sun):
                self.assertEqual(self.found("sun-differs", sun=sun), [])
        self.assertEqual(len(self.found("sun-differs", sun={"source": "site", "adjust": {"sunset_min": 6}})), 1)

    def test_am_for_pm_in_an_entry_or_in_a_pair_or_in_the_clock(self):
        evening = [window("18:00", "23:00")]
        for entries, labels in [
            ([entry("on", "18:00"), entry("off", "11:00")], {(2,): "Slot 2 at 23:00"}),
            (
                [entry("on", "06:00"), entry("off", "11:00")],
                dict.fromkeys([(1,), (2,)], "Slot 1 at 18:00; Slot 2 at 23:00"),
            ),
        ]:
            with self.subTest(entries=entries, labels=labels):
                found = self.found("half-day-slip", evening, entries)
                self.assertEqual({finding.slots: finding.remedy.label for finding in found}, labels)
                plan = make_plan(evening, entries)
                while found:  # each button in turn
                    plan = found[0].remedy.applied(plan)
                    found = [f for f in audit(replay(plan, *self.YEAR)) if f.code == "half-day-slip"]
                after = replay(plan, *self.YEAR)
                self.assertEqual(after.channels[0].actual, after.channels[0].wanted)
        (finding,) = self.found("half-day-slip", clock={"error_s": 43200})
        self.assertIsNone(finding.channel)
        self.assertEqual(
            self.found("half-day-slip", [window("18:00", "23:00")], [entry("on", "17:00"), entry("off", "23:00")]), []
        )

    def test_sunrise_keyed_for_sunset(self):
        (finding,) = self.found("sun-swapped", entries=[entry("on", "sunrise"), entry("off", "23:00")])
        self.assertEqual((finding.slots, finding.remedy.label), ((1,), "Slot 1 at sunset"))
        self.assertEqual(self.found("sun-swapped"), [])


class FitToTheSunTest(unittest.TestCase):
    def test_a_photocell_gets_sun_times_without_offsets_and_the_loss_is_said(self):
        sun = {"source": "photocell", "altitude_deg": -0.8333, "delay_min": 0}
        result = fit(make_plan([window("sunset+30", "23:00")], sun=sun), 2027)
        self.assertEqual([str(e.at) for e in result.plan.unit.entries][-1], "23:00")
        self.assertTrue(all(getattr(e.at, "offset_min", 0) == 0 for e in result.plan.unit.entries))
        self.assertTrue(result.losses)

    def test_offsets_go_into_the_correction_where_the_unit_has_no_other_place(self):
        windows = [window("sunset+10", "22:40"), window("05:20", "sunrise-15")]
        plan = make_plan(
            windows, limits={"offset_by": "correction"}, sun={"source": "site", "adjust": {"sunset_min": 3}}
        )
        result = fit(plan, 2027)
        self.assertEqual([str(e.at) for e in result.plan.unit.entries], ["sunset", "22:40", "05:20", "sunrise"])
        self.assertEqual(result.plan.channels[0].adjust.to_json(), {"sunrise_min": -15, "sunset_min": 10})
        self.assertEqual(result.losses, ())

    def test_two_offsets_of_one_half_are_bent_to_one(self):
        windows = [window("sunset+10", "22:40", "weekdays"), window("sunset+40", "22:40", "weekends")]
        result = fit(make_plan(windows, limits={"offset_by": "correction"}), 2027)
        self.assertEqual(result.plan.channels[0].adjust.sunset_min, 10)  # five days a week against two
        # Half an hour too early on Saturdays and Sundays.
        self.assertAlmostEqual(result.losses[0].hours_a_year, 104.5 * 0.5, delta=1)
        self.assertIn("one correction", result.losses[0].reason)

    def test_left_out_offset_by_leaves_the_correction_alone(self):
        plan = make_plan([window("sunset+10", "22:40")], sun={"source": "site", "adjust": {"sunset_min": 3}})
        result = fit(plan, 2027)
        self.assertIsNone(result.plan.channels[0].adjust)
        # The offset makes up for the correction that stands in the unit.
        self.assertEqual([str(entry.at) for entry in result.plan.unit.entries], ["sunset+7", "22:40"])
        self.assertEqual(result.losses, ())

    def test_a_unit_of_another_place_is_keyed_by_its_own_sun(self):
        windows = [window("sunset+10", "22:40"), window("05:50", "sunrise")]
        for sun in (
            {"source": "table", "latitude": -44},
            {"source": "coordinates", "latitude": -36.8, "longitude": 174.7},
            {"source": "coordinates", "latitude": -39.49, "longitude": 176.91, "utc_offset_min": 690},
        ):
            with self.subTest(sun):
                result = fit(make_plan(windows, sun=sun), 2027)
                proof = replay(result.plan, date(2027, 1, 1), date(2027, 12, 31)).channels[0]
                # A window of 17 to 115 minutes before sunrise, cut by a table some 20 minutes out, loses hours but
                # never burns through a day.
                self.assertLess(proof.extra_h + proof.missing_h, 260)
                self.assertLess(proof.extra.lengths.max(), 3 * 3600)

    def test_a_sun_event_that_the_unit_does_not_know_is_never_keyed(self):
        plan = make_plan([window("05:50", "sunrise")], limits={"sun_events": [], "day_groups": ["daily"]})
        self.assertFalse([e for e in fit(plan, 2027).plan.unit.entries if not isinstance(e.at, ClockTime)])
