"""Kinds, sheets and what is played back, on the command line."""

import json
from dataclasses import replace

from skavit.core.kinds import shipped_kinds
from skavit.core.kinds.soundness import lacks
from skavit.core.tests.commanding import CommandTest

KINDS = {kind.slug: kind for kind in shipped_kinds()}
AT = "2026-12-02T10:00"
TWO = "panel-switch-two-channels-by-coordinates"


def plan(entries, channels=2, **unit):
    return {
        "format": "skavit-plan/1",
        "site": {"name": "Bay", "latitude": -39.49, "longitude": 176.91, "timezone": "Pacific/Auckland"},
        "channels": [{"name": f"Output {n + 1}", "windows": []} for n in range(channels)],
        "unit": {"entries": entries, **unit},
    }


def entry(action, at, channel=1, days="daily"):
    return {"action": action, "at": at, "channels": [channel], "days": days}


class SheetCommandTest(CommandTest):
    def sheet(self, document, kind, *more):
        found = self.prints("sheet", self.file("p.json", json.dumps(document)), "--kind", kind, "--at", AT, *more)
        return found, self.file("s.json", json.dumps(found))

    def test_the_kinds_that_ship(self):
        slugs = self.prints("kinds")
        self.assertEqual(slugs, list(KINDS))
        self.assertEqual(self.prints("kind", TWO), KINDS[TWO].to_json())
        self.assertIn("those that kinds prints", self.refuses("kind", "none-such"))
        self.assertIn("slug of a kind", self.refuses("play", "none-such", "--sheet", "x"))

    def test_a_slot_an_offset_and_a_holiday_are_changed_from_the_normal_display(self):
        kind = "yearly-relay-timer"
        old = plan([entry("on", "06:00"), entry("off", "07:00"), entry("on", "18:00", 2), entry("off", "22:00", 2)],
                   holidays=[{"from": "12-25", "days": 2}, {"from": "01-01", "days": 2}])  # fmt: skip
        new = plan([entry("on", "06:00"), entry("off", "07:30"), entry("on", "18:00", 2)],
                   holidays=[{"from": "12-24", "days": 10}])  # fmt: skip
        whole, keys = self.sheet(old, kind)
        self.assertEqual(whole["cannot"], [])
        held = self.prints("play", kind, "--sheet", keys)
        self.assertEqual((held["display"], held["entries"], held["holidays"]),
                         ("normal", old["unit"]["entries"], old["unit"]["holidays"]))  # fmt: skip
        before = self.file("held.json", json.dumps(held))
        changes, keys = self.sheet(new, kind, "--before", self.file("old.json", json.dumps(old)))
        titles = [step["title"] for step in changes["steps"]]
        self.assertNotIn("Slot 1", titles)
        slot = next(step for step in changes["steps"] if step["title"] == "Slot 2")
        self.assertEqual(slot["keys"][:4], ["menu", "down x3", "ok", "next"])
        held = self.prints("play", kind, "--sheet", keys, "--from", before)
        self.assertEqual((held["display"], held["entries"], held["holidays"]),
                         ("normal", new["unit"]["entries"], new["unit"]["holidays"]))  # fmt: skip

    def test_an_offset_that_changes(self):
        old = plan(
            [entry("on", "sunset+10"), entry("off", "22:00"), entry("on", "sunset", 2), entry("off", "23:00", 2)]
        )
        new = plan(
            [entry("on", "sunset-25"), entry("off", "22:00"), entry("on", "sunset", 2), entry("off", "23:00", 2)]
        )
        _, keys = self.sheet(old, TWO)
        held = self.prints("play", TWO, "--sheet", keys)
        self.assertEqual(held["place"], {"latitude": -39.0, "longitude": 177.0, "utc_offset_min": 720})
        changes, keys = self.sheet(new, TWO, "--before", self.file("old.json", json.dumps(old)))
        slots = [step["title"] for step in changes["steps"] if step["title"].startswith("Slot")]
        self.assertEqual(slots, ["Slot 1"])
        held = self.prints("play", TWO, "--sheet", keys, "--from", self.file("h.json", json.dumps(held)))
        self.assertEqual((held["display"], held["entries"]), ("normal", new["unit"]["entries"]))

    def test_a_fit_within_a_kind_is_what_the_unit_then_holds(self):
        document = plan([])
        document["channels"][0]["windows"] = [{"from": "sunset+15", "to": "22:30"}]
        document["channels"][1]["windows"] = [{"from": "06:00", "to": "08:00", "days": "weekdays"}]
        for slug in (TWO, "panel-switch-two-channels-by-region", "heating-programmer-two-channels"):
            with self.subTest(slug):
                fitted = self.prints("fit", self.file("w.json", json.dumps(document)), "--kind", slug)["plan"]
                sheet, keys = self.sheet(fitted, slug)
                self.assertEqual(sheet["cannot"], [])
                self.assertEqual(self.prints("play", slug, "--sheet", keys)["entries"], fitted["unit"]["entries"])

    def test_a_kind_that_never_chooses_its_second_output_says_so(self):
        kind = KINDS["panel-switch-one-channel-by-coordinates"]
        copied = self.file("kind.json", json.dumps(replace(kind, channels=2).to_json()))
        sheet, keys = self.sheet(plan([entry("on", "sunset"), entry("off", "22:00", 2)]), copied)
        self.assertEqual([line.partition(":")[0] for line in sheet["cannot"]], ["Slot 1", "Slot 2"])
        self.assertIn("Its keys are not known here: they do not say which output it switches",
                      next(step["says"] for step in sheet["steps"] if step["title"] == "Slot 2"))  # fmt: skip
        self.assertEqual(self.prints("play", copied, "--sheet", keys)["display"], "normal")

    def test_a_place_by_region_whose_keys_ask_for_latitude(self):
        kind = KINDS["panel-switch-one-channel-by-coordinates"]
        regions = KINDS["panel-switch-two-channels-by-region"].sun.regions
        changed = replace(kind, sun=replace(kind.sun, place="region", regions=regions))
        self.assertEqual(lacks(changed), ("The keys do not say how the region is chosen",))
        document = plan([entry("on", "sunset"), entry("off", "22:00")], channels=1)
        sheet, _ = self.sheet(document, self.file("kind.json", json.dumps(changed.to_json())))
        self.assertEqual(sheet["cannot"], ["Place: they do not say the region"])

    def test_another_countrys_rule_is_never_keyed(self):
        """New Zealand: from the last Sunday of September to the first of April (Time (Daylight) Order 2007)."""
        entries = [entry("on", "06:00"), entry("off", "07:00")]
        document = plan(entries, channels=1, clock={"dst": "eu"})
        sheet, keys = self.sheet(document, "panel-switch-one-channel-by-coordinates")
        held = self.prints("play", "panel-switch-one-channel-by-coordinates", "--sheet", keys)
        self.assertEqual(held["dst"], {"from": {"month": 9, "week": 5, "weekday": "sun"},
                                       "to": {"month": 4, "week": 1, "weekday": "sun"}})  # fmt: skip
        self.assertEqual(held["clock"], {"time": "10:00", "date": "2026-12-02"})
        sheet, keys = self.sheet(document, "wall-switch-by-region")
        self.assertEqual(self.prints("play", "wall-switch-by-region", "--sheet", keys)["dst"], "none")
        says = next(step["says"] for step in sheet["steps"] if step["title"] == "Daylight saving")
        self.assertIn("Move it by hand: on Sun 4 Apr 2027", says)
        self.assertIn("on Sun 26 Sep 2027", says)

    def test_what_is_disabled_has_no_keys(self):
        document = plan([entry("on", "06:00"), entry("off", "07:00") | {"disabled": True}])
        sheet, keys = self.sheet(document, "yearly-relay-timer")
        self.assertIn("disabled", sheet["cannot"][0])
        self.assertEqual(self.prints("play", "yearly-relay-timer", "--sheet", keys)["display"], "normal")

    def test_refused_in_one_line(self):
        switching = self.file("p.json", json.dumps(plan([])))
        self.assertIn("accepted: a plan for a kind that waters",
                      self.refuses("sheet", switching, "--kind", "battery-valve-that-waters", "--at", AT))  # fmt: skip
        wrong = self.file("s.json", json.dumps({"steps": [{"title": "x", "keys": ["dance"], "reads": [], "says": ""}]}))
        self.assertTrue(self.refuses("play", TWO, "--sheet", wrong).startswith("steps[0].keys[0]: "))
        _, keys = self.sheet(plan([]), TWO)
        self.assertIn("what play printed for the same kind",
                      self.refuses("play", TWO, "--sheet", keys, "--from", self.file("f.json", "[1]")))  # fmt: skip


