"""The form of a program. It builds the plan file's own words from what was typed, and lets the core judge them."""

import re
from typing import Any

import numpy as np
from django import forms

from skavit.core.ground.arrays import YEAR_DAYS
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import DAILY, Calendar, Narrowed
from skavit.core.plan.document import Plan
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time
from skavit.core.plan.water import MONTHS, Program
from skavit.core.plan.water_edits import put_program, water_of
from skavit.core.text.typed import clock_word
from skavit.core.text.wording import MONTHS as MONTH_NAMES
from skavit.core.text.wording import Words, days_text
from skavit.core.water.seasons import season_of
from skavit.units.pages.unit.fields import days_fields, days_json
from skavit.units.pages.unit.sentence import Sentence

NAMES = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


class ProgramForm(Sentence):
    """A program as it is keyed in: days, starts, run times, percentages."""

    name = forms.CharField(max_length=80, label="Program")
    starts = forms.CharField(
        max_length=400, label="Starts", help_text="Such as 4:30 am, 5:50 am. One start runs all its stations in turn."
    )
    adjust = forms.FloatField(label="Season, %", required=False, min_value=0, max_value=1000)

    def __init__(self, *args: Any, plan: Plan, shown: Program | None = None, **kwargs: Any) -> None:
        super().__init__(*args, kept=shown.days if shown else None, limits=plan.unit.limits, **kwargs)
        self.plan, self.shown = plan, shown
        self.program: Program | None = None
        water = water_of(plan)
        for number, station in enumerate(water.stations, start=1):
            self.fields[f"run_{number}"] = forms.FloatField(
                label=f"{number} {station.name}", required=False, min_value=0, max_value=10_080
            )
        for month, name in enumerate(MONTH_NAMES, start=1):
            self.fields[f"month_{month}"] = forms.FloatField(label=name, required=False, min_value=0, max_value=1000)
        self.initial = {**self.initial, **(self._shown(shown) if shown else self._usual())}
        if shown:
            self.labels = {"days": days_text(shown.days)}

    def _usual(self) -> dict[str, Any]:
        return {"name": free_name(self.plan), "days_kind": "daily", "adjust": 100}

    def _shown(self, program: Program) -> dict[str, Any]:
        found: dict[str, Any] = {
            "name": program.name, "starts": ", ".join(typed_time(at, self.words) for at in program.starts),
            "adjust": program.adjust_pct, **days_fields(program.days),
        }  # fmt: skip
        for run in program.runs:
            found[f"run_{run.station}"] = found.get(f"run_{run.station}", 0) + run.run_min
        return found | {f"month_{month}": pct for month, pct in enumerate(program.monthly_pct, start=1)}

    @property
    def runs(self) -> list[forms.BoundField]:
        """The run time of each station."""
        return [self[f"run_{number}"] for number in range(1, len(water_of(self.plan).stations) + 1)]

    @property
    def months(self) -> list[forms.BoundField]:
        """The percentage of each month, where the unit has them."""
        return [self[f"month_{month}"] for month in range(1, MONTHS + 1)] if water_of(self.plan).limits.monthly else []

    @property
    def months_open(self) -> bool:
        """Whether any month is away from 100, or refused."""
        return any(field.value() not in (None, "", 100, 100.0, "100") or field.errors for field in self.months)

    @property
    def has_season(self) -> bool:
        """Whether the unit has a season percentage, or this program has one."""
        limits = water_of(self.plan).limits
        return (
            limits.adjust_max_pct is not None
            or limits == type(limits)()
            or self["adjust"].value() not in (None, "", 100)
        )

    @property
    def note(self) -> str:
        """What the edit is called in the unit's history."""
        return "program added" if self.index is None else "program changed"

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        if self.program is None:
            raise ValueError(self.errors)
        return put_program(plan, self.index, self.program)

    def clean(self) -> dict[str, Any]:
        """Read the program by the core's rules, and hold it against the unit."""
        data = super().clean() or {}
        if self.errors:
            return data
        found: dict[str, Any] = {"name": data["name"], "days": days_json(data, self.kept), "runs": self._runs(data)}
        kept = self.shown is not None and "starts" not in self.changed_data
        found["starts"] = self.shown.to_json()["starts"] if self.shown and kept else starts_typed(data["starts"])
        if data.get("adjust") is not None:
            found["adjust_pct"] = data["adjust"]
        months = [data.get(f"month_{month}") for month in range(1, MONTHS + 1)]
        if any(pct is not None for pct in months):
            found["monthly_pct"] = [100 if pct is None else pct for pct in months]
        elif self.shown is not None and not water_of(self.plan).limits.monthly:
            found["monthly_pct"] = list(self.shown.monthly_pct)  # no form shows them where the unit has none
        try:
            self.program = Program.read(Node(found))
        except PlanError as error:
            self.refuse(error, {"name": "name", "days": "days_kind", "starts": "starts", "adjust_pct": "adjust"})
        else:
            self._held(self.program)
        return data

    def _runs(self, data: dict[str, Any]) -> list[dict[str, Any]]:
        """The run of each station, in the order of the program; untouched ones unchanged."""
        count = len(water_of(self.plan).stations)
        minutes = {n: data[f"run_{n}"] for n in range(1, count + 1) if data.get(f"run_{n}")}
        before = self.shown.runs if self.shown else ()
        if not any(f"run_{n}" in self.changed_data for n in range(1, count + 1)):
            return [run.to_json() for run in before]
        order = dict.fromkeys([*(run.station for run in before), *minutes])
        return [{"station": n, "run_min": minutes[n]} for n in order if n in minutes]

    def _held(self, program: Program) -> None:
        """Refuse what the unit cannot hold."""
        limits = water_of(self.plan).limits
        if limits.starts is not None and len(program.starts) > limits.starts:
            self.add_error("starts", f"{len(program.starts)} starts. This unit accepts at most {limits.starts}.")
        if limits.stations is not None and len(program.runs) > limits.stations:
            self.add_error(
                f"run_{program.runs[-1].station}", "This unit has starts for each station: one station a program."
            )
        for run in program.runs:
            if limits.run_max_min is not None and run.run_min > limits.run_max_min:
                self.add_error(f"run_{run.station}", f"At most {limits.run_max_min:g} min.")
            if (
                limits.run_step_min is not None
                and abs(run.run_min / limits.run_step_min - round(run.run_min / limits.run_step_min)) > 1e-6
            ):
                self.add_error(f"run_{run.station}", f"In steps of {limits.run_step_min:g} min.")
        if limits.adjust_max_pct is not None and program.adjust_pct > limits.adjust_max_pct:
            self.add_error("adjust", f"At most {limits.adjust_max_pct:g} %.")
        others = [p for n, p in enumerate(water_of(self.plan).programs) if n != self.index and p.name == program.name]
        if any(stand_together(other, program) for other in others):
            self.add_error("name", "Another program is called that. Accepted: another name, or another season.")


