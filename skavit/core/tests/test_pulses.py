"""Trains of pulses and spans, against the same counted in plain Python."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from skavit.core.ground.spans import Spans, closed, difference, intersection, union, unite
from skavit.core.simulation.pulses import counts, trains, woven

stretch = st.tuples(st.integers(0, 5000), st.integers(0, 900)).map(lambda found: (found[0], found[0] + found[1]))
cycles = st.tuples(st.integers(1, 50), st.integers(1, 60)).map(lambda found: (found[0], found[0] + found[1]))
pieces = st.lists(stretch, max_size=8).map(lambda rows: union(*_columns(rows)))


def _columns(rows):
    return np.array([a for a, _ in rows], dtype=np.int64), np.array([b for _, b in rows], dtype=np.int64)


def seconds(spans):
    """All the seconds in some spans."""
    return {s for on, off in zip(spans.on.tolist(), spans.off.tolist(), strict=True) for s in range(on, off)}


def pulsed(start, end, on_s, cycle_s):
    """The pulses of one stretch, one after another."""
    found, at = [], start
    while at < end:
        found.append((at, min(at + on_s, end)))
        at += cycle_s
    return found


class TrainsTest(unittest.TestCase):
    @settings(max_examples=120)
    @given(st.lists(stretch, min_size=1, max_size=5), cycles)
    def test_each_pulse_is_where_it_is_when_counted(self, rows, cycle):
        start, end = _columns(rows)
        number, on, off = trains(start, end, *cycle, whole_from=-1)
        expected = [(n, *pulse) for n, (a, b) in enumerate(rows) for pulse in pulsed(a, b, *cycle)]
        self.assertEqual(list(zip(number.tolist(), on.tolist(), off.tolist(), strict=True)), expected)
        self.assertEqual(counts(start, end, cycle[1]).tolist(), [len(pulsed(a, b, *cycle)) for a, b in rows])

    @settings(max_examples=80)
    @given(stretch, cycles, st.integers(0, 7000))
    def test_an_early_train_keeps_its_first_on_and_its_last_off(self, row, cycle, whole_from):
        start, end = _columns([row])
        _, on, off = trains(start, end, *cycle, whole_from=whole_from)
        every = pulsed(*row, *cycle)
        if row[1] >= whole_from or len(every) < 2:
            self.assertEqual(list(zip(on.tolist(), off.tolist(), strict=True)), every)
        else:
            self.assertEqual((on.tolist(), off.tolist()), ([every[0][0]], [every[-1][1]]))

    def test_woven_is_first_and_second_by_turns(self):
        self.assertEqual(woven(np.array([1, 3]), np.array([2, 4])).tolist(), [1, 2, 3, 4])


class SpansTest(unittest.TestCase):
    @settings(max_examples=150)
    @given(pieces, pieces)
    def test_the_algebra_is_that_of_sets_of_seconds(self, a, b):
        self.assertEqual(seconds(difference(a, b)), seconds(a) - seconds(b))
        self.assertEqual(seconds(intersection(a, b)), seconds(a) & seconds(b))
        self.assertEqual(seconds(unite([a, b])), seconds(a) | seconds(b))

    @settings(max_examples=100)
    @given(pieces, st.integers(0, 300))
    def test_closed_fills_just_the_short_gaps(self, spans, gap_s):
        found = closed(spans, gap_s)
        self.assertLessEqual(seconds(spans), seconds(found))
        self.assertTrue((found.on[1:] - found.off[:-1] > gap_s).all())
        filled = difference(found, spans)
        self.assertTrue((filled.lengths <= gap_s).all())
        self.assertEqual(found, closed(found, gap_s))

    def test_nothing_stays_nothing(self):
        nothing = Spans(np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64))
        self.assertEqual(closed(nothing, 5), nothing)