class SoundTest(CommandTest):
    def test_every_kind_that_ships_says_all_that_a_plan_can_ask(self):
        self.assertEqual(len(KINDS), 32)
        for kind in KINDS.values():
            self.assertEqual(lacks(kind), (), kind.name)

    def test_each_thing_that_its_keys_leave_out(self):
        region, yearly = KINDS["panel-switch-two-channels-by-region"], KINDS["yearly-relay-timer"]
        garden, zones = KINDS["garden-controller-eight-stations"], KINDS["zone-programmer-four-zones"]
        for kind, change, told in (
            (region, {"rule_dialogue": None}, "how a rule for daylight saving is chosen"),
            (region, {"correction_dialogue": None}, "the correction of sunrise, minutes"),
            (region, {"date_dialogue": None}, "the month of the date"),
            (yearly, {"holidays_dialogue": None}, "the dates of a holiday"),
            (yearly, {"channels_dialogue": None}, "how its channels switch"),
            (garden, {"months_dialogue": None}, "the month of a month's percentage"),
            (garden, {"runs_dialogue": None}, "the station of a run time"),
            (zones, {"points_dialogue": None}, "the zone of a period"),
        ):
            with self.subTest(told):
                self.assertIn(f"The keys do not say {told}", lacks(replace(kind, **change)))
