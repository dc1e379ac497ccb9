"""Bells in the core: one object."""

from dataclasses import dataclass, replace

import numpy as np

from skavit.core.findings.facts import SAID, Facts
from skavit.core.findings.finding import Severity
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.records import Record, listed, member, record, whole
from skavit.core.ground.spans import union
from skavit.core.ground.strict_json import Node
from skavit.core.plan.times import ClockTime, read_clock_time
from skavit.core.plan.trade import Trade
from skavit.core.sheet import Step, keyed


@dataclass(frozen=True, slots=True, kw_only=True)
class Ring(Record):
    """One ring a day, at so many minutes after midnight."""

    at_min: int = member(whole(0, 1439))
    for_s: int = member(whole(1, 600))

    @property
    def time(self):
        return str(ClockTime(self.at_min * 60))


@dataclass(frozen=True, slots=True, kw_only=True)
class Bells(Record):
    """The rings that are wanted, and those that are keyed in."""

    wanted: tuple[Ring, ...] = member(listed(record(Ring)), default=(), always=True)
    keyed: tuple[Ring, ...] = member(listed(record(Ring)), default=(), always=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class Silent(Facts):
    """That a ring which is wanted does not come."""

    at: str = member(SAID)

    def headline(self, words):
        return f"No bell rings at {self.at}"

    def why(self, words):
        return "It is wanted, and no program rings it."


class BellMissing:
    """A ring that is wanted and not keyed."""

    slug = "bell-missing"
    description = "a ring that is wanted is not keyed"
    facts = (Silent,)


def rung(run, rings):
    """When rings sound in a run, by the site's clock."""
    days = np.arange(run.first - 1, run.last + 1, dtype=np.int64) * DAY_S
    on = [run.site_clock.first(days + ring.at_min * 60) for ring in rings]
    off = [start + ring.for_s for start, ring in zip(on, rings, strict=True)]
    return union(np.concatenate(on), np.concatenate(off)) if rings else union(days[:0], days[:0])


def key_rings(plan):
    """The plan with its rings keyed as they are wanted."""
    bells = plan.part("bells")
    return with_bells(plan, replace(bells, keyed=bells.wanted))


def with_bells(plan, bells):
    return replace(plan, further=(("bells", bells),))


class BellsTrade(Trade):
    slug = "rings"
    key = "bells"
    part = Bells
    does = "rings bells"
    heading = "Units that ring"
    work = "the bells"
    held = "ring"
    rules = (BellMissing,)

    def is_in(self, plan):
        return plan.part("bells") is not None

    def makes(self, kind):
        return False

    def begun(self, plan):
        return with_bells(replace(plan, channels=()), Bells())

    def for_kind(self, plan, kind):
        return plan

    def keyed(self, plan):
        return {"bells": plan.part("bells").to_json()["keyed"]}

    def size(self, plan):
        return len(plan.part("bells").keyed)

    def findings(self, case):
        bells = case.plan.part("bells")
        days = np.arange(case.replay.first, case.replay.last + 1)
        return [
            case.make(BellMissing.slug, None, Silent(at=ring.time), dates=days, severity=Severity.WARNING)
            for ring in bells.wanted
            if ring not in bells.keyed
        ]

    def sections(self, plan):
        none = dict.fromkeys(("channels", "correction", "operating", "place", "suncheck", "holidays"), lambda _: [])
        return none | {"slots": self._rings, "readback": lambda _: [], "mode": lambda _: [], "cover": self._cover}

    def _rings(self, occasion):
        return [
            keyed(Step(kind="slot", title=f"Ring {n}", say=f"Key {ring.time}, {ring.for_s} s."), ring.to_json())
            for n, ring in enumerate(occasion.plan.part("bells").keyed, start=1)
        ]

    def _cover(self, occasion):
        return [keyed(Step(kind="output", title="Cover shut", say="Shut the cover."), "bells")]


BELLS = BellsTrade()


def ring(text, for_s=5):
    """A ring at a clock time such as 08:30."""
    return Ring(at_min=read_clock_time(Node(text, "at")).seconds // 60, for_s=for_s)
