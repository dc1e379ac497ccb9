"""The command line of water: what `replay`, `et0`, `season`, `audit` and `fit` print, and how they refuse."""

import json

from skavit.core.tests.builders import BAY
from skavit.core.tests.commanding import CommandTest
from skavit.core.tests.test_fit_water import CLIMATE, LIMITS
from skavit.core.tests.test_soil import station
from skavit.core.tests.test_stack import program, watering

WEATHER = "date,tmin_c,tmax_c,et0_mm\n2027-01-01,12,24,5\n2027-01-02,12,24,5\n"


class WaterCommandTest(CommandTest):
    def plan(self, programs=(), **more):
        plan = watering(list(programs), site=BAY, stations=[station()], climate=CLIMATE, limits=LIMITS, **more)
        return self.file("plan.json", json.dumps(plan.to_json()))

    def test_replay(self):
        found = self.prints(
            "replay", self.plan([program(["04:00"], [(1, 20)])]), "--from", "2027-01-01", "--to", "2027-01-01"
        )
        self.assertEqual(found["channels"], [])
        (lawn,) = found["stations"]
        self.assertEqual(lawn["runs"], [["2027-01-01T04:00:00+13:00", "2027-01-01T04:20:00+13:00"]])
        self.assertEqual(lawn["litres"], 760.0)
        self.assertEqual(found["master_valve"], lawn["runs"])

    def test_et0_and_season(self):
        weather = self.file("weather.csv", WEATHER)
        found = self.prints("et0", "--weather", weather, "--latitude", "-39.6", "--altitude", "30")
        self.assertEqual(found["days"][0], {"date": "2027-01-01", "et0_mm": 5.0, "method": "given"})
        (lawn,) = self.prints("season", self.plan([program(["04:00"], [(1, 20)])]), "--weather", weather)["stations"]
        self.assertEqual((lawn["name"], lawn["dry_days"], len(lawn["depletion_mm"])), ("Lawn", 0, 2))

    def test_fit_keys_programs_and_audit_finds_nothing(self):
        found = self.prints("fit", self.plan())
        self.assertEqual(found["fit"], [])
        fitted = self.file("fitted.json", json.dumps(found["plan"]))
        self.assertEqual(self.prints("audit", fitted, "--from", "2027-01-01", "--to", "2027-12-31"), {"findings": []})

    def test_what_a_fit_cannot_hold_names_its_station(self):
        never = [{"from": "20:00", "to": "20:01"}]
        (first, *_) = self.prints("fit", self.plan(allowed=never))["fit"]
        self.assertEqual((first["channel"], first["station"]), (None, None))

    def test_refusals(self):
        weather = self.file("weather.csv", WEATHER + "2027-01-04,12,24,5\n")
        self.assertIn("line 4: date", self.refuses("et0", "--weather", weather, "--latitude", "-39.6"))
        good = self.file("good.csv", WEATHER)
        self.assertIn("--latitude", self.refuses("et0", "--weather", good, "--latitude", "95"))
        self.assertIn("--altitude", self.refuses("et0", "--weather", good, "--latitude", "9", "--altitude", "high"))
        bare = self.file("bare.json", json.dumps({"format": "skavit-plan/1", "site": BAY, "channels": [{"name": "A"}]}))
        self.assertIn("water: is missing", self.refuses("season", bare, "--weather", good))
        self.assertIn("readable weather file", self.refuses("et0", "--weather", "/nowhere", "--latitude", "9"))
