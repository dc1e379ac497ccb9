"""The form of a day group of a zone: its days, and the times with their temperatures."""

from dataclasses import dataclass
from typing import Any

from django import forms
from django.http import Http404

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import SetPoint
from skavit.core.plan.heat_edits import Side, groups, heat_of, put_group, zone_of
from skavit.core.text.quantities import TEMPERATURE
from skavit.core.text.typed import clock_word
from skavit.core.text.wording import Words, capital, days_text
from skavit.heating.pages.unit.degrees import degrees_typed
from skavit.units.pages.unit.fields import days_fields, days_json
from skavit.units.pages.unit.sentence import Sentence

LEAST_ROWS, MORE_ROWS, MOST_ROWS = 4, 2, 24


@dataclass(frozen=True, slots=True, kw_only=True)
class PointFields:
    """The two fields of a set point."""

    number: int
    at: forms.BoundField
    c: forms.BoundField

    @property
    def errors(self) -> list[str]:
        """What is wrong with either."""
        return [str(error) for error in (*self.at.errors, *self.c.errors)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """Where a group is: wanted-1-0 is the first of the first zone; wanted-1-new another."""

    side: Side
    zone: int  # from 0
    index: int | None

    @classmethod
    def read(cls, text: str) -> "Place":
        """A place from its address; 404 for none."""
        side, _, rest = text.partition("-")
        zone, _, index = rest.partition("-")
        if side not in ("wanted", "keyed") or not zone.isdigit() or not (index.isdigit() or index == "new"):
            raise Http404(text)
        return cls(
            side="wanted" if side == "wanted" else "keyed",
            zone=int(zone) - 1,
            index=None if index == "new" else int(index),
        )

    def __str__(self) -> str:
        return f"{self.side}-{self.zone + 1}-{'new' if self.index is None else self.index}"


class PointsForm(Sentence):
    """Days, and so many times with their temperatures; a row left empty is none."""

    def __init__(self, *args: Any, at: Place, plan: Plan, words: Words, **kwargs: Any) -> None:
        self.at, self.plan = at, plan
        held = self._held(plan)
        kept = held[0].days if held else None
        super().__init__(
            *args, place=str(at), index=at.index, words=words, limits=plan.unit.limits, kept=kept, **kwargs
        )
        most = heat_of(plan).limits.periods if at.side == "keyed" else None
        rows = max(len(held), most) if most else min(max(len(held) + MORE_ROWS, LEAST_ROWS), MOST_ROWS)
        self.numbers = range(1, rows + 1)
        for number in self.numbers:
            self.fields[f"at_{number}"] = forms.CharField(label="from", required=False, max_length=12)
            self.fields[f"c_{number}"] = forms.CharField(label="hold", required=False, max_length=12)
        self.initial = {**self.initial, **(days_fields(kept) if kept else self._usual())}
        for number, point in enumerate(held, start=1):
            self.initial |= {
                f"at_{number}": words.clock(point.at.seconds),
                f"c_{number}": TEMPERATURE.typed(point.c, us=words.us_units),
            }
        if kept:
            self.labels = {"days": days_text(kept)}
        self.points: tuple[SetPoint, ...] = ()

    def _held(self, plan: Plan) -> tuple[SetPoint, ...]:
        zone = zone_of(plan, self.at.zone)
        rows = [own for _, own in groups(zone.wanted if self.at.side == "wanted" else zone.keyed)]
        if self.at.index is None:
            return ()
        if self.at.index >= len(rows):
            raise Http404(self.at.index)
        return rows[self.at.index]

    def _usual(self) -> dict[str, Any]:
        """The first days that have nothing yet."""
        zone = zone_of(self.plan, self.at.zone)
        taken = {days_text(days) for days, _ in groups(zone.wanted if self.at.side == "wanted" else zone.keyed)}
        kind = "weekdays" if "Mon to Fri" not in taken else "weekends"
        return {"days_kind": kind if "every day" not in taken else "chosen"}

    @property
    def rows(self) -> list[PointFields]:
        """The set points in order."""
        return [PointFields(number=n, at=self[f"at_{n}"], c=self[f"c_{n}"]) for n in self.numbers]

    @property
    def unit_text(self) -> str:
        """In what temperatures are typed."""
        return "°F" if self.words.us_units else "°C"

    @property
    def note(self) -> str:
        """What the edit is called in the unit's history."""
        return f"set points {'added' if self.is_new else 'changed'}, {self.at.side}"

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        if not self.points:
            raise ValueError(self.errors)
        return put_group(plan, self.at.zone, self.at.side, self.at.index, self.points)

    def clean(self) -> dict[str, Any]:
        """Read the set points by the core's rules, and hold them against the unit."""
        data = super().clean() or {}
        days = days_json(data, self.kept)
        found: list[SetPoint] = []
        for number in self.numbers:
            at, c = (data.get(f"{name}_{number}", "").strip() for name in ("at", "c"))
            if not at and not c:
                continue
            if not at or not c:
                self.add_error(f"at_{number}", "A time and a temperature. Accepted: both, or neither.")
                continue
            try:
                degrees = degrees_typed(c, self.words)
                found.append(SetPoint.read(Node({"days": days, "at": clock_word(at), "c": degrees})))
            except PlanError as error:
                place = {"at": f"at_{number}", "c": f"c_{number}"}.get(error.path, "days_kind")
                self.add_error(place, f"{capital(error.wrong)}. Accepted: {error.accepted}.")
        times = [point.at for point in found]
        for later, point in enumerate(found):
            if point.at in times[:later]:
                self.add_error(f"at_{later + 1}", "The same time twice. Accepted: each once.")
        if not found and not self.errors:
            self.add_error("at_1", "No set point. Accepted: at least one time with its temperature.")
        if not self.errors:
            self.points = tuple(sorted(found, key=lambda point: point.at.seconds))
        return data
