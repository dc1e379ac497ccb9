"""The plan file: what is refused and where, what is read back as it was, and that the schema agrees."""

import copy
import json
import unittest
from pathlib import Path

import jsonschema
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.formats.schema import kind_schema, plan_schema
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import parse_plan, read_plan
from skavit.core.tests import builders, schemas
from skavit.core.tests.builders import document, entry, window
from skavit.core.text.coordinates import parse_degrees

GOOD = document(
    [window("sunset+10", "22:40"), window("05:20", "sunrise", "weekdays", id="w1")],
    [entry("on", "sunset+10"), entry("off", "22:40")],
    clock={"dst": "zone"},
    sun={"source": "site"},
    limits={"entries": 16, "day_groups": ["daily", ["mon", "wed"]], "sun_events": ["sunrise"], "actions": ["on"]},
    holidays=[{"from": "12-24", "days": 10}],
    on_return_to_auto="computes",
)

W, E = ("channels", 0, "windows", 1), ("unit", "entries", 1)
# (where, what is put there, the path that the error names)
BAD = [
    ((), {"formt": 1}, "formt"),
    (("format",), "skavit-plan/2", "format"),
    (("site", "latitude"), 91, "site.latitude"),
    (("site", "latitude"), True, "site.latitude"),
    (("site", "latitude"), "12", "site.latitude"),
    (("site", "longitude"), -181, "site.longitude"),
    (("site", "timezone"), "../../etc/passwd", "site.timezone"),
    (("site", "timezone"), "Pacific/Nowhere", "site.timezone"),
    (("site", "name"), "", "site.name"),
    ((*W, "from"), "25:00", "channels[0].windows[1].from"),
    ((*W, "from"), "24:00", "channels[0].windows[1].from"),
    ((*W, "from"), "6:40", "channels[0].windows[1].from"),
    ((*W, "from"), "sunset+721", "channels[0].windows[1].from"),
    ((*W, "from"), "sunset+1.5", "channels[0].windows[1].from"),
    ((*W, "from"), "Sunset", "channels[0].windows[1].from"),
    ((*W, "from"), 640, "channels[0].windows[1].from"),
    ((*W, "from"), {"at": "sunset", "not_before": "24:00"}, "channels[0].windows[1].from.not_before"),
    ((*W, "from"), {"at": "sunset", "not_before": "19:00", "not_after": "18:00"}, "channels[0].windows[1].from"),
    ((*W, "from"), {"not_before": "19:00"}, "channels[0].windows[1].from.at"),
    ((*W, "to"), "24:00:00", "channels[0].windows[1].to"),
    ((*W, "for_min"), 10, "channels[0].windows[1].for_min"),
    ((*W, "ends"), "tomorrow", "channels[0].windows[1].ends"),
    ((*W, "repeat"), {"on_s": 240, "every_s": 240}, "channels[0].windows[1].repeat.on_s"),
    ((*W, "days"), ["mon", "wensday"], "channels[0].windows[1].days[1]"),
    ((*W, "days"), ["mon", "mon"], "channels[0].windows[1].days[1]"),
    ((*W, "days"), [], "channels[0].windows[1].days"),
    ((*W, "days"), {"parity": "both"}, "channels[0].windows[1].days.parity"),
    ((*W, "days"), {"every": 0, "from": "2027-01-01"}, "channels[0].windows[1].days.every"),
    ((*W, "days"), {"every": 2}, "channels[0].windows[1].days.from"),
    ((*W, "days"), {"dates": ["02-30"]}, "channels[0].windows[1].days.dates[0]"),
    ((*W, "days"), {"dates": ["2027-02-29"]}, "channels[0].windows[1].days.dates[0]"),
    ((*W, "days"), {"days": "daily", "between": ["01-01"]}, "channels[0].windows[1].days.between"),
    ((*W, "days"), {"days": "daily", "between": ["01-01", "13-01"]}, "channels[0].windows[1].days.between[1]"),
    ((*W, "days"), {"days": "daily", "except": ["sundays"]}, "channels[0].windows[1].days.except[0]"),
    ((*W, "days"), {"between": ["01-01", "02-01"]}, "channels[0].windows[1].days.days"),
    ((*E, "channels"), [1, 0], "unit.entries[1].channels[1]"),
    ((*E, "channels"), [2], "unit.entries[1].channels[0]"),
    ((*E, "channels"), [], "unit.entries[1].channels"),
    ((*E, "action"), "pulse", "unit.entries[1].seconds"),
    ((*E, "action"), "ON", "unit.entries[1].action"),
    ((*E, "seconds"), 5, "unit.entries[1].seconds"),
    ((*E, "at"), "24:00", "unit.entries[1].at"),
    ((*E, "id"), "w1", "channels[0].windows[1].id"),
    (("unit", "clock", "dst"), "mars", "unit.clock.dst"),
    (("unit", "clock", "error_s"), float("inf"), "unit.clock.error_s"),
    (("unit", "clock", "fast_s_per_day"), 2, "unit.clock.set_on"),
    (("unit", "clock", "set_on"), "2027-01-01T10:00Z", "unit.clock.set_on"),
    (("unit", "clock", "set_on"), "2027-02-30T10:00", "unit.clock.set_on"),
    (("unit", "clock"), {"dst": {"changes": []}, "error_s": 1}, "unit.clock.error_s"),
    (("unit", "clock"), {"dst": {"from": {}, "to": {}, "shift_min": 60}}, "unit.clock.dst.from.month"),
    (("unit", "sun", "source"), "moon", "unit.sun.source"),
    (("unit", "sun"), {"source": "table"}, "unit.sun.latitude"),
    (("unit", "sun"), {"source": "coordinates", "latitude": 1}, "unit.sun.longitude"),
    (("unit", "sun"), {"source": "photocell", "altitude_deg": -3}, "unit.sun.delay_min"),
    (("unit", "sun"), {"source": "table", "latitude": 91}, "unit.sun.latitude"),
    (("unit", "sun"), {"source": "table", "latitude": 1, "utc_offset_min": 60}, "unit.sun.utc_offset_min"),
    (("unit", "sun"), {"source": "site", "latitude": 1}, "unit.sun.latitude"),
    (("unit", "sun"), {"source": "site", "moon": 1}, "unit.sun.moon"),
    (("unit", "sun"), {"source": "site", "adjust": {"sunset_min": 1.5}}, "unit.sun.adjust.sunset_min"),
    (("unit", "sun"), {"source": "site", "when_no_sun": "wait"}, "unit.sun.when_no_sun"),
    (("unit", "sun"), {"source": "none"}, "unit.entries[0].at"),
    (("unit", "sun"), {"source": "photocell", "altitude_deg": -3, "delay_min": 4}, "unit.entries[0].at"),
    (("channels", 0, "adjust"), {"dawn_min": 3}, "channels[0].adjust.dawn_min"),
    (("unit", "channel_mode"), "apart", "unit.channel_mode"),
    (("unit", "reserve_h"), -1, "unit.reserve_h"),
    (("unit", "pulse_s"), 0, "unit.pulse_s"),
    (("unit", "operating"), "light and dark", "unit.operating"),
    (("unit", "keyings"), [{"from": "13-01", "entries": []}], "unit.keyings[0].from"),
    (("unit", "keyings"), [{"from": "12-01"}], "unit.keyings[0].entries"),
    (("unit", "limits", "slots"), [{"count": 3}], "unit.limits.slots[0].shape"),
    (("unit", "limits", "slots"), [{"shape": "on", "off_days": "same"}], "unit.limits.slots[0].off_days"),
    (("unit", "limits", "slots"), [{"shape": "pair", "times": ["moon"]}], "unit.limits.slots[0].times[0]"),
    (("unit", "holidays", 0, "days"), 367, "unit.holidays[0].days"),
    (("unit", "on_return_to_auto"), "maybe", "unit.on_return_to_auto"),
    (("unit", "limits", "slots"), [], "unit.limits.slots"),
    (("unit", "limits", "offset_by"), "hand", "unit.limits.offset_by"),
    (("unit", "limits", "entries"), -1, "unit.limits.entries"),
    (("unit", "limits", "day_groups", 0), "sundays", "unit.limits.day_groups[0]"),
    (("unit", "limits", "sun_events", 0), "noon", "unit.limits.sun_events[0]"),
    (("unit", "limits", "limited_times"), 1, "unit.limits.limited_times"),
    (("channels",), [], "channels"),
    (("heat",), {}, "heat.zones"),
    (("heat",), {"zones": []}, "heat.zones"),
    (("heat",), {"zones": [{"name": "Hall", "keyed": [{"at": "sunset", "c": 20}]}]}, "heat.zones[0].keyed[0].at"),
    (("heat",), {"zones": [{"name": "Hall", "wanted": [{"at": "07:00", "c": 61}]}]}, "heat.zones[0].wanted[0].c"),
    (("heat",), {"zones": [{"name": "Hall", "wanted": [{"at": "07:00", "c": True}]}]}, "heat.zones[0].wanted[0].c"),
    *(
        (("heat",), {"zones": [{"name": "Hall"}], "overrides": [{"at": "2027-06-11T19:05", "zone": 1, **more}]}, path)
        for more, path in (
            ({"set": {"c": 20}, "zone": 2}, "heat.overrides[0].zone"),
            ({"set": {"frost": False}}, "heat.overrides[0].set.frost"),
            ({"set": {"hold_min": 120}}, "heat.overrides[0].set.c"),
            ({"set": {"holiday_days": 7}}, "heat.overrides[0].set.from"),
            ({"set": {"holiday_days": 7, "from": "now"}}, "heat.overrides[0].set.from"),
            ({"set": {"holiday_until": "2027-07-14"}}, "heat.overrides[0].set.holiday_until"),
            ({"set": {"c": 20, "frost": True}}, "heat.overrides[0].set.frost"),
            ({"set": "off"}, "heat.overrides[0].set"),
        )
    ),
    (("overrides",), [{"at": "2027-02-30T07:00", "channel": 1, "set": "on"}], "overrides[0].at"),
    (("overrides",), [{"at": "2027-02-03T07:00", "channel": 1, "set": {"boost_h": 1}}], "overrides[0].set"),
]


