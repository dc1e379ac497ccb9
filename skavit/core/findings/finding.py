"""What a finding is: its facts, where and when it shows, and its remedy."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from enum import StrEnum
from typing import Any

import numpy as np

from skavit.core.findings.facts import RUNS, Facts, days_in, runs_of
from skavit.core.findings.remedy import Remedy
from skavit.core.ground.arrays import Ints
from skavit.core.ground.spans import Spans, unite
from skavit.core.ground.strict_json import Node
from skavit.core.plan.times import day_of
from skavit.core.text.wording import PLAIN, Words


class Severity(StrEnum):
    """How much a finding matters, worst first."""

    DANGER = "danger"
    WARNING = "warning"
    NOTE = "note"


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """What a replay shows about a valid plan."""

    code: str
    severity: Severity
    channel: int | None  # from 1; None: the unit
    facts: Facts
    dates: Ints  # the local dates on which it shows
    hours: float  # of extra and missing that it explains
    slots: tuple[int, ...] = ()  # from 1
    remedy: Remedy | None = None
    explains: dict[int, Spans] = field(default_factory=dict)  # channel from 0 -> stretches
    keying: int = 0  # to which set of entries the slots belong

    @property
    def first(self) -> date:
        """The first date on which it shows."""
        return day_of(int(self.dates[0]))

    @property
    def last(self) -> date:
        """The last date on which it shows."""
        return day_of(int(self.dates[-1]))

    @property
    def days(self) -> int:
        """How many local dates it shows on."""
        return int(self.dates.size)

    @property
    def headline(self) -> str:
        """What shows, in plain words."""
        return self.facts.headline(PLAIN)

    @property
    def why(self) -> str:
        """Why it does, in plain words."""
        return self.facts.why(PLAIN)

    @property
    def message(self) -> str:
        """Headline and reason as sentences, in plain words."""
        return self.text(PLAIN)

    @property
    def identity(self) -> str:
        """What tells it from the others of its plan, whatever the year."""
        return f"{self.code}:{self.channel or ''}:{self.keying}:{','.join(map(str, self.slots)) or self.about}"

    @property
    def about(self) -> str:
        """What else it is about: a program, a station, a zone."""
        named = (getattr(self.facts, name, "") for name in ("program", "station", "zone", "name"))
        return " ".join(text for text in named if isinstance(text, str))

    def text(self, words: Words) -> str:
        """Headline and reason as sentences."""
        headline, why = self.facts.headline(words), self.facts.why(words)
        return f"{headline}. {why}" if why else f"{headline}."

    def kept(self) -> dict[str, Any]:
        """What lists keep of it, as plain JSON values: no words and no remedy."""
        return {
            "code": self.code,
            "severity": self.severity.value,
            "channel": self.channel,
            "identity": self.identity,
            "dates": RUNS.write(runs_of(self.dates)),
            "hours": self.hours,
            "facts": {"of": type(self.facts).__name__, **self.facts.to_json()},
        }


def read_kept(raw: Mapping[str, Any], known: Mapping[str, type[Facts]]) -> Finding:
    """A finding as :meth:`Finding.kept` gave it, with the facts known by their names; raises :class:`PlanError`."""
    facts = dict(raw["facts"])
    return Finding(
        code=raw["code"],
        severity=Severity(raw["severity"]),
        channel=raw["channel"],
        facts=known[facts.pop("of")].read(Node(facts, "facts")),
        dates=days_in(RUNS.read(Node(raw["dates"], "dates"))),
        hours=raw["hours"],
    )


def joined(a: Finding, b: Finding) -> Finding:
    """One finding on the dates of two of the same cause; it keeps the words of the one with more hours."""
    more = a if a.hours >= b.hours else b
    channels = set(a.explains) | set(b.explains)
    return replace(
        more,
        severity=min(a.severity, b.severity, key=list(Severity).index),
        dates=np.union1d(a.dates, b.dates),
        hours=a.hours + b.hours,
        explains={c: unite([f.explains[c] for f in (a, b) if c in f.explains]) for c in channels},
    )
