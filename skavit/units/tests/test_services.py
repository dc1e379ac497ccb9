"""Services: permission, history and concurrency hold whoever calls them; views of a unit as a query asks for them."""

import json
from datetime import UTC, datetime

from django.core.exceptions import PermissionDenied
from django.http import Http404
from django.test import TestCase
from django.urls import reverse

from skavit.core.plan import edits
from skavit.core.plan.edits import EditError
from skavit.core.plan.times import day_number
from skavit.core.simulation.handover import handover
from skavit.core.tests.builders import document, entry, make_plan, window
from skavit.core.text.wording import Words
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.sites.services import save_site
from skavit.switching.pages.unit.night import cursor_night, strip
from skavit.switching.pages.unit.rows import entry_rows, form_at
from skavit.units.computing import unit_year
from skavit.units.pages.numbered_findings import numbered_findings
from skavit.units.pages.unit.frame import unit_frame
from skavit.units.pages.view import chosen_view
from skavit.units.services import files, fitting, revisions, ticks, units
from skavit.units.services.remedies import apply_remedy
from skavit.web.errors import NameTaken

NOON = int(datetime(2027, 12, 6, 0, 0, tzinfo=UTC).timestamp())  # 13:00 daylight time in Hawke's Bay


class PermissionTest(TestCase):
    def test_a_viewer_changes_nothing_by_any_service(self):
        crew = make_crew()
        unit, viewer = make_unit(crew), member(crew, "viewer")
        place = {"name": "New", "latitude": 1.0, "longitude": 2.0, "timezone": "UTC"}
        base, instant = unit.head.number, datetime.fromtimestamp(NOON, UTC)
        remedy_key = next(f.remedy.key for f in unit_year(unit.plan, 2027).findings if f.remedy)
        for call in (
            lambda: units.create_unit(viewer, unit.site, name="x", whereabouts="", channels=["a"], now=NOON),
            lambda: revisions.edit(unit, viewer, base, lambda plan: plan, "x", now=NOON),
            lambda: revisions.undo(unit, viewer, base, now=NOON),
            lambda: revisions.redo(unit, viewer, base, now=NOON),
            lambda: fitting.fit_now(unit, viewer, base, Words(), now=NOON),
            lambda: apply_remedy(unit, viewer, base, 2027, remedy_key, now=NOON),
            lambda: files.import_plan(unit, viewer, base, json.dumps(unit.plan.to_json()).encode(), now=NOON),
            lambda: ticks.set_ticks(unit, viewer, [ticks.Pressed(key="k", done=True)], ["k"], list, instant=instant),
            lambda: ticks.clear_ticks(unit, viewer, instant),
            lambda: save_site(viewer, None, place),
        ):
            with self.subTest(call=call), self.assertRaises(PermissionDenied):
                call()
        self.assertEqual(unit.revisions.count(), 2)
        self.assertEqual(unit.ticks.count(), 0)

    def test_a_stale_base_is_refused_with_who_changed_what(self):
        crew = make_crew()
        unit, one = make_unit(crew), member(crew)
        base = unit.head.number
        revisions.edit(unit, one, base, lambda plan: edits.remove_entry(plan, 0), "slot 1 cleared", now=NOON)
        with self.assertRaises(revisions.StaleEdit) as caught:
            revisions.edit(unit, one, base, lambda plan: edits.remove_entry(plan, 0), "slot 1 cleared", now=NOON)
        self.assertIn("slot 1 cleared", str(caught.exception))
        self.assertIn("Test crew installer", str(caught.exception))

    def test_an_edit_that_changes_nothing_writes_no_revision(self):
        crew = make_crew()
        unit = make_unit(crew)
        before = unit.revisions.count()
        revisions.edit(unit, member(crew), unit.head.number, lambda plan: plan, "nothing", now=NOON)
        self.assertEqual(unit.revisions.count(), before)

    def test_a_new_edit_after_undo_leaves_the_old_branch_in_the_record(self):
        crew = make_crew()
        unit, one = make_unit(crew), member(crew)
        revisions.edit(unit, one, unit.head.number, lambda plan: edits.remove_entry(plan, 0), "a", now=NOON)
        revisions.undo(unit, one, unit.head.number, now=NOON)
        revisions.edit(unit, one, unit.head.number, lambda plan: edits.remove_entry(plan, 1), "b", now=NOON)
        self.assertEqual(list(unit.revisions.values_list("note", flat=True))[-2:], ["a", "b"])
        with self.assertRaises(revisions.NothingTo):
            revisions.redo(unit, one, unit.head.number, now=NOON)

    def test_a_taken_site_name_is_refused_within_the_crew_only(self):
        place = {"name": "Same", "latitude": 1.0, "longitude": 2.0, "timezone": "UTC"}
        one, other = make_crew("One"), make_crew("Other")
        save_site(member(one), None, place)
        save_site(member(other), None, place)
        with self.assertRaises(NameTaken):
            save_site(member(one), None, place)


