"""Years of large plans worked out by a process beside: the same year, bounded, and begun again after it was killed."""

import multiprocessing
import os
import signal
import time
from unittest import TestCase, mock

import numpy as np

from skavit.bounds import Busy
from skavit.core.tests.builders import make_plan, window
from skavit.core.tests.test_bounds import many_entries
from skavit.units import apart, results


class ApartTest(TestCase):
    def setUp(self):
        # A process of the parallel test runner may have no children of its own otherwise.
        may_fork = mock.patch.dict(multiprocessing.current_process()._config, daemon=False)
        may_fork.start()
        self.addCleanup(may_fork.stop)
        self.apart = apart.Apart()
        self.apart.on = True
        self.addCleanup(self.apart.end)

    def test_a_large_plans_year_is_that_which_is_worked_out_here(self):
        plan = make_plan([window("sunset", "22:40")], many_entries(results.LARGE + 1))
        self.assertTrue(results.is_large(plan))
        here = results._work_out(plan, 2027, mends=False)
        with mock.patch.object(results, "APART", self.apart):
            there = results._work_out(plan, 2027, mends=False)
        self.assertEqual(*([found.kept() for found in year.findings] for year in (there, here)))
        for one, other in zip(there.picture.arrays, here.picture.arrays, strict=True):
            self.assertTrue(np.array_equal(one, other))
        self.assertEqual(there.replay.last, here.replay.last)

    def test_pages_come_first(self):
        pid = self.apart.run(os.getpid)
        self.assertNotEqual(pid, os.getpid())
        self.assertEqual(self.apart.run(os.nice, 0), apart.NICE)
        self.assertEqual(self.apart.run(os.getpid), pid)

    def test_too_long_too_large_and_killed_are_told_and_the_next_goes_on(self):
        with mock.patch.object(apart, "LIMIT_S", 0.2), self.assertRaisesRegex(Busy, "more time or memory"):
            self.apart.run(time.sleep, 60)
        with self.assertRaisesRegex(Busy, "more time or memory"):
            self.apart.run(bytearray, 3_000_000_000)
        pid = self.apart.run(os.getpid)
        os.kill(pid, signal.SIGKILL)
        with self.assertRaises(Busy):
            self.apart.run(time.sleep, 60)
        self.assertNotEqual(self.apart.run(os.getpid), pid)

    def test_what_is_not_switched_on_computes_where_it_is(self):
        self.assertEqual(apart.Apart().run(os.getpid), os.getpid())