def put(where, value):
    found = copy.deepcopy(GOOD)
    place = found
    for step in where[:-1]:
        place = place[step]
    if where:
        place[where[-1]] = value
    else:
        place.update(value)
    return found


class RefusalTest(unittest.TestCase):
    def test_good_plan_is_read(self):
        self.assertEqual(len(parse_plan(json.dumps(GOOD).encode()).channels[0].windows), 2)

    def test_each_wrong_value_is_refused_at_its_path(self):
        for where, value, path in BAD:
            with self.subTest(path, value=value), self.assertRaises(PlanError) as caught:
                read_plan(Node(put(where, value)))
            self.assertEqual(caught.exception.path, path)
            self.assertTrue(caught.exception.accepted)

    def test_missing_keys(self):
        for key in ("format", "site", "channels"):
            with self.subTest(key=key):
                with self.assertRaises(PlanError) as caught:
                    read_plan(Node({k: v for k, v in GOOD.items() if k != key}))
                self.assertEqual(caught.exception.path, key)

    def test_unsound_json(self):
        text = json.dumps(GOOD)
        for data, part in [
            (text.replace('"timezone"', '"timezone": "UTC", "timezone"', 1).encode(), "site.timezone"),
            (text.replace("-39.49", "NaN").encode(), "site.latitude"),
            (text.replace("-39.49", "1e999").encode(), "site.latitude"),
            (text.replace("-39.49", "9" * 5000).encode(), "site.latitude"),
            (text.replace("Harbour", "Harb\\u0000our").encode(), "site.name"),
            (text.replace("Harbour", "Harb\\ud800our").encode(), "site.name"),
            (text.encode("utf-16"), "UTF-8"),
            (text[:-1].encode(), "not JSON"),
            (b"[" * 100_000 + b"]" * 100_000, "nested deeper"),
            (b"[" * 40 + b"]" * 40, "nested deeper"),
            (b"[" + b"0," * 10_000 + b"0]", "10001 items"),
            (b" " * 16_000_001, "16 MB"),
            (b"[]", "no object"),
        ]:
            with self.subTest(part), self.assertRaises(PlanError) as caught:
                parse_plan(data)
            self.assertIn(part, str(caught.exception))

    def test_quoted_values_are_cut(self):
        with self.assertRaises(PlanError) as caught:
            read_plan(Node(put(("format",), "x" * 500)))
        self.assertLess(len(str(caught.exception)), 160)


