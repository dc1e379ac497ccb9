"""What can be done about a finding in one step: what it does in words, and what the unit then holds."""

import hashlib
import json
from abc import ABC, abstractmethod
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from skavit.core.findings.acts import Act
from skavit.core.plan.clock_settings import NamedRule
from skavit.core.plan.days import Holiday
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import with_load
from skavit.core.plan.entry import Entry
from skavit.core.plan.load import Load
from skavit.core.plan.window import Window
from skavit.core.text.wording import PLAIN, Words

TOLD_S = 3600  # what is left is said from an hour on


class Change(ABC):
    """An edit of a plan that is told apart by what it leaves."""

    @abstractmethod
    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""

    @abstractmethod
    def leaves(self) -> Any:
        """What it leaves, as JSON."""


@dataclass(frozen=True, slots=True)
class WithEntries(Change):
    """Other entries in the memory: of the unit, or of the n-th of its keyings."""

    entries: tuple[Entry, ...]
    keying: int = 0

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return plan.with_set(self.keying, self.entries)

    def leaves(self) -> Any:
        """The set, and its entries."""
        return [self.keying, [entry.to_json() for entry in self.entries]]


@dataclass(frozen=True, slots=True)
class WithHolidays(Change):
    """Other holidays in the memory."""

    holidays: tuple[Holiday, ...]

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return replace(plan, unit=replace(plan.unit, holidays=self.holidays))

    def leaves(self) -> Any:
        """The holidays."""
        return [holiday.to_json() for holiday in self.holidays]


@dataclass(frozen=True, slots=True)
class WithWindows(Change):
    """Other windows wanted of a channel (from 1)."""

    channel: int
    windows: tuple[Window, ...]

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        channels = tuple(
            replace(channel, windows=self.windows) if place == self.channel else channel
            for place, channel in enumerate(plan.channels, start=1)
        )
        return replace(plan, channels=channels)

    def leaves(self) -> Any:
        """The channel, and its windows."""
        return [self.channel, [window.to_json() for window in self.windows]]


@dataclass(frozen=True, slots=True)
class WithLoad(Change):
    """Another load on a channel (from 1)."""

    channel: int
    load: Load

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return with_load(plan, self.channel, self.load)

    def leaves(self) -> Any:
        """The channel, and its load."""
        return [self.channel, self.load.to_json()]


@dataclass(frozen=True, slots=True)
class WithPin(Change):
    """Another thing known of the PIN."""

    pin: str

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return replace(plan, unit=replace(plan.unit, pin=self.pin))

    def leaves(self) -> Any:
        """What is known."""
        return self.pin


@dataclass(frozen=True, slots=True)
class WithRule(Change):
    """Another rule for daylight saving."""

    rule: NamedRule

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        clock = replace(plan.unit.clock, dst=self.rule)
        return replace(plan, unit=replace(plan.unit, clock=clock))

    def leaves(self) -> Any:
        """The rule."""
        return self.rule.to_json()


@dataclass(frozen=True, kw_only=True)
class Remedy:
    """An edit of the plan with a sentence and a stable id; so many seconds of what the finding explains may stay."""

    act: Act
    change: Change
    left_s: int = 0

    def text(self, words: Words) -> str:
        """What it does, as a button says it, and what it leaves."""
        left = f"; {self.left_s / 3600:.0f} h are left" if self.left_s >= TOLD_S else ""
        return f"{self.act.text(words)}{left}"

    @property
    def label(self) -> str:
        """The same in plain words."""
        return self.text(PLAIN)

    @cached_property
    def key(self) -> str:
        """Return a stable id: a hash of the resulting state."""
        told = [type(self.change).__name__, self.change.leaves()]
        return hashlib.sha256(json.dumps(told).encode()).hexdigest()[:16]

    def applied(self, plan: Plan) -> Plan:
        """The plan after it."""
        return self.change.applied(plan)

    def in_keying(self, keying: int) -> "Remedy":
        """The same for the entries of one of the plan's keyings."""
        if not isinstance(self.change, WithEntries):
            return self
        return replace(self, change=replace(self.change, keying=keying))
