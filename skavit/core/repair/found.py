"""The changes that a search has found: the unit after some of them, run once each, and the order in which they are told."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace
from itertools import pairwise, permutations

from skavit.core.repair.edits import Edit, edited
from skavit.core.simulation.replay import Replay

MOST_ORDERED = 4  # changes of which all orders are looked at


@dataclass(frozen=True, slots=True, kw_only=True)
class Search:
    """The changes that were found, and whether the budget ended before all was tried."""

    judged: Replay  # the run by which the entries were judged
    edits: tuple[Edit, ...] = ()
    ended: bool = False
    _ran: dict[frozenset[Edit], Replay] = field(init=False, default_factory=dict, compare=False, repr=False)

    def after(self, edits: Iterable[Edit]) -> Replay:
        """The run with some changes made; what is removed keeps its slot and does nothing, so that slots keep their numbers."""
        made = frozenset(edits)
        if not made:
            return self.judged
        if made not in self._ran:
            entries = self.judged.plan.unit.entries
            # In the order found: what is added comes last, and of two at one instant the later counts.
            kept = (self._kept(edit) for edit in self.edits if edit in made)
            self._ran[made] = self.judged.under(self.judged.plan.with_entries(edited(entries, kept)))
        return self._ran[made]

    def _kept(self, edit: Edit) -> Edit:
        if edit.slot is None or edit.new is not None:
            return edit
        return replace(edit, new=replace(self.judged.plan.unit.entries[edit.slot], disabled=True))

    @property
    def left_s(self) -> int:
        """Seconds that are wrong after all changes, by the run that judged them."""
        return self.after(self.edits).wrong_s

    def in_order(self) -> Iterator[tuple[Edit, ...]]:
        """The changes one more at a time: those first that take away most, so that each takes no more than the one before.

        Where no order does, of those left always the one that takes away most.
        """
        orders = permutations(self.edits) if len(self.edits) <= MOST_ORDERED else iter([])
        order = next(filter(self._falls, orders), None) or self._greedy()
        yield from (order[: n + 1] for n in range(len(order)))

    def _falls(self, order: tuple[Edit, ...]) -> bool:
        left = [self.after(order[:n]).wrong_s for n in range(len(order) + 1)]
        taken = [before - then for before, then in pairwise(left)]
        return all(a >= b for a, b in pairwise(taken))

    def _greedy(self) -> tuple[Edit, ...]:
        done: tuple[Edit, ...] = ()
        while len(done) < len(self.edits):
            left = [edit for edit in self.edits if edit not in done]
            done = (*done, min(left, key=lambda edit: self.after((*done, edit)).wrong_s))
        return done
