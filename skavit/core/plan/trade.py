"""Trades: what a unit does. It switches outputs, waters, or holds temperatures.

Everybody asks the trade of a plan, and nobody which one it is.

The trades themselves are listed in :data:`LISTED_IN`, above all that they are made from: it is found by its
name, as the application finds the pages of each.
"""

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterable, Mapping
from importlib import import_module
from typing import TYPE_CHECKING, Any, ClassVar

from skavit.core.ground.records import Record

if TYPE_CHECKING:
    from skavit.core.findings.case import Case, Described
    from skavit.core.findings.finding import Finding
    from skavit.core.kinds.kind import Kind
    from skavit.core.plan.document import Plan
    from skavit.core.sheet import Occasion, Step

    Builder = Callable[[Occasion], list[Step]]


LISTED_IN = "skavit.core.trades"


class Trade(ABC):
    """What all of the core asks of a trade."""

    slug: ClassVar[str]
    key: ClassVar[str]  # of its part of a plan file
    # The record of its part, where Plan has no field for it: then it is found with Plan.part.
    part: ClassVar[type[Record] | None] = None
    does: ClassVar[str]  # as in: a unit that ...
    heading: ClassVar[str]  # over its kinds in a list
    work: ClassVar[str]  # as in: a new unit for ...
    held: ClassVar[str]  # what its memory holds
    rules: ClassVar[tuple["type[Described]", ...]] = ()  # its own kinds of finding, as the guide lists them

    @abstractmethod
    def is_in(self, plan: "Plan") -> bool:
        """Whether a plan has a part of this trade."""

    @abstractmethod
    def makes(self, kind: "Kind") -> bool:
        """Whether units of a kind are of this trade."""

    @abstractmethod
    def begun(self, plan: "Plan") -> "Plan":
        """The plan with an empty part of this trade, for a new unit."""

    @abstractmethod
    def for_kind(self, plan: "Plan", kind: "Kind") -> "Plan":
        """The plan within what a kind of this trade holds. Raises :class:`PlanError` where that is too little."""

    @abstractmethod
    def keyed(self, plan: "Plan") -> dict[str, Any]:
        """The JSON of the part that is programmed into the device, beside the entries."""

    @abstractmethod
    def size(self, plan: "Plan") -> int:
        """How much there is to work out, in entries that take as long."""

    def identities(self, plan: "Plan") -> Iterable[tuple[str, str | None]]:
        """The ids in its part, each with its path."""
        return ()

    def judge(self, plan: "Plan") -> None:  # noqa: B027  most say nothing more
        """Raise :class:`PlanError` for what its part may not say beside the rest of the plan."""

    def findings(self, case: "Case") -> "list[Finding]":
        """What a user should know of its part, by its own rules."""
        return []

    def sections(self, plan: "Plan") -> "Mapping[str, Builder]":
        """The sections of the entry sheet that are other ones for this trade."""
        return {}


def trades() -> tuple[Trade, ...]:
    """All trades; the last one is that of units without a part of another."""
    listed: tuple[Trade, ...] = import_module(LISTED_IN).TRADES
    return listed


def trades_in(plan: "Plan") -> list[Trade]:
    """The trades that a plan has parts of."""
    return [trade for trade in trades() if trade.is_in(plan)]


def trade_of(plan: "Plan") -> Trade:
    """The trade of the unit of a plan."""
    return next((trade for trade in trades() if trade.is_in(plan)), trades()[-1])


def trade_of_kind(kind: "Kind") -> Trade:
    """The trade of units of a kind."""
    return next((trade for trade in trades() if trade.makes(kind)), trades()[-1])