class EditsTest(TestCase):
    def test_edits_of_rows_that_are_not_there_are_refused(self):
        plan = make_plan([window("18:00", "22:00")], [entry("on", "18:00")])
        for call in (
            lambda: edits.remove_window(plan, 1, 1),
            lambda: edits.remove_window(plan, 2, 0),
            lambda: edits.remove_entry(plan, -1),
            lambda: edits.remove_channel(plan, 1),
            lambda: edits.rename_channel(plan, 3, "x"),
        ):
            with self.subTest(call=call), self.assertRaises(EditError):
                call()

    def test_ids_are_kept_when_a_row_changes(self):
        rows = [{**entry("on", "18:00"), "id": "e1"}]
        plan = make_plan([window("18:00", "22:00", id="w1")], rows)
        other = make_plan([window("19:00", "22:00")], [entry("off", "19:00")])
        after = edits.change_window(plan, 1, 0, other.channels[0].windows[0])
        after = edits.change_entry(after, 0, other.unit.entries[0])
        self.assertEqual((after.channels[0].windows[0].id, after.unit.entries[0].id), ("w1", "e1"))

    def test_channels_after_a_removed_one_move_up_with_their_entries(self):
        plan = make_plan(
            channels=[[], [], []], entries=[entry("on", "06:00", channels=[1, 3]), entry("off", "07:00", channels=[2])]
        )
        after = edits.remove_channel(plan, 2)
        self.assertEqual([e.channels for e in after.unit.entries], [(1, 2)])
        self.assertEqual([c.name for c in after.channels], ["Channel 1", "Channel 3"])


class LookTest(TestCase):
    PLAN = make_plan(
        [window("sunset+10", "22:40"), window("05:50", "sunrise")],
        [entry("on", "sunset+10"), entry("off", "22:40"), entry("on", "05:50"), entry("off", "sunrise")],
    )

    def view(self, **query):
        return chosen_view(self.PLAN, query, NOON)

    def test_a_query_is_brought_to_the_nearest_that_exists(self):
        today = day_number(datetime(2027, 12, 6, tzinfo=UTC).date())
        self.assertEqual((self.view().year, self.view().channel, self.view().day), (2027, 1, today))
        for query, year, channel in [
            ({"year": "2090"}, 2037, 1),
            ({"year": "x"}, 2027, 1),
            ({"channel": "5"}, 2027, 1),
        ]:
            with self.subTest(query=query, year=year, channel=channel):
                found = self.view(**query)
                self.assertEqual((found.year, found.channel), (year, channel))
        self.assertEqual(self.view(year="2028").day, day_number(datetime(2028, 1, 1, tzinfo=UTC).date()))

    def test_the_strip_says_the_state_of_this_minute(self):
        shown = strip(self.PLAN, handover(self.PLAN, NOON), 1, Words(), NOON)
        self.assertEqual((shown.tone, shown.state), ("alarm", "On, not wanted"))
        self.assertEqual((shown.since, shown.next_time, shown.next_action), ("since 05:50", "22:40", "off"))
        self.assertEqual(shown.next_in, "in 9 h 40 min")
        self.assertEqual(shown.now, "13:00, Mon 6 Dec")

    def test_the_night_says_what_switches_and_why(self):
        view = self.view(year="2027")
        night = cursor_night(unit_year(self.PLAN, 2027), view, Words(), NOON)
        self.assertEqual(night.title, "Mon 6 to Tue 7 Dec")
        told = [(label.time, label.action, label.why, label.alarm) for label in night.labels]
        self.assertEqual(
            told,
            [
                ("noon", "", "on, not wanted", True),
                ("20:38", "ON", "slot 1, on already", False),
                ("22:40", "OFF", "slot 2", False),
                ("05:38", "OFF", "slot 4, off already", False),
                ("05:50", "ON", "slot 3, not wanted", True),
            ],
        )
        self.assertEqual(night.sun, "sunset 20:28, sunrise 05:38")

    def test_rows_blame_the_findings_own_slots(self):
        found = unit_year(self.PLAN, 2027)
        rows = entry_rows(self.PLAN, found, numbered_findings(found, Words()), Words(), {})
        self.assertEqual([[n.number for n in row.findings] for row in rows], [[], [], [1], [1]])
        self.assertEqual([row.changes for row in rows], ["314 days", "365 days", "365 days", "314 days"])

    def test_places_that_no_plan_has_are_not_found(self):
        for place in ("window-0-0", "window-2-0", "window-1-9", "entry-4", "window-1", "x", "entry-new-1"):
            with self.subTest(place=place), self.assertRaises(Http404):
                form_at(place, self.PLAN, 1, Words())

    def test_every_page_of_every_demo_like_plan_can_be_shown(self):
        crew = make_crew()
        for number, plan in enumerate(
            [
                document([], []),
                document([window("00:00", "24:00")], [entry("on", "00:00")]),
                document([{"from": "sunset", "for_min": 90, "days": {"every": 2, "from": "2027-01-01"}}], []),
                document(channels=[[window("18:00", "22:00")], []], entries=[entry("on", "18:00", channels=[1, 2])]),
                document([window("sunset", "sunrise")], [], sun={"source": "none"}, clock={"error_s": 43200}),
            ]
        ):
            unit = make_unit(crew, plan=plan, name=f"Unit {number}")
            view = chosen_view(unit.plan, {"year": "2027"}, NOON)
            page = unit_frame(unit, view, Words(twelve_hour=bool(number % 2)), NOON)
            self.assertIn("<svg", page.sheet)
            self.client.force_login(member(crew).user)
            for name in ("unit", "sheet", "behaviour", "export"):
                with self.subTest(name=name):
                    self.assertEqual(self.client.get(reverse(name, args=[unit.pk])).status_code, 200, (number, name))