def free_name(plan: Plan) -> str:
    """The first letter that no program is called by."""
    taken = {program.name for program in water_of(plan).programs}
    return next((letter for letter in NAMES if letter not in taken), f"{len(taken) + 1}")


def stand_together(a: Program, b: Program) -> bool:
    """Whether two programs stand in the unit on any date of the year."""
    year = Calendar(np.arange(YEAR_DAYS))
    both = [Narrowed(days=DAILY, between=season_of(p)).matches(year) for p in (a, b)]
    return bool((both[0] & both[1]).any())


_PARTS = re.compile(r"[,;]|\band\b")


def starts_typed(text: str) -> list[str]:
    """Start times as typed, to the plan file's words; what is no time stays as it is, for the core to refuse."""
    words = [part.strip() for part in _PARTS.split(text) if part.strip()]
    found = []
    for word in words:
        plain = word.lower().replace(" ", "")
        found.append(clock_word(word) if plain[:1].isdigit() else plain)
    return found


def typed_time(time: Time, words: Words) -> str:
    """A start as it is typed: by the crew's hours, or sunrise-30."""
    match time:
        case ClockTime():
            return words.clock(time.seconds)
        case SunTime():
            return f"{time.event.name.lower()}{time.offset_min:+d}" if time.offset_min else time.event.name.lower()
        case LimitedTime():
            return typed_time(time.at, words)
