"""What was done to a controller by hand: its lines, and the form of another."""

from typing import Any

from django import forms

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan
from skavit.core.plan.water import WaterOverride
from skavit.core.plan.water_edits import add_done, water_of
from skavit.core.text.wording import Words, capital, count, dated_text, minutes_text
from skavit.units.pages.unit.parts import ByHandRow, LineForm

WHAT = [
    ("off", "watering suspended"),
    ("off_days", "suspended, for days"),
    ("auto", "let go on"),
    ("station", "a station run once, for minutes"),
    ("program", "a program run once"),
]


class WaterByHandForm(LineForm):
    """One thing done by hand: when, what, and for how long."""

    what = forms.ChoiceField(choices=WHAT, label="What")
    which = forms.ChoiceField(label="Which", required=False)
    length = forms.FloatField(label="How long", required=False, min_value=0, help_text="Minutes or days, as beside it.")

    def __init__(self, *args: Any, plan: Plan, **kwargs: Any) -> None:
        super().__init__(*args, **{"auto_id": "by-hand-%s", **kwargs})
        water = water_of(plan)
        which = self.fields["which"]
        stations = [(f"station-{n}", f"station {n}, {s.name}") for n, s in enumerate(water.stations, start=1)]
        programs = [(f"program-{n}", f"program {p.name}") for n, p in enumerate(water.programs, start=1)]
        which.choices = [("", "the whole unit"), *stations, *programs]  # type: ignore[attr-defined]
        self.done: WaterOverride | None = None

    def clean(self) -> dict[str, Any]:
        """Read it by the core's rules."""
        data = super().clean() or {}
        if self.errors:
            return data
        what, length = data["what"], data.get("length")
        sort, _, number = (data.get("which") or "").partition("-")
        if what in ("station", "program") and sort != what:
            self.add_error("which", f"Which {what}? Accepted: one of the list.")
        if what in ("station", "off_days") and not length:
            self.add_error("length", "How long? Accepted: a number.")
        if self.errors:
            return data
        found: dict[str, Any] = {"at": self.local_datetime}
        if what in ("station", "program"):
            found[what] = int(number)
            found |= {"run_min": length} if what == "station" else {}
        else:
            found[what] = int(length) if what == "off_days" and length else True
        try:
            self.done = WaterOverride.read(Node(found))
        except PlanError as error:
            self.add_error("length", f"{capital(error.wrong)}. Accepted: {error.accepted}.")
        return data

    def edit(self, plan: Plan) -> Plan:
        """The plan with it."""
        if self.done is None:
            raise ValueError(self.errors)
        return add_done(plan, self.done)


def hand_text(done: WaterOverride, plan: Plan) -> str:
    """What was done, in words."""
    water = water_of(plan)
    if done.station is not None:
        return f"{water.stations[done.station - 1].name} run for {minutes_text(done.run_min or 0)}"
    if done.program is not None:
        return f"Program {water.programs[done.program - 1].name} run once"
    if done.off_days is not None:
        return f"Watering suspended for {count(done.off_days, 'day')}"
    return "Watering suspended" if done.off else "Watering let go on"


def water_by_hand_rows(plan: Plan, words: Words) -> list[ByHandRow]:
    """The lines, the latest first."""
    return [
        ByHandRow(
            index=index,
            day=dated_text(done.at // DAY_S),
            time=words.clock(done.at % DAY_S),
            text=hand_text(done, plan),
            channel="",
        )
        for index, done in sorted(enumerate(water_of(plan).by_hand), key=lambda row: -row[1].at)
    ]
