"""The place that a unit of a kind can be told, and what changes with it."""

import math
import unittest
from dataclasses import replace
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from skavit.core.ground.strict_json import Node
from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.place import USUAL_PHOTOCELL, place_for, place_values, plan_for_kind, sun_pair, sun_shown
from skavit.core.plan.document import Site, read_plan
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.plan.times import day_number
from skavit.core.simulation.replay import replay
from skavit.core.sun.days import SunEvent
from skavit.core.tests.builders import BAY, document, entry, make_plan

KINDS = {kind.slug: kind for kind in shipped_kinds()}
COORDINATES = KINDS["panel-switch-one-channel-by-coordinates"]
REGION = KINDS["panel-switch-two-channels-by-region"]
TABLE = KINDS["panel-switch-two-channels-by-zone-table"]
MARGIN = KINDS["wall-switch-astronomic"]
PHOTOCELL = KINDS["low-voltage-transformer-with-photocell-and-timer"]
WEEKLY = KINDS["wall-switch-weekly"]
HARBOUR = Site(name="Harbour walk", latitude=-39.49, longitude=176.91, timezone="Pacific/Auckland")
latitudes, longitudes = st.floats(-60, 60), st.floats(-180, 180)


def away_km(a, b):
    """Great-circle distance: the haversine formula, with the mean radius of 6371 km."""
    (la, lo), (lb, lp) = (tuple(map(math.radians, place)) for place in (a, b))
    h = math.sin((lb - la) / 2) ** 2 + math.cos(la) * math.cos(lb) * math.sin((lp - lo) / 2) ** 2
    return 2 * 6371 * math.asin(math.sqrt(h))


class PlaceForTest(unittest.TestCase):
    def site(self, latitude, longitude):
        return replace(HARBOUR, latitude=latitude, longitude=longitude)

    @given(latitudes, longitudes)
    def test_coordinates_are_rounded_to_the_steps_of_the_kind(self, latitude, longitude):
        told = place_for(COORDINATES, self.site(latitude, longitude), SunSettings())
        self.assertEqual(told.source, "coordinates")
        for given_deg, said in ((latitude, told.latitude), (longitude, told.longitude)):
            self.assertLessEqual(abs(given_deg - said), COORDINATES.sun.step_deg / 2 + 1e-9)
            self.assertAlmostEqual(math.remainder(said, COORDINATES.sun.step_deg), 0)

    @given(latitudes)
    def test_of_a_table_the_nearest_latitude(self, latitude):
        told = place_for(TABLE, self.site(latitude, 0.0), SunSettings())
        self.assertEqual((told.source, told.longitude), ("table", None))
        self.assertEqual(abs(told.latitude - latitude), min(abs(row - latitude) for row in TABLE.sun.latitudes))

    def test_of_a_list_the_nearest_region(self):
        """By great-circle distances, for places between the regions and over the date line."""
        for place in ((-37.2, 175.0), (-39.49, 176.91), (-41.0, 174.0), (-45.9, 170.5), (-20.0, -175.0)):
            with self.subTest(place=place):
                told = place_for(REGION, self.site(*place), SunSettings())
                nearest = min(
                    REGION.sun.regions, key=lambda region: away_km((region.latitude, region.longitude), place)
                )
                self.assertEqual((told.latitude, told.longitude), (nearest.latitude, nearest.longitude))

    def test_what_was_said_already_counts_before_the_site(self):
        said = SunSettings(source="coordinates", latitude=-36.2, longitude=174.4)
        self.assertEqual(place_for(COORDINATES, HARBOUR, said).latitude, -36)

    def test_an_eye_for_light_has_no_place(self):
        self.assertEqual(place_for(PHOTOCELL, HARBOUR, SunSettings()), USUAL_PHOTOCELL)
        own = SunSettings(source="photocell", altitude_deg=-5.0, delay_min=3)
        self.assertEqual(place_for(PHOTOCELL, HARBOUR, own), own)

    def test_a_unit_without_sun_is_told_nothing(self):
        self.assertEqual(place_for(WEEKLY, HARBOUR, SunSettings()), SunSettings())


class PlaceValuesTest(unittest.TestCase):
    def test_what_is_keyed(self):
        for kind, expected in (
            (COORDINATES, {"latitude": "39 S", "longitude": "177 E", "utc": "+12:00"}),
            (REGION, {"region": "B"}),
            (TABLE, {"table": "40 S"}),
        ):
            with self.subTest(kind.slug):
                values, say = place_values(kind, HARBOUR, SunSettings(), 2027)
                self.assertEqual(values, expected)
                self.assertGreater(len(say), 20)


class PlanForKindTest(unittest.TestCase):
    def test_limits_mode_and_place_are_the_kinds_and_the_rest_stays(self):
        plan = make_plan([], [entry("on", "sunset"), entry("off", "22:40")])
        made = plan_for_kind(plan, TABLE)
        self.assertEqual(made.unit.limits, TABLE.plan_limits)
        self.assertEqual(made.unit.on_return_to_auto, TABLE.modes.returns)
        self.assertEqual(made.unit.sun.latitude, -40)
        self.assertEqual((made.unit.entries, made.channels, made.site), (plan.unit.entries, plan.channels, plan.site))

    def test_a_correction_goes_with_its_table(self):
        raw = document([], [entry("on", "sunset")], sun={"adjust": {"sunset_min": 7}})
        raw["channels"][0]["adjust"] = {"sunset_min": 4}
        plan = read_plan(Node(raw))
        made = plan_for_kind(plan, TABLE)
        self.assertEqual((made.unit.sun.adjust, made.channels[0].adjust), (None, None))
        self.assertEqual(plan_for_kind(made, TABLE), made)
        kept = plan_for_kind(plan, WEEKLY)
        self.assertEqual(
            (kept.unit.sun.adjust, kept.channels[0].adjust), (plan.unit.sun.adjust, plan.channels[0].adjust)
        )


class SunShownTest(unittest.TestCase):
    def test_a_margin_lies_outside_the_suns_day(self):
        day = day_number(date(2027, 2, 16))
        clock = replay(make_plan(), date(2027, 2, 16), date(2027, 2, 16)).unit_clock
        plain = sun_shown(None, HARBOUR, place_for(MARGIN, HARBOUR, SunSettings()), clock, day)
        shown = sun_shown(MARGIN, HARBOUR, SunSettings(), clock, day)
        self.assertEqual([shown[0] - plain[0], shown[1] - plain[1]], [-900, 900])
        self.assertEqual(sun_pair(None), (SunEvent.SUNRISE, SunEvent.SUNSET))

    def test_where_the_sun_does_not_rise_nothing_is_shown(self):
        fjord = Site(name="Fjord pier", latitude=69.65, longitude=18.96, timezone="Europe/Oslo")
        clock = replay(
            make_plan(site=BAY | {"timezone": "Europe/Oslo"}), date(2027, 12, 21), date(2027, 12, 21)
        ).unit_clock
        self.assertEqual(sun_shown(None, fjord, SunSettings(), clock, day_number(date(2027, 12, 21))), [None, None])
