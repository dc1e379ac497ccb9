"""Kept years that are stale: found without reading a plan, worked out by the worker's processes, so many at once."""

from unittest import mock

from django.test import TestCase, TransactionTestCase

from skavit.background import run
from skavit.background.models import State
from skavit.background.shares import A_TURN
from skavit.background.tests.builders import work_off
from skavit.core.plan import edits
from skavit.crews.tests.builders import make_crew, make_unit, member
from skavit.due.models import Due
from skavit.server.now import read_now, year_at
from skavit.tests.runner import may_have_children
from skavit.units import computing, results
from skavit.units.computing import unit_year
from skavit.units.models import Unit, YearResult
from skavit.units.results import is_fresh
from skavit.units.selectors import units_at_work
from skavit.units.services.refreshing import ask_refresh, stale_units
from skavit.units.services.revisions import edit


class StaleTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.crew = make_crew()
        cls.units = [make_unit(cls.crew, name=f"Unit {number}") for number in range(4)]
        for number, unit in enumerate(cls.units):  # no two are the same
            head = Unit.objects.get(pk=unit.pk).head.number
            edit(
                unit,
                member(cls.crew),
                head,
                lambda plan, n=number: edits.add_channel(plan, f"C{n}"),
                "x",
                now=read_now(),
            )

    def stale(self):
        found = stale_units(units_at_work(self.crew), read_now())
        here = year_at(self.units[0].site.place, read_now())
        rows = units_at_work(self.crew).select_related("site", "result")
        self.assertEqual(set(found), {unit.pk for unit in rows if not is_fresh(unit, here)})
        return found

    def result(self, number):
        return YearResult.objects.filter(pk=Unit.objects.get(pk=self.units[number].pk).result_id)

    def test_another_year_release_or_place_is_stale(self):
        self.assertEqual(self.stale(), [])
        self.result(0).update(year=2020)
        self.result(1).update(calculation="another")
        self.result(2).update(place="elsewhere")
        with self.assertNumQueries(3):  # its rows, their sites; and those of the check above
            self.assertEqual(self.stale(), [unit.pk for unit in self.units[:3]])
        Unit.objects.filter(pk=self.units[3].pk).update(result=None)
        self.assertEqual(len(self.stale()), 4)

    def test_one_piece_of_work_takes_so_many_and_says_what_is_left(self):
        Unit.objects.update(result=None)
        with mock.patch("skavit.units.services.refreshing.MOST_AT_ONCE", 3):
            ask_refresh(member(self.crew))
            (job,) = work_off()
        self.assertEqual(job.told, "3 units brought up to date. 1 unit still to do.")
        self.assertEqual(len(self.stale()), 1)

    def test_together_is_the_same_as_one_by_one(self):
        kept = {
            unit.pk: self.result(n).values("severity", "findings", "thumbnail").get()
            for n, unit in enumerate(self.units)
        }
        due = set(Due.objects.values_list("unit", "sort", "date", "count"))
        YearResult.objects.all().delete()
        Due.objects.all().delete()
        computing.KEPT.clear()
        units = list(units_at_work(self.crew).select_related("site", "head", "kind", "keyed"))
        results.keep_results(units, read_now())
        again = {
            unit.pk: self.result(n).values("severity", "findings", "thumbnail").get()
            for n, unit in enumerate(self.units)
        }
        self.assertEqual(again, kept)
        self.assertEqual(set(Due.objects.values_list("unit", "sort", "date", "count")), due)

    def test_a_plan_that_moved_on_meanwhile_is_not_pointed_back(self):
        unit = units_at_work(self.crew).select_related("site", "head", "kind", "keyed").get(pk=self.units[0].pk)
        edit(
            self.units[0], member(self.crew), 3, lambda plan: edits.add_channel(plan, "Later"), "later", now=read_now()
        )
        later = Unit.objects.get(pk=unit.pk).result_id
        results.keep_results([unit], read_now())
        self.assertEqual(Unit.objects.get(pk=unit.pk).result_id, later)

    def test_what_is_kept_for_lists_is_the_same_without_remedies(self):
        plan = self.units[0].plan
        year = 2027
        strict, bare = unit_year(plan, year), unit_year(plan, year, remedies=False)
        computing.KEPT.clear()
        bare = unit_year(plan, year, remedies=False)
        self.assertEqual([f.kept() for f in bare.findings], [f.kept() for f in strict.findings])


class SharedOutTest(TransactionTestCase):
    """A worker with processes of its own."""

    def setUp(self):
        may_have_children(self)

    def test_a_round_of_more_than_a_turn(self):
        crew = make_crew()
        for number in range(A_TURN + 5):
            make_unit(crew, plan=None, name=f"Unit {number}")
        YearResult.objects.all().delete()
        Due.objects.all().delete()
        job = ask_refresh(member(crew))
        run.run(job.pk)
        job.refresh_from_db()
        self.assertEqual((job.state, job.told), (State.DONE, f"{A_TURN + 5} units brought up to date."))
        self.assertEqual(stale_units(units_at_work(crew), read_now()), [])