windows = st.builds(builders.window, builders.times, st.one_of(builders.times, st.just("24:00")), builders.all_days)
entries = st.builds(builders.entry, st.sampled_from(["on", "off"]), builders.times, builders.all_days)


class RoundTripTest(unittest.TestCase):
    @settings(max_examples=60)
    @given(st.lists(windows, max_size=3), st.lists(entries, max_size=3))
    def test_a_plan_is_read_back_as_it_was_written_and_fits_its_schema(self, wanted, keyed):
        raw = document(wanted, keyed)
        schemas.PLAN.validate(raw)
        plan = read_plan(Node(raw))
        again = read_plan(Node(json.loads(json.dumps(plan.to_json()))))
        self.assertEqual(again, plan)
        self.assertEqual(again.content_hash(), plan.content_hash())
        schemas.PLAN.validate(plan.to_json())

    def test_the_schema_in_the_docs_is_the_codes(self):
        docs = Path(__file__).parents[3] / "docs"
        for name, schema in (("plan-schema.json", plan_schema()), ("kind-schema.json", kind_schema())):
            with self.subTest(name=name, schema=schema):
                self.assertEqual(json.loads((docs / name).read_text()), schema, name)

    def test_schema_refuses_what_the_reader_refuses_by_shape(self):
        for path in (("site", "latitude"), (*W, "days"), (*E, "action"), ("unit", "clock", "dst"), ("format",)):
            with self.subTest(path), self.assertRaises(jsonschema.ValidationError):
                schemas.PLAN.validate(put(path, "nonsense"))

    def test_the_schemas_are_schemas(self):
        for validator in (schemas.PLAN, schemas.KIND):
            validator.check_schema(validator.schema)


