"""The way of a datum: what one request parses, hashes, replays and audits, counted."""

from skavit.units import computing
from skavit.units.tests.counting import counted
from skavit.units.tests.test_units import ENTRY, WINDOW, UnitCase

ONCE = {"parses": 1, "hashes": 1, "replays": 1, "audits": 1}


class WayTest(UnitCase):
    def counts(self, call):
        computing.KEPT.clear()
        with counted() as seen:
            answer = call()
        self.assertEqual(answer.status_code, 200)
        return {name: seen[name] for name in ONCE}

    def test_an_edit_is_one_of_each(self):
        for name, place, data in (
            ("row", ("window-1-new",), WINDOW),
            ("row", ("entry-new",), ENTRY),
            ("row", ("entry-0",), ENTRY | {"action": "on"}),
        ):
            with self.subTest(name=name, place=place):
                revision = self.unit.head.number
                self.assertEqual(self.counts(lambda: self.post(name, *place, revision=revision, **data)), ONCE)  # noqa: B023

    def test_a_page_whose_year_is_not_at_hand_is_one_of_each(self):
        self.assertEqual(self.counts(self.page), ONCE)

    def test_a_page_whose_year_is_at_hand_replays_nothing(self):
        self.page()
        with counted() as seen:
            self.page()
        self.assertEqual((seen["replays"], seen["audits"], seen["trials"]), (0, 0, 0))
        self.assertLessEqual(seen["parses"], 1)