class CoordinatesTest(unittest.TestCase):
    def test_forms_that_people_type(self):
        for text, axis, expected in [
            ("-39.4902", "latitude", -39.4902),
            ("39.4902 S", "latitude", -39.4902),
            ("39°29'25\"S", "latitude", -39.490278),
            ("S 39 29 25", "latitude", -39.490278),
            ("39 29 25 S", "latitude", -39.490278),  # the S is the south, not a second
            ("39 29 25 s", "latitude", -39.490278),
            ("39 29 25", "latitude", 39.490278),
            ("39° 29.4′ S", "latitude", -39.49),
            ("176,918", "longitude", 176.918),
            ("176°55'05″E", "longitude", 176.918056),
            ("18.9", "longitude", 18.9),
        ]:
            with self.subTest(text=text, axis=axis, expected=expected):
                self.assertAlmostEqual(parse_degrees(text, axis), expected, 5, text)

    def test_forms_that_are_refused(self):
        for text, axis in [("", "latitude"), ("91", "latitude"), ("39 E", "latitude"), ("-39 S", "latitude"),
                           ("39 61 0 S", "latitude"), ("north", "latitude"), ("181", "longitude"),
                           ("S 39 S", "latitude")]:  # fmt: skip
            with self.subTest(text), self.assertRaises(PlanError):
                parse_degrees(text, axis)
